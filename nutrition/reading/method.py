"""The method of a dish, read once: what each step takes in hand, by name, by a group word or through what was made of it; what it adds;
what it does.

A sentence is read after the one before it: it knows what stands in the pot, what "it" was, and what "the dough" holds. A verb that adds
takes the pot in hand with what is added ("stir in the cream"), a verb that continues takes the pot alone ("simmer"), and what is strewn or
served takes only what it names. Words: tables/operations.tsv, and the lists "made", "adding", "going_on", "finishing" of vocabulary.tsv.
"""

import functools
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.dish.method import Added, Method, Step, Use
from nutrition.dish.naming import description_of
from nutrition.food.names import normalized
from nutrition.food.spoken import without_accents
from nutrition.reading.matching import matcher
from nutrition.reading.mentions import Called, called, core_of, groups, is_meant
from nutrition.reading.steps import heat_of, waits_of
from nutrition.reading.unlisted import Unlisted, unlisted
from nutrition.tables import pattern, read_table, words_of

#: So much of a step is looked at.
_MOST = 5_000
_SENTENCES = re.compile(r"(?<=[a-z0-9)])[.!;]\s+|\n|,? (?:and )?then (?=[a-z])|: (?=[A-Z])")
NAMED, GROUP, PRODUCT = "named", "group", "product"
ALL, PART, HALF, REST = "all", "part", "half", "rest"


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


@functools.lru_cache(maxsize=8_192)
def operations_in(text: str) -> tuple[str, ...]:
    """What a step does, by its verbs; keys of operations.tsv in their order.

    >>> operations_in("Fry the onion in the oil, then simmer for an hour.")
    ('fry', 'boil')
    """
    return tuple(each.key for each in _operations() if each.words.search(text))


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


@dataclass(slots=True)
class _Reading:
    """What is known before a clause. `pot`: what is being worked on, `before`: what was until something else was begun; `last`: what the
    clause before took in hand, `is_aside`: beside the pot; `products`: name -> lines; `seen`: lines any step has taken in hand; `gone`: what is
    in the dish no more; `parts`: word of a heading -> its lines; `part`: whose own step this is; `allowed`: the lines that may stand in it."""

    lines: Sequence[Called]
    pot: frozenset[int] = frozenset()
    last: frozenset[int] = frozenset()
    products: dict[str, frozenset[int]] = field(default_factory=dict)
    seen: frozenset[int] = frozenset()
    gone: frozenset[int] = frozenset()
    is_aside: bool = False
    parts: dict[str, frozenset[int]] = field(default_factory=dict)
    part: str = ""
    allowed: frozenset[int] = frozenset()
    before: frozenset[int] = frozenset()


@dataclass(frozen=True, slots=True)
class _Taken:
    """What a sentence takes in hand: line -> how; which of them it puts in by name; whether it heats them."""

    how: dict[int, str]
    shares: dict[int, str]
    heats: bool


def read_method(dish: Dish) -> Method:
    """What is done with the lines of a dish. Of a dish without steps: every line is unnamed.

    >>> from nutrition.reading.recipe import read_line
    >>> lines = (read_line("2 onions"), read_line("1 tbsp oil"), read_line("500 g carrots"))
    >>> method = read_method(Dish("Pot", 2, lines, ("Soften the onions in the oil.", "Add the carrots and simmer.", "Serve it with rice.")))
    >>> [[use.line for use in step.uses] for step in method.steps], [each.words for each in method.steps[2].adds]
    ([[0, 1], [0, 1, 2], [0, 1, 2]], ['rice'])
    """
    return method_of(tuple(dish.steps), tuple(line for line in dish.lines if not line.step))


def method_of(steps: tuple[str, ...], own: tuple[Line, ...]) -> Method:
    """As `read_method`, of steps and the lines they speak of."""
    lines = tuple(map(called, own))
    cooked = frozenset(at for at, line in enumerate(own) if _counts_neither(description_of(line), line.text))
    return _method(steps, lines, tuple(line.heading for line in own), cooked, unlisted(steps, own))


