"""What one clause of a step does, by its verbs: tables/operations.tsv, and the lists "adding", "going_on", "finishing" of vocabulary.tsv."""

import functools
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from nutrition.food.names import normalized
from nutrition.food.spoken import without_accents
from nutrition.tables import pattern, read_table, words_of

#: So much of a step is looked at.
_MOST = 5_000
_SENTENCES = re.compile(r"(?<=[A-Za-z0-9)])[.!;]\s+|\n|,? (?:and )?then (?=[a-z])|: ")


@dataclass(frozen=True, slots=True)
class _Operation:
    key: str
    words: re.Pattern[str]
    heats: bool


@functools.cache
def _operations() -> tuple[_Operation, ...]:
    return tuple(
        _Operation(row.text("operation"), row.pattern("words", re.I), row.yes("heats"))
        for row in read_table("operations.tsv")
    )


def operations() -> tuple[str, ...]:
    """All that a step may do: the keys of operations.tsv in their order."""
    return tuple(each.key for each in _operations())


@functools.lru_cache(maxsize=8_192)
def operations_in(text: str, among: tuple[str, ...] = ()) -> tuple[str, ...]:
    """What a step does, by its verbs; keys of operations.tsv in their order. `among`: those of the whole step, of which one clause does
    some.

    >>> operations_in("Fry the onion in the oil, then simmer for an hour.")
    ('fry', 'boil')
    """
    return tuple(each.key for each in _operations() if (not among or each.key in among) and each.words.search(text))


@functools.cache
def _heating() -> re.Pattern[str]:
    return re.compile("|".join(f"(?:{each.words.pattern})" for each in _operations() if each.heats), re.I)


@functools.lru_cache(maxsize=8_192)
def heats(text: str) -> bool:
    """Whether what a sentence takes in hand gets hot through it.

    >>> heats("Simmer for ten minutes."), heats("Take it off the heat and stir in the cream.")
    (True, False)
    """
    plain = pattern("no_heat").sub(" ", text.lower())
    return bool(_IN_THE_HEAT.search(plain)) or bool(pattern("heats").search(plain)) or bool(_heating().search(plain))


_IN_THE_HEAT = re.compile(r"\bbefore the end\b|\bfor the last\b")


def sentences_of(step: str) -> list[str]:
    """What stands between full stops, and on either side of "then"."""
    return _SENTENCES.split(step[:_MOST])


@functools.cache
def _between() -> re.Pattern[str]:
    """Where one thing to do ends and the next begins: a comma or "and" before another verb."""
    verbs = "|".join(words_of("verb"))
    no_verb = r"(?!brown (?:sauce|sugar|rice|bread|butter|flour))"
    return re.compile(rf"(?:,\s*(?:and |but |then )?|\s+and (?:then )?){no_verb}(?=(?:{verbs})\b)", re.I)


def where_clauses_part(sentence: str) -> list[re.Match[str]]:
    """Where a sentence goes on to another thing to do.

    >>> [found[0] for found in where_clauses_part("Fry the onion, add the cream and simmer")]
    [', ', ' and ']
    """
    return list(_between().finditer(sentence))


#: "Boiled without salt" takes no salt.
_NONE_OF = re.compile(r"\b(?:without|no|other than|instead of)\s+(?:any |the |more )?[a-z]+")


@functools.lru_cache(maxsize=4_096)
def clauses_of(step: str) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """What a step does, one thing after another: (plain words, as they are compared)."""
    found = []
    for sentence in sentences_of(step):
        for clause in _with_its_object(_between().split(sentence)):
            if clause.strip():
                plain = _NONE_OF.sub(" ", without_accents(clause.strip().lower().replace("’", "'")))
                found.append((plain, words_in(plain)))
    return tuple(found)


def _with_its_object(clauses: Sequence[str]) -> Iterator[str]:
    """ "Core and slice the apples": a verb alone has the object of the next."""
    waits = ""
    for clause in clauses:
        alone = clause.strip().lower()
        if alone in words_of("works"):
            waits += f"{clause.strip()} and "
            continue
        yield waits + clause.strip() if waits else clause
        waits = ""
    if waits:
        yield waits.removesuffix(" and ")


def words_in(plain: str) -> tuple[str, ...]:
    """The words of a clause as they are compared; a comma is one of them, for no name reaches over it."""
    return tuple(" , ".join(map(normalized, plain.split(","))).split())


