"""What a step adds that no line names: it is in the dish. Counted as a line without weight, searched for allergens, asked about.

"Scatter with flaked almonds" over a list without almonds; "season with salt" over a list without salt. Every cook's name and every word
for an allergen that no line is meant by counts, whatever verb stands before it; what names a food and brings none is the closed list of
tables/step_words.tsv.
"""

import functools
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from nutrition.dish.line import Line
from nutrition.food.contents import hits_of_food
from nutrition.food.names import normalized
from nutrition.food.spoken import hits_of_words, named_outright, without_accents
from nutrition.food.table import foods
from nutrition.food.tags import ALLERGENS, LINE
from nutrition.notes import Note, note
from nutrition.reading.choice import food_named
from nutrition.reading.matching import matcher
from nutrition.reading.mentions import Called, called_in, core_of, groups, is_meant, tags_named
from nutrition.tables import pattern, read_table, words_of

#: A cook's name has at most so many words; a determiner stands at most so many before it.
_LONGEST, _NEAR = 5, 3
_SENTENCES = re.compile(r"[.;:!?]\s+|\n|,?\s+(?:then|until|while)\s+")
#: So much of a step is looked at.
_MOST = 5_000


@dataclass(frozen=True, slots=True)
class Unlisted:
    """Words of a step (from 1) that name a food no line has; `tags`: listed allergens the words show; `cue`: how it goes in."""

    step: int
    words: str
    tags: tuple[str, ...]
    cue: str = ""

    @property
    def as_note(self) -> Note:
        return note("reading.unlisted", step=self.step, words=self.words)


def unlisted(steps: Sequence[str], lines: Sequence[Line]) -> tuple[Unlisted, ...]:
    """Foods the steps add and no line names, each once.

    >>> from nutrition.reading.recipe import read_line
    >>> soup = [read_line("500 g carrots"), read_line("1 tsp salt")]
    >>> [(each.step, each.words, each.tags) for each in unlisted(["Simmer in salted water.", "Scatter with flaked almonds."], soup)]
    [(2, 'flaked almond', ('tree_nut',))]
    """
    found: dict[str, Unlisted] = {}
    for each in additions(steps, lines):
        found.setdefault(each.words, each)
    return tuple(found.values())


def additions(steps: Sequence[str], lines: Sequence[Line]) -> tuple[Unlisted, ...]:
    """As `unlisted`, each in every step that names it."""
    own = [line for line in lines if not line.step]
    return _additions(tuple(steps), called_in(own), _headings(own))


_MADE_IN = re.compile(r"^(?:the evening before: )?for the ([a-z][a-z -]{2,40}?),\s", re.I)


@functools.lru_cache(maxsize=8_192)
def made_in(step: str) -> str:
    """What a step says it makes, as words are compared; empty where it does not say.

    >>> made_in("For the garden broth, simmer the carrot in the water."), made_in("Fry for the last time, then serve.")
    ('garden broth', '')
    """
    found = _MADE_IN.match(without_accents(step[:80].lower()))
    return normalized(found[1]) if found else ""


def _headings(lines: Sequence[Line]) -> frozenset[str]:
    return frozenset(word for line in lines for word in normalized(line.heading).split())


@functools.lru_cache(maxsize=4_096)
def _additions(steps: tuple[str, ...], lines: tuple[Called, ...], headings: frozenset[str]) -> tuple[Unlisted, ...]:
    found: dict[tuple[int, str], Unlisted] = {}
    held = frozenset(tag for line in lines for tag in line.tags)
    headings |= {word for name in map(made_in, steps) if tags_named(name) <= held for word in name.split()}
    has_shaped = False
    tops = frozenset().union(*(normalized(line.kind.rpartition("; ")[2]).split()[-1:] for line in lines))
    tops &= words_of("made").keys()
    for number, step in enumerate(steps, start=1):
        for sentence in _sentences(step):
            for mention in sentence.mentions:
                # "The cakes", once some were shaped; "the coating batter" over lines that stand under "Coating batter".
                is_made = (has_shaped and _is_shape(mention.tokens)) or mention.tokens[-1] in tops
                if not (mention.is_definite and is_made) and _is_added(mention, lines, held, headings):
                    words = " ".join(mention.tokens)
                    tags = _tags_of(words)
                    there = tuple(tag for tag in ALLERGENS if tag in tags)
                    found.setdefault((number, words), Unlisted(number, words, there, _cue_of(sentence.text, words)))
            has_shaped = has_shaped or bool(_SHAPES.search(sentence.text))
    return tuple(found.values())