@functools.lru_cache(maxsize=8_192)
def _counts_neither(description: str, text: str) -> bool:
    """Salt, water, and what was cooked before: neither raw nor heated."""
    return bool(pattern("neither_raw").search(f"{description} | {text}".lower()))


@functools.lru_cache(maxsize=1_024)
def _method(
    steps: tuple[str, ...],
    lines: tuple[Called, ...],
    headings: tuple[str, ...],
    cooked: frozenset[int],
    additions: tuple[Unlisted, ...],
) -> Method:
    """By what the lines are called: other amounts change nothing of it."""
    state = _Reading(lines, parts=_parts(headings))
    of_part, of_none = _lines_by_part(steps, headings)
    read, taken_in_hand = [], []
    added: dict[int, list[Added]] = {}
    for each in additions:
        added.setdefault(each.step, []).append(Added(each.words, each.tags))
    for number, text in enumerate(steps, 1):
        how: dict[int, str] = {}
        shares: dict[int, str] = {}
        hot = False
        part = next((each for each in of_part if text.startswith(f"{each}: ")), "")
        if part != state.part:
            state.part, state.pot, state.last = part, frozenset(), frozenset()
        state.allowed = of_part[part] if part else of_none
        for plain, words in _clauses(text):
            taken = _clause(plain, words, state)
            taken_in_hand.append(taken)
            for line, way in taken.how.items():
                how[line] = NAMED if NAMED in (way, how.get(line)) else way
            shares |= taken.shares
            hot = hot or taken.heats
        uses = tuple(Use(line, how[line], shares.get(line, ALL)) for line in sorted(how))
        oven, inside = heat_of(text)
        waits = tuple((wait.seconds, wait.most_seconds) for wait in waits_of(text))
        adds = tuple(added.get(number, ()))
        read.append(Step(number, text, uses, adds, operations_in(text), hot, waits, oven.c if oven else None, inside))
    used = {use.line for step in read for use in step.uses}
    unnamed = tuple(at for at in range(len(lines)) if at not in used)
    products = tuple((name, tuple(sorted(inside))) for name, inside in state.products.items())
    raw = tuple(at for at in _raw(len(lines), taken_in_hand) if at not in state.gone | cooked)
    return Method(tuple(read), raw, unnamed, products)


def _parts(headings: Sequence[str]) -> dict[str, frozenset[int]]:
    """What steps may call the lines under a heading: "the sauce" of those under "For the yogurt sauce"."""
    found: dict[str, frozenset[int]] = {}
    for at, heading in enumerate(headings):
        words = normalized(heading.split(": ")[0]).split()
        if words and words[-1] not in ("serve", "serving", "garnish", "finish"):
            found[words[-1]] = found.get(words[-1], frozenset()) | {at}
    return found


def _lines_by_part(steps: Sequence[str], headings: Sequence[str]) -> tuple[dict[str, frozenset[int]], frozenset[int]]:
    """Part with steps of its own ("Sauce: simmer it") -> its lines, which stand in no other; and the lines of all other steps."""
    tops = [heading.split(": ")[0] for heading in headings]
    own = {top for top in tops if top and any(step.startswith(f"{top}: ") for step in steps)}
    of_part = {top: frozenset(at for at, each in enumerate(tops) if each == top) for top in own}
    return of_part, frozenset(at for at, each in enumerate(tops) if each not in own)


@functools.cache
def _between() -> re.Pattern[str]:
    """Where one thing to do ends and the next begins: a comma or "and" before another verb."""
    verbs = "|".join(words_of("verb"))
    no_verb = r"(?!brown (?:sauce|sugar|rice|bread|butter|flour))"
    return re.compile(rf"(?:,\s*(?:and |but |then )?|\s+and (?:then )?){no_verb}(?=(?:{verbs})\b)", re.I)