@functools.lru_cache(maxsize=8_192)
def adds(plain: str) -> bool:
    """Whether a clause puts more into what is there."""
    return (
        has(plain, "adding")
        or bool(re.match(r"(?:put|lay|spread|set|pile|arrange)\b", plain))
        or bool(re.search(r"\b(?:stir|fold|mix|beat|whisk|rub|work|swirl)\b[^,.;]*\b(?:in|through)\b(?! a\b)", plain))
    )


@functools.cache
def _verbs(which: str, where: str) -> re.Pattern[str]:
    """The words of a list, at the beginning of a clause after its little words, or anywhere in it."""
    little = r"^(?:(?:meanwhile|finally|now|next|just before serving|to serve|at once)[, ]+)*"
    return re.compile(rf"{little if where == 'begins' else chr(92) + 'b'}(?:{'|'.join(words_of(which))})\b")


def begins(plain: str, which: str) -> bool:
    """Whether a clause begins with one of the verbs of a list."""
    return bool(_verbs(which, "begins").match(plain))


@functools.lru_cache(maxsize=131_072)
def cue(name: str, plain: str) -> bool:
    """Whether a clause shows one of the cues of tables/patterns.tsv, names beginning with "hand_"."""
    return bool(pattern(f"hand_{name}").search(plain))


def starts(name: str, plain: str) -> bool:
    """Whether a clause begins with such a cue."""
    return bool(pattern(f"hand_{name}").match(plain))


def has(plain: str, which: str) -> bool:
    return bool(_verbs(which, "has").search(plain))


#: "Dress with the vinegar", "knead in the salt", "bake until brown": what is dressed, kneaded, baked is what was in hand.
_NO_OBJECT = re.compile(
    r"^(?:(?:meanwhile|finally|now|next|gently|carefully|just before serving|at once)[, ]+)*(?:[a-z]+(?:-[a-z]+)?)"
    r"(?: [a-z]+ly| well| again| hard| at once)*(?:$| \d| (?:with|in|into|to|over|under|for|until|till|at|on|onto|off|through|between|and(?! [a-z]+ (?:the|each|all)\b)|by)\b)"
)


@functools.lru_cache(maxsize=8_192)
def has_no_object(plain: str) -> bool:
    """Whether the verb of a clause is followed by no food of its own."""
    return bool(_NO_OBJECT.match(plain))


@functools.cache
def _making(word: str) -> tuple[re.Pattern[str], re.Pattern[str]]:
    comes = rf"\b(?:to|into|make|for|form)\s+(?:an?|the|eight|four|small|thick|smooth|soft|stiff|one)?\s*(?:\w+\s){{0,2}}{word}"
    return re.compile(comes), re.compile(rf"\b(?:in|into|to|with|of) the {word}")


def is_made_here(word: str, plain: str) -> bool:
    """Whether a product comes to be in this clause: "to a dough", "make a paste"; not "the dough"."""
    comes, is_there = _making(word)
    return bool(comes.search(plain)) and not is_there.search(plain)


#: "After it has boiled for ten minutes take out the kelp".
_BEFORE_A_VERB = re.compile(
    r"^(?:after|when|once)\b(?: \w+){1,8}? (?=(?:add|take|lift|remove|put|stir|pour|tip|drain|drop|slide|return)\b)"
)
_STILL = re.compile(r"^(?:while|when) (?:still |it is |they are )?(?:warm|hot|cold|cool)(?: enough)?,? (?!enough)")
_PURPOSE = re.compile(r" for (?:the|later|another|your)\b.*")
_LEADING = re.compile(r"^(?:when|once|if|as soon as|while|before|after)\b[^,]*,\s*")
_TRAILING = re.compile(
    r"(?<!^)\b(?:until|till|so that|when|as soon as|while|if|as|before|after|which|that (?:clings?|runs?|comes?|stays?|is|are|has|have|remains?))\b.*",
    re.S,
)


@functools.lru_cache(maxsize=8_192)
def main_part(plain: str) -> str:
    """A clause without what only says when and how far.

    >>> main_part("when it bubbles, slide in the fish until it is white")
    'slide in the fish '
    """
    said = _TRAILING.sub("", _BEFORE_A_VERB.sub("", _LEADING.sub("", _STILL.sub("", plain))))
    return _PURPOSE.sub("", said) if said.startswith(("save", "keep", "reserve")) else said