_SHAPES = re.compile(r"\b(?:shap|form|roll|pat|cut|mould|mold|divide)\w*\b[^.;]*\b(?:into|in)\b|\b(?:shape|form)\b")


def _is_shape(tokens: Sequence[str]) -> bool:
    """Whether words mean what was shaped before: "the cakes", after "shape into flat cakes"."""
    return len(tokens) == 1 and words_of("made").get(tokens[0]) == "shaped"


@dataclass(frozen=True, slots=True)
class _Mention:
    """Words that may name a food. `is_definite`: of what was there before; `is_bare`: one word without a little word before it; `is_made`:
    what the lines are or were made into; `is_name`: a cook's name, else a word for an allergen; `after`: the next word."""

    tokens: tuple[str, ...]
    is_definite: bool
    is_bare: bool
    is_made: bool
    is_name: bool
    after: str = ""


@dataclass(frozen=True, slots=True)
class _Sentence:
    text: str
    mentions: tuple[_Mention, ...]


@functools.cache
def _readings() -> list[tuple[re.Pattern[str], str]]:
    return [(row.pattern("words"), row["reads_as"]) for row in read_table("step_words.tsv")]


def tokens_named(step: str) -> tuple[tuple[str, ...], ...]:
    """What a step names of foods, as words to compare."""
    return tuple(mention.tokens for sentence in _sentences(step) for mention in sentence.mentions)


def silent_in(step: str) -> tuple[tuple[int, int], ...]:
    """Where the words of a step name a food and speak of none: (start, end) of every exception that stands in it.

    >>> silent_in("Toast the bread.")
    ((0, 6),)
    """
    text = without_accents(step.lower().replace("’", "'"))
    if len(text) != len(step):
        return ()
    return tuple(
        found.span() for words, reads_as in _readings() if not reads_as.strip() for found in words.finditer(text)
    )


@functools.lru_cache(maxsize=8_192)
def _sentences(step: str) -> tuple[_Sentence, ...]:
    """The sentences of a step with what they name; the same words are read once."""
    text = without_accents(step[:_MOST].lower().replace("’", "'"))
    found = [_sentence(each) for each in _SENTENCES.split(text) if each.strip()]
    if "water" in text and found and pattern("water_stays").search(pattern("water_soaks").sub(" ", text)):
        # Whether water stays is told by the whole step: "in a liter of water, then drain".
        found[0] = _Sentence(found[0].text, (*found[0].mentions, _Mention(("water",), False, False, False, True)))
    return tuple(found)


@functools.cache
def _any_reading() -> re.Pattern[str]:
    """All of them at once: most sentences hold none."""
    return re.compile("|".join(f"(?:{words.pattern})" for words, _ in _readings()))


def _sentence(text: str) -> _Sentence:
    if "salt" in text and pattern("water_soaks").search(text):
        text = re.sub(r"\bsalt(?:ed)? water\b", "water", text)  # what something only lies in
    if _any_reading().search(text):
        for words, reads_as in _readings():
            text = words.sub(reads_as, text)
    return _Sentence(text, tuple(_mentions(text)))


@functools.cache
def _cues() -> list[tuple[re.Pattern[str], re.Pattern[str], str]]:
    return [(row.pattern("foods"), row.pattern("words"), row.text("cue")) for row in read_table("step_cues.tsv")]


def _cue_of(text: str, food: str) -> str:
    """How a food goes in, in words a line may say: they make a vague amount of it. Empty where the sentence does not tell."""
    return next((cue for foods_, words, cue in _cues() if foods_.search(food) and words.search(text)), "")


def _mentions(text: str) -> Iterator[_Mention]:
    """Cook's names among the words, the longest first at each place; then the words for allergens that none of them took up."""
    tokens, at = normalized(text).split(), 0
    taken: set[str] = set()
    while at < len(tokens):
        size = next((n for n in range(_LONGEST, 0, -1) if _is_food(tokens[at : at + n])), 0)
        if size:
            taken.update(tokens[at : at + size])
            if not _comes_to_be(tokens[at : at + size][-1], text):
                yield _mention(tokens, at, tokens[at : at + size], True)
        at += max(size, 1)
    for words, _ in named_outright(text):
        named = tuple(normalized(words).split())
        if named and not taken.issuperset(named):
            taken.update(named)
            start = next((i for i in range(len(tokens)) if tokens[i] == named[0]), 0)
            if not _comes_to_be(named[-1], text):
                yield _mention(tokens, start, named, False)