#: "Boiled without salt" takes no salt.
_NONE_OF = re.compile(r"\b(?:without|no|other than|instead of)\s+(?:any |the |more )?[a-z]+")


@functools.lru_cache(maxsize=4_096)
def _clauses(step: str) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """What a step does, one thing after another: (plain words, as they are compared)."""
    found = []
    for sentence in _SENTENCES.split(step[:_MOST]):
        for clause in _between().split(sentence):
            if clause.strip():
                plain = _NONE_OF.sub(" ", without_accents(clause.strip().lower().replace("’", "'")))
                found.append((plain, tuple(normalized(plain).split())))
    return tuple(found)


def _clause(plain: str, words: Sequence[str], state: _Reading) -> _Taken:
    # "Whisk the flour with the stock, then the eggs": what has no verb of its own goes in as well.
    adding = _adds(plain) or bool(state.pot and re.match(r"(?:the|a|an|some|half|with|and)\b", plain))
    how, shares = _named(words, plain, adding, state)
    if re.search(r"\b(?:soak|rinse|purge)|\bplenty of\b|\bcold water\b", plain):
        how = {line: way for line, way in how.items() if "water" not in state.lines[line].heads}
    for word in words:
        if waits := state.parts.get(word, frozenset()) - state.seen:
            how |= dict.fromkeys(waits - how.keys(), GROUP)
            state.products[word] = state.parts[word]
    how = {line: way for line, way in how.items() if line in state.allowed}
    named = frozenset(how)
    finishing = _begins(plain, "finishing")
    through = _through(words, plain, named, adding, finishing, state)
    for line in through - named:
        how[line] = PRODUCT
    hands = named | through
    _remember(words, plain, named, hands, adding, finishing, state)
    return _Taken({line: how[line] for line in sorted(hands)}, shares, heats(plain))


@functools.lru_cache(maxsize=8_192)
def _adds(plain: str) -> bool:
    """Whether a clause puts more into what is there."""
    return (
        _has(plain, "adding")
        or bool(re.match(r"(?:put|lay|spread|set|pile|arrange)\b", plain))
        or bool(re.search(r"\b(?:stir|fold|mix|beat|whisk|rub|work|swirl)\b[^,.;]*\b(?:in|through)\b(?! a\b)", plain))
    )


@functools.cache
def _verbs(which: str, where: str) -> re.Pattern[str]:
    """The words of a list, at the beginning of a clause after its little words, or anywhere in it."""
    little = r"^(?:(?:meanwhile|finally|now|next|just before serving|to serve|at once)[, ]+)*"
    return re.compile(rf"{little if where == 'begins' else chr(92) + 'b'}(?:{'|'.join(words_of(which))})\b")


def _begins(plain: str, which: str) -> bool:
    """Whether a clause begins with one of the verbs of a list."""
    return bool(_verbs(which, "begins").match(plain))


def _has(plain: str, which: str) -> bool:
    return bool(_verbs(which, "has").search(plain))


def _named(words: Sequence[str], plain: str, adding: bool, state: _Reading) -> tuple[dict[int, str], dict[int, str]]:
    """Lines that the words of a clause name, the longest name at each place; a word for several takes those it fits."""
    how: dict[int, str] = {}
    shares: dict[int, str] = {}
    at = 0
    while at < len(words):
        size, lines, way = _meant_at(words, at, adding, state)
        share = _share(words, at)
        for line in lines:
            how.setdefault(line, way)
            if share != ALL:
                shares[line] = share
        at += max(size, 1)
    for cue, lines in _by_cue(plain, frozenset(how), state):
        if re.search(cue, plain):
            how |= dict.fromkeys((line for line in lines if line not in how), GROUP)
    if _EVERYTHING.search(plain):
        but = frozenset(how) if re.search(r"\bbut\b|\bexcept", plain) else frozenset()
        waits = frozenset(range(len(state.lines))) - state.seen
        is_late = 3 * len(state.seen) >= 2 * len(state.lines)
        left = (
            waits
            if re.search(r"\b(?:other|remaining|rest)\b", plain)
            else state.seen
            if is_late
            else state.seen | waits
        )
        left = state.seen if re.search(r"\bfrom the\b", plain) else left
        for line in left - but - state.gone:
            how.setdefault(line, GROUP)
        for line in but:
            how.pop(line)
    return how, shares


_EVERYTHING = re.compile(
    r"\b(?:everything|all (?:of )?(?:the |these )?(?:other |remaining )?ingredients?|the (?:other|remaining) ingredients)\b"
)
_FAT = re.compile(r"\boils?\b|butter|lard|ghee|margarine|dripping|shortening|\bfat\b", re.I)


def _by_cue(plain: str, named: frozenset[int], state: _Reading) -> Iterator[tuple[str, tuple[int, ...]]]:
    """(words of a clause, lines they mean without naming them)."""
    lines = list(enumerate(state.lines))
    yield r"\bdry ingredients\b", tuple(at for at, line in lines if pattern("dry_goods").search(line.kind))
    yield r"\b(?:yolk|white)s?\b", tuple(at for at, line in lines if "egg" in line.tokens)
    yield (
        r"\bsalted (?:boiling )?water\b",
        tuple(at for at, line in lines if line.heads == {"salt"} and at not in state.seen),
    )
    if not any(_FAT.search(state.lines[at].kind) for at in named):
        yield (
            r"\b(?:deep-)?fr(?:y|ied|ying)\b",
            tuple(
                at
                for at, line in lines
                if re.search(r"\bfor (?:deep-|shallow-)?frying|for the pan|to fry", line.kind, re.I)
            ),
        )


def _meant_at(words: Sequence[str], at: int, adding: bool, state: _Reading) -> tuple[int, tuple[int, ...], str]:
    """(how many words, lines, how) of the longest name of lines that begins here; nothing where none does."""
    before = words[max(at - 3, 0) : at]
    definite = "the" in before or "its" in before
    for size in range(min(4, len(words) - at), 0, -1):
        phrase = tuple(words[at : at + size])
        if phrase[-1] in words_of("part_of_food"):
            part = tuple(n for n, line in enumerate(state.lines) if set(phrase) <= line.tokens and line.own)
            if part:
                return size, part if len(part) == 1 else _likelier(part, adding, state), NAMED
            continue
        core = core_of(phrase)
        if not core or (size > 1 and phrase[0] not in core and phrase[0] not in words_of("state")):
            continue
        exact = tuple(
            n
            for n, line in enumerate(state.lines)
            if core[-1] in line.heads and set(core) <= line.tokens | words_of("harmless").keys()
        )
        if exact and (size > 1 or not _goes_on(phrase[-1], words[at + 1] if at + 1 < len(words) else "", state)):
            return (
                size,
                exact if len(exact) == 1 else _likelier(_the_one(phrase[-1], exact, state), adding, state),
                NAMED,
            )
        if size > 1 and matcher().is_name(phrase):
            meant = tuple(n for n, line in enumerate(state.lines) if is_meant(phrase, definite, [line]))
            return size, meant, NAMED
        whole = " ".join(core)
        if size == 1 and whole in groups() and not exact:
            group = groups()[whole]
            of_group = tuple(
                n
                for n, line in enumerate(state.lines)
                if (group.tags & line.tags or (group.foods and group.foods.search(line.kind)))
                and not (group.is_itself and pattern("drawn_kind").search(line.kind))
            )
            # "The pasta" of a list with trofie, which no table knows: the one line of which nobody knows what it is.
            unknown = tuple(n for n, line in enumerate(state.lines) if line.row < 0)
            of_group = of_group or (unknown if len(unknown) == 1 and definite else ())
            if of_group:
                return size, _likelier(of_group, adding, state), GROUP if len(of_group) > 1 else NAMED
    return 0, (), ""