def _comes_to_be(word: str, text: str) -> bool:
    """Whether a sentence works what it has into it: "beat to a thick batter". "Make a white sauce", "add it to a custard" say what goes in."""
    if word not in words_of("made"):
        return False
    ends = rf"(?:\w+ ){{0,2}}{word}s?\b"
    works = rf"\b(?:beat|whisk|mix|knead|blend|work|pound|mash|puree|grind|rub|boil|reduce|cook)\b[^.;]*\bto an? {ends}"
    shapes = rf"\b(?:shape|form|pat|press|roll|cut|mould|mold|flatten)\b[^.;]*\b(?:into|in|to)\b {ends}|\b(?:shape|form|pat|roll|cut)\b {ends}"
    made_of = rf"\bmake an? {ends} (?:of|from|with|out of)\b"
    is_shape = words_of("made")[word] == "shaped" and re.search(shapes, text)
    return bool(re.search(works, text) or is_shape or re.search(made_of, text))


def _mention(tokens: Sequence[str], at: int, named: Sequence[str], is_name: bool) -> _Mention:
    before = tokens[max(at - _NEAR, 0) : at]
    definite = _is_definite(before)
    # "Eat the meat with tortillas": what stands before the meat says nothing of the tortillas.
    made = words_of("making").keys() | words_of("definite").keys()
    is_made = definite is not False and not made.isdisjoint(before)
    after = next(iter(tokens[at + len(named) : at + len(named) + 1]), "")
    return _Mention(tuple(named), bool(definite), definite is None and len(named) == 1, is_made, is_name, after)


def _is_definite(before: Sequence[str]) -> bool | None:
    """Whether the words before speak of what was there before ("the milk") or of more ("a splash of"); None where none tells."""
    for word in reversed(before):
        if word in ("and", "or", "plus"):
            return None  # "the other berries and milk": what the one is does not tell of the other
        if word in words_of("definite"):
            return True
        if word in words_of("indefinite") or word.isdigit():
            return False
    return None


def _is_food(tokens: Sequence[str]) -> bool:
    return matcher().is_name(tokens) or " ".join(tokens) in groups()


def _is_added(mention: _Mention, lines: Sequence[Called], held: frozenset[str], headings: frozenset[str]) -> bool:
    core = core_of(mention.tokens)
    nothing = words_of("no_food").keys()
    tags = tags_named(" ".join(mention.tokens))
    # "A white sauce" is of milk and wheat, though neither of its words is a food.
    is_none = " ".join(core) in nothing or set(core) <= nothing or set(core) <= headings
    certain = frozenset(tag for line in lines for tag in line.certain)
    if not core or (is_none and tags <= certain):
        return False
    if mention.tokens == ("water",):
        return not any(line.own <= {"water"} for line in lines if "water" in line.heads)
    if mention.after and any({*core, mention.after} <= line.own for line in lines):
        return False  # "The orange flower water".
    is_of_lines = mention.is_definite or core[-1] in words_of("made_of_lines") or core[-1] in words_of("made")
    if not mention.is_name and tags and tags <= certain and is_of_lines:
        return False  # "the roux", "a meringue": what the lines make, and hold
    if core[-1] in words_of("made_of_lines") and mention.is_made and tags <= held:
        return False
    # As cooks note it ("divide noodles, chicken and sprouts") a bare word means what is listed, unless it names an allergen no line holds.
    is_definite = mention.is_definite or (mention.is_bare and tags <= held)
    return not is_meant(mention.tokens, is_definite, lines)


def _tags_of(name: str) -> set[str]:
    """Listed allergens of a food that only a step names: searched as a line would be, by its words and by its food."""
    row = food_named(name).row
    hits = (*hits_of_words(name, LINE), *(hits_of_food(foods().ids[row]) if row >= 0 else ()))
    return {hit.tag for hit in hits} & ALLERGENS.keys()