def _likelier(lines: tuple[int, ...], adding: bool, state: _Reading) -> tuple[int, ...]:
    """Of several lines a word may mean: what is added was not there before; what is worked on was, where any of it was."""
    lines = tuple(at for at in lines if at in state.allowed) or lines
    seen = tuple(at for at in lines if at in state.seen and at not in state.gone)
    waits = tuple(at for at in lines if at not in state.seen)
    return (waits or seen or lines) if adding else (seen or lines)


def _goes_on(word: str, following: str, state: _Reading) -> bool:
    """Whether a noun is only the beginning of another thing's name: "chicken" of "chicken stock", "lemon" of no line of "lemon curd"."""
    if not following or following not in words_of("made_of"):
        return False
    return any(following in line.heads and word in line.tokens for line in state.lines) or following not in words_of(
        "part_of_food"
    )


def _the_one(word: str, lines: tuple[int, ...], state: _Reading) -> tuple[int, ...]:
    """Of several lines a noun may mean, those it means alone: "the butter" of butter and peanut butter; else all of them."""
    alone = tuple(at for at in lines if len(state.lines[at].own) == 1 and word in state.lines[at].own)
    last = tuple(at for at in lines if state.lines[at].own and word in state.lines[at].own)
    return alone or last or lines


def _share(words: Sequence[str], at: int) -> str:
    before = words[max(at - 4, 0) : at]
    if "half" in before:
        return HALF
    if {"rest", "remaining", "remainder", "left", "other"} & set(before):
        return REST
    if {
        "most",
        "some",
        "little",
        "pinch",
        "spoonful",
        "tablespoon",
        "third",
        "quarter",
        "few",
        "cup",
        "knob",
        "splash",
    } & set(before):
        return PART
    return ALL


def _through(
    words: Sequence[str], plain: str, named: frozenset[int], adding: bool, finishing: bool, state: _Reading
) -> frozenset[int]:
    """Lines a clause takes in hand through what they became part of: a product it names, "it", or the pot."""
    found: frozenset[int] = frozenset()
    own = {head for at in named for head in state.lines[at].heads}
    for at, word in enumerate(words):
        if at == 0 or word not in words_of("made") or word in own or words[at + 1 : at + 2] == ("of",):
            continue
        if finishing:
            found |= state.products.get(word, frozenset()) if words[at - 1] == "the" else frozenset()
        elif not _is_made_here(word, plain):
            found |= _product(word, state)
    is_named = bool(found)
    if finishing or _begins(plain, "starting"):
        # "Serve it with rice" takes it in hand; "serve with rice" takes what it names.
        found |= (state.last or state.pot) if re.match(r"\w+ (?:it|them)\b", plain) else frozenset()
        return (found - state.gone) & state.allowed
    if re.search(r"\b(?:it|them|these|both|this)\b", _SUBORDINATE.sub(" ", plain)):
        found |= (state.last or state.pot) | (state.pot if adding and not is_named else frozenset())
        return (found - state.gone) & state.allowed
    is_fat = bool(named) and all(_FAT.search(state.lines[at].kind) for at in named)
    if adding and not is_named:
        found |= state.last if state.is_aside else state.pot
    elif (is_fat and not is_named and heats(plain) and not state.lines[min(named)].heads & set(words[:3])) or (
        not named and not found and _has(plain, "going_on")
    ):
        found |= state.pot
    return (found - state.gone) & state.allowed


_SUBORDINATE = re.compile(r"\b(?:until|till|so that|when|as|before|while|that|what|where|if)\b.*")


def _product(word: str, state: _Reading) -> frozenset[int]:
    """The lines inside of what a word calls; where nothing was called so yet, what is being worked on, else what a dish begins with."""
    if word in state.products:
        return state.products[word]
    if state.before and word not in words_of("main"):
        return state.before
    first = frozenset(range(len(state.lines))[:1])
    if word in words_of("main") and not state.pot:
        return _main(state) or first
    return state.pot or state.seen or _main(state) or first


def _main(state: _Reading) -> frozenset[int]:
    """What "the meat", "the joints", "the pieces" are where nothing was called so before."""
    return frozenset(at for at, line in enumerate(state.lines) if pattern("main_kind").search(line.kind)) - state.gone


@functools.cache
def _making(word: str) -> tuple[re.Pattern[str], re.Pattern[str]]:
    comes = rf"\b(?:to|into|make|for|form)\s+(?:an?|the|eight|four|small|thick|smooth|soft|stiff|one)?\s*(?:\w+\s){{0,2}}{word}"
    return re.compile(comes), re.compile(rf"\b(?:in|into|to|with|of) the {word}")


def _is_made_here(word: str, plain: str) -> bool:
    """Whether a product comes to be in this clause: "to a dough", "make a paste"; not "the dough"."""
    comes, is_there = _making(word)
    return bool(comes.search(plain)) and not is_there.search(plain)


def _remember(
    words: Sequence[str],
    plain: str,
    named: frozenset[int],
    hands: frozenset[int],
    adding: bool,
    finishing: bool,
    state: _Reading,
) -> None:
    if not hands:
        return
    state.seen |= hands
    beside = _begins(plain, "by_hand") and not adding and bool(state.pot)
    if finishing or beside:
        # What is strewn on, or chopped beside it, leaves the pot what it was.
        state.pot = state.pot | named if finishing and state.pot else state.pot
        state.last = state.last if finishing else hands
    else:
        joins = adding or bool(hands - named)
        grows = joins and bool(hands & state.pot or not state.pot)
        state.before = frozenset() if grows else state.pot
        state.pot = ((state.pot | hands) if grows else hands) - state.gone
        state.last = (hands if not adding else state.pot) - state.gone
    state.is_aside = beside and not finishing
    if re.search(r"\b(?:marinat|brine|steep|lay it in|leave it in)", plain):
        liquid = hands - _main(state)
        for word in ("marinade", "brine"):
            state.products.setdefault(word, liquid)
    for word in words:
        if word in words_of("made"):
            there, grown = state.products.get(word), state.pot if not finishing else hands
            if there is None or there <= grown:
                state.products[word] = grown - state.gone
            elif adding:
                state.products[word] = (there | named) - state.gone
    if re.search(r"\b(?:discard|throw|thrown|pour\w* (?:the )?(?:\w+ )?away|can go)\b", plain):
        out = _discarded(plain, state)
        state.gone |= out
        state.pot -= out
        state.last -= out


def _discarded(plain: str, state: _Reading) -> frozenset[int]:
    """What a sentence throws away: what it names after the verb, or the product it names there."""
    after = re.split(r"\b(?:discard(?:ing|ed)?|throw(?:n|ing)?|pour\w*)\b", plain, maxsplit=1)[-1]
    tail = tuple(normalized(after).split())
    how, _ = _named(tail, after, False, state)
    found = frozenset(how)
    for word in tail:
        if word in ("marinade", "brine") and word in state.products:
            found |= state.products[word] - _main(state)
    return found if len(found) < len(state.lines) else frozenset()


def _raw(count: int, clauses: Sequence[_Taken]) -> tuple[int, ...]:
    """Lines of which a part goes in that meets no heat then or later."""
    found = []
    for at in range(count):
        named = [n for n, each in enumerate(clauses) if each.how.get(at) in (NAMED, GROUP)]
        put_in = [n for n in named if n == named[0] or clauses[n].shares.get(at, ALL) != ALL]
        if any(not any(each.heats for each in clauses[n:] if at in each.how) for n in put_in):
            found.append(at)
    return tuple(found)
