"""What a clause takes in hand, after the one before it: by a name, a group word, or through what was made; and what is known then.

A verb that adds takes the pot in hand with what is added ("stir in the cream"), a verb without an object takes the pot ("simmer", "dress
with the oil"), and what is strewn or served takes only what it names.
"""

import functools
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from nutrition.food.names import normalized
from nutrition.reading.clauses import (
    adds,
    begins,
    has,
    has_no_object,
    heats,
    is_made_here,
    without_subordinate,
    words_in,
)
from nutrition.reading.matching import matcher
from nutrition.reading.mentions import Called, core_of, groups, is_meant, tags_named
from nutrition.tables import pattern, words_of

NAMED, GROUP, PRODUCT = "named", "group", "product"
ALL, PART, HALF, REST = "all", "part", "half", "rest"


@dataclass(slots=True)
class Reading:
    """What is known before a clause. `pot`: what is being worked on, `before`: what was until something else was begun; `last`: what the
    clause before took in hand, `is_aside`: beside the pot; `products`: name -> lines; `seen`: lines any step has taken in hand; `gone`: what is
    in the dish no more; `parts`: word of a heading -> its lines; `part`: whose own step this is; `allowed`: the lines that may stand in it;
    `has_lifted`: the clause before took something out of the pot, which "throw it away" then means."""

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
    reserved: frozenset[int] = frozenset()
    has_lifted: bool = False
    by_head: dict[str, list[int]] = field(default_factory=dict)
    vocabulary: frozenset[str] = frozenset()

    def __post_init__(self) -> None:
        self.vocabulary = frozenset().union(*(line.tokens | line.heads for line in self.lines))
        for at, line in enumerate(self.lines):
            for head in line.heads:
                self.by_head.setdefault(head, []).append(at)


@dataclass(frozen=True, slots=True)
class Taken:
    """What a sentence takes in hand: line -> how; which of them it puts in by name; whether it heats them."""

    how: dict[int, str]
    shares: dict[int, str]
    heats: bool


def _before(words: Sequence[str], at: int, count: int) -> list[str]:
    """The words before a place, nearest last."""
    return [word for word in words[max(at - 2 * count, 0) : at] if word != ","][-count:]


#: "A spoonful of cream goes on each plate".
_GOES_ON_TOP = re.compile(r"\bgoes? (?:on|over|with|beside)\b")


def take_in_hand(plain: str, words: Sequence[str], state: Reading) -> Taken:
    # "Whisk the flour with the stock, then the eggs": what has no verb of its own goes in as well.
    adding = adds(plain) or bool(state.pot and re.match(r"(?:the|a|an|some|half|with|and)\b", plain))
    finishing = bool(state.pot) and (begins(plain, "finishing") or bool(_GOES_ON_TOP.search(plain)))
    how, shares = _named(words, plain, adding or finishing, state)
    if re.search(r"\b(?:soak|rinse|purge)|\bplenty of\b|\bcold water\b", plain):
        how = {line: way for line, way in how.items() if "water" not in state.lines[line].heads}
    for word in words:
        if waits := state.parts.get(word, frozenset()) - state.seen:
            how |= dict.fromkeys(waits - how.keys(), GROUP)
            state.products[word] = state.parts[word]
    how |= dict.fromkeys(_of_headings(words, state) - how.keys(), PRODUCT)
    how = {line: way for line, way in how.items() if line in state.allowed}
    named = frozenset(how)
    through = _through(words, plain, named, adding, finishing, state)
    for line in through - named:
        how[line] = PRODUCT
    hands = named | through
    _remember(words, plain, named, hands, adding, finishing, state)
    return Taken({line: how[line] for line in sorted(hands)}, shares, heats(plain))


def _of_headings(words: Sequence[str], state: Reading) -> frozenset[int]:
    """The lines under a heading that a clause names in full: "the flax gel"."""
    said = f" {' '.join(words)} "
    found = [lines for name, lines in state.parts.items() if " " in name and f" {name} " in said]
    return frozenset().union(*found) - state.gone


def _named(words: Sequence[str], plain: str, adding: bool, state: Reading) -> tuple[dict[int, str], dict[int, str]]:
    """Lines that the words of a clause name, the longest name at each place; a word for several takes those it fits."""
    how: dict[int, str] = {}
    shares: dict[int, str] = {}
    at = 0
    while at < len(words):
        size, lines, way = _meant_at(words, at, f"{words[at]}s" in plain, adding, state)
        share = _share(words, at)
        for line in lines:
            how.setdefault(line, way)
            if share != ALL:
                shares[line] = share
        at += max(size, 1)
    for line in list(_by_cue(plain, frozenset(how), state)):
        how.setdefault(line, GROUP)
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
    r"\b(?:everything|it all|them all|all of (?:it|them)|all (?:of )?(?:the |these )?(?:other |remaining )?ingredients?|the (?:other|remaining) ingredients)\b"
)
_FAT = re.compile(r"\boils?\b|butter|lard|ghee|margarine|dripping|shortening|\bfat\b", re.I)


_DRY = re.compile(r"\bdry ingredients\b")
_EGG = re.compile(r"\b(?:yolk|white)s?\b")
_SALTED = re.compile(r"\bsalted (?:boiling )?water\b")
_FRIES = re.compile(r"\b(?:deep-)?fr(?:y|ied|ying)\b")
_TO_FRY_IN = re.compile(r"\bfor (?:deep-|shallow-)?frying|for the pan|to fry", re.I)


def _by_cue(plain: str, named: frozenset[int], state: Reading) -> Iterator[int]:
    """Lines that words of a clause mean without naming them."""
    if _DRY.search(plain):
        yield from (at for at, line in enumerate(state.lines) if pattern("dry_goods").search(line.kind))
    if _EGG.search(plain):
        yield from (at for at, line in enumerate(state.lines) if "egg" in line.tokens)
    if _SALTED.search(plain):
        yield from (at for at, line in enumerate(state.lines) if line.heads == {"salt"} and at not in state.seen)
    if _FRIES.search(plain) and not any(_is_fat(state.lines[at].kind) for at in named):
        yield from (at for at, line in enumerate(state.lines) if _TO_FRY_IN.search(line.kind))


@functools.lru_cache(maxsize=20_000)
def _is_fat(kind: str) -> bool:
    return bool(_FAT.search(kind))


#: A cream, and no half of anything.
_HALF_AND_HALF = ("half", "and", "half")
#: No name begins with one of these.
_NO_NAME = frozenset(("the", "a", "an", ","))


def _meant_at(
    words: Sequence[str], at: int, are_several: bool, adding: bool, state: Reading
) -> tuple[int, tuple[int, ...], str]:
    """(how many words, lines, how) of the longest name of lines that begins here; nothing where none does. `are_several`: "the flours"."""
    if words[at] in _NO_NAME or not _may_begin(words[at], state):
        return 0, (), ""
    before = _before(words, at, 3)
    definite = "the" in before or "its" in before
    for size in range(min(4, len(words) - at), 0, -1):
        phrase = tuple(words[at : at + size])
        if phrase[-1] in words_of("part_of_food") and phrase != _HALF_AND_HALF:
            part = tuple(n for n, line in enumerate(state.lines) if set(phrase) <= _written(line.kind))
            if part:
                return size, part if len(part) == 1 else _likelier(part, adding, state), NAMED
            continue
        core = core_of(phrase)
        if phrase == _HALF_AND_HALF:
            return size, tuple(n for n, line in enumerate(state.lines) if "half and half" in line.kind.lower()), NAMED
        if not core or (size > 1 and phrase[0] not in core and phrase[0] not in words_of("state")):
            continue
        # "Milk" is not the oat drink of the list, where nothing says it was there before.
        is_head = core[-1] in state.by_head
        tags = tags_named(" ".join(phrase)) if is_head and not definite else frozenset()
        exact = tuple(n for n in state.by_head.get(core[-1], ()) if _is_called(core, tags, state.lines[n]))
        if size == 1 and _is_product(phrase[0], exact, state):
            continue
        if exact and (size > 1 or not _goes_on(phrase[-1], words[at + 1] if at + 1 < len(words) else "", state)):
            return (
                size,
                exact if len(exact) == 1 or are_several else _likelier(_the_one(core, exact, state), adding, state),
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
        if size == 1 and definite and not exact and phrase[0] not in words_of("made"):
            # "The claws" of a list with crab claws: a word of one line's name alone.
            own = tuple(n for n, line in enumerate(state.lines) if phrase[0] in line.own)
            if len(own) == 1:
                return size, own, NAMED
    return 0, (), ""


def _may_begin(word: str, state: Reading) -> bool:
    """Whether the name of a line may begin with a word."""
    return (
        word in state.vocabulary
        or word in words_of("part_of_food")
        or word in words_of("state")
        or word in groups()
        or word in matcher().first_words
    )


def _is_called(core: Sequence[str], tags: frozenset[str], line: Called) -> bool:
    return tags <= line.tags and all(word in line.tokens or word in words_of("harmless") for word in core)


def _is_product(word: str, lines: Sequence[int], state: Reading) -> bool:
    """Whether a noun means what was made, and not one of the lines it ends the name of: "the sauce" over a list with soy sauce."""
    if word not in words_of("made") or word in words_of("main") or any(state.lines[at].own == {word} for at in lines):
        return False
    return word in state.products or (bool(lines) and state.seen.issuperset(lines))


@functools.lru_cache(maxsize=20_000)
def _written(kind: str) -> frozenset[str]:
    """The words of a line as they were written; of one whose words do not hold any more those of its food."""
    food, text, heading = (*kind.split("; "), "", "")[:3]
    return frozenset(normalized(text or food.partition(": ")[2]).split()) | frozenset(normalized(heading).split())


def _likelier(lines: tuple[int, ...], adding: bool, state: Reading) -> tuple[int, ...]:
    """Of several lines a word may mean: what is added was not there before; what is worked on was, where any of it was."""
    lines = tuple(at for at in lines if at in state.allowed) or lines
    seen = tuple(at for at in lines if at in state.seen and at not in state.gone)
    waits = tuple(at for at in lines if at not in state.seen)
    return (waits or seen or lines) if adding else (seen or lines)


def _goes_on(word: str, following: str, state: Reading) -> bool:
    """Whether a noun is only the beginning of another thing's name: "chicken" of "chicken stock", "lemon" of no line of "lemon curd"."""
    if not following or following not in words_of("made_of"):
        return False
    return any(following in line.heads and word in line.tokens for line in state.lines) or following not in words_of(
        "part_of_food"
    )


def _the_one(core: Sequence[str], lines: tuple[int, ...], state: Reading) -> tuple[int, ...]:
    """Of several lines words may mean, those whose own name they are: "the butter" of butter and peanut butter; else all of them."""
    word = core[-1]
    named = tuple(at for at in lines if state.lines[at].own and state.lines[at].own <= set(core))
    if len(core) > 1 and named:
        most = max(len(state.lines[at].own) for at in named)
        return tuple(at for at in named if len(state.lines[at].own) == most)
    alone = tuple(at for at in lines if len(state.lines[at].own) == 1 and word in state.lines[at].own)
    last = tuple(at for at in lines if state.lines[at].own and word in state.lines[at].own)
    return alone or last or lines


#: What parts a measure from the food after it.
_APART = frozenset(("in", "into", "with", "on", "over", "and", "to", "from"))


def _share(words: Sequence[str], at: int) -> str:
    before = _before(words, at, 4)
    # "Fry spoonfuls in the oil" takes all of the oil.
    apart = next((n for n in range(len(before) - 1, -1, -1) if before[n] in _APART), -1)
    before = before[apart + 1 :]
    if "half" in before:
        return HALF
    if {"rest", "remaining", "remainder", "left", "other", "last"} & set(before):
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
        "more",
        "extra",
        "another",
    } & set(before):
        return PART
    return ALL


def _through(
    words: Sequence[str], plain: str, named: frozenset[int], adding: bool, finishing: bool, state: Reading
) -> frozenset[int]:
    """Lines a clause takes in hand through what they became part of: a product it names, "it", or the pot."""
    found: frozenset[int] = frozenset()
    own = {head for at in named for head in state.lines[at].heads}
    for at, word in enumerate(words):
        if at == 0 or word not in words_of("made") or word in own or words[at + 1 : at + 2] == ("of",):
            continue
        if finishing:
            found |= state.products.get(word, frozenset()) if words[at - 1] == "the" else frozenset()
        elif not is_made_here(word, plain):
            found |= _product(word, state)
    is_named = bool(found)
    if finishing or begins(plain, "starting"):
        # "Serve it with rice" takes it in hand; "serve with rice" takes what it names.
        found |= (state.last or state.pot) if re.match(r"\w+ (?:it|them)\b", plain) else frozenset()
        return (found - state.gone) & state.allowed
    if not state.seen and not named and not found and (has_no_object(plain) or has(plain, "going_on")):
        return state.allowed  # "Simmer for an hour": nothing was named, so it is of everything.
    if re.search(r"\b(?:it|them|these|both|this)\b", without_subordinate(plain)):
        found |= state.pot | state.before if re.search(r"\bboth\b(?! \w+ide)", plain) else frozenset()
        found |= (state.last or state.pot) | (state.pot if adding and not is_named else frozenset())
        return (found - state.gone) & state.allowed
    is_fat = bool(named) and all(_is_fat(state.lines[at].kind) for at in named)
    if adding or has_no_object(plain):
        found |= state.last if state.is_aside else state.pot
    elif (is_fat and not is_named and heats(plain) and not state.lines[min(named)].heads & set(words[:3])) or (
        not named and not found and (has(plain, "going_on") or not pattern("no_food_object").search(plain))
    ):
        found |= state.pot
    return (found - state.gone) & state.allowed


def _product(word: str, state: Reading) -> frozenset[int]:
    """The lines inside of what a word calls; where nothing was called so yet, what is being worked on, else what a dish begins with."""
    if word in state.products:
        return state.products[word]
    if state.before and word not in words_of("main"):
        return state.before
    first = frozenset(range(len(state.lines))[:1])
    if word in words_of("main") and not state.pot:
        return _main(state) or first
    return state.pot or state.seen or _main(state) or first


def _main(state: Reading) -> frozenset[int]:
    """What "the meat", "the joints", "the pieces" are where nothing was called so before."""
    return frozenset(at for at, line in enumerate(state.lines) if pattern("main_kind").search(line.kind)) - state.gone


def _remember(
    words: Sequence[str],
    plain: str,
    named: frozenset[int],
    hands: frozenset[int],
    adding: bool,
    finishing: bool,
    state: Reading,
) -> None:
    if not hands:
        return
    state.seen |= hands
    has_lifted, state.has_lifted = state.has_lifted, False
    if named and hands == named and _LIFTING.search(plain) and _all_flavor(named, state):
        # What is taken out leaves the pot what it was, less that.
        state.gone |= named
        state.pot, state.last, state.has_lifted = state.pot - named, state.pot - named, True
        return
    beside = begins(plain, "by_hand") and not adding and bool(state.pot)
    if finishing or beside:
        # What is strewn on, or chopped beside it, leaves the pot what it was.
        state.pot = state.pot | named if finishing and state.pot else state.pot
        state.last = hands if not finishing else state.last | named if state.last else state.last
    else:
        joins = adding or bool(hands - named)
        grows = joins and bool(hands & state.pot or not state.pot)
        state.before = frozenset() if grows else state.pot
        state.pot = ((state.pot | hands) if grows else hands) - state.gone
        state.last = (hands if not adding else state.pot) - state.gone
    state.is_aside = beside and not finishing
    if re.match(r"(?:reserve|set aside|keep|save)\b", plain):
        state.reserved |= hands
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
    if _DISCARDING.search(plain) or (_LIFTING.search(plain) and _all_flavor(named or hands, state)):
        out = _discarded(plain, state) or (
            hands
            if re.search(r"\b(?:it|them)\b", plain)
            and len(hands) < len(state.seen)
            and not (has_lifted or _parts(words))
            else frozenset()
        )
        state.gone |= out
        state.pot -= out
        state.last -= out


_DISCARDING = re.compile(
    r"\b(?:discard\w*|throw\w*|thrown|pour\w* (?:the )?(?:\w+ )?away|can go|(?:fish|pick)\w* (?:\w+ ){0,3}out)\b"
)
_LIFTING = re.compile(r"\b(?:remov\w*|(?:lift|take|took|taking|pick|fish)\w*\b(?: the \w+)?(?: \w+)? out)\b")


def _all_flavor(lines: frozenset[int], state: Reading) -> bool:
    """Whether all of these are left in a dish for their taste alone: leaves, pods, peel, a clove of garlic."""
    return bool(lines) and all(pattern("flavor_kind").search(state.lines[at].kind) for at in lines)


def _discarded(plain: str, state: Reading) -> frozenset[int]:
    """What a sentence throws away: what it names after the verb, or the product it names there. Of a part ("discard the whites") the line
    stays, unless it was there for its taste alone or is that part."""
    thrown = _THROWS.split(plain, maxsplit=1)[-1]
    after = thrown if thrown != plain and _SAYS_MORE.search(thrown) else _LIFTS.split(plain, maxsplit=1)[-1]
    found: frozenset[int] = frozenset()
    for item in _ITEMS.split(after):
        tail = words_in(item)
        how, _ = _named(tail, item, False, state)
        parts = _parts(tail)
        found |= frozenset(at for at in how if not parts or _goes_with(parts, state.lines[at]))
        for word in tail:
            if word in state.products and word not in words_of("main"):
                found |= state.products[word] - _main(state)
            elif word in ("marinade", "brine", "mixture", "paste", "rub"):
                found |= _product(word, state) - _main(state)
    return found - state.reserved if len(found) < len(state.lines) else frozenset()


_THROWS = re.compile(r"\b(?:discard(?:ing|ed)?|throw(?:n|ing)?)\b")
_LIFTS = re.compile(r"\b(?:discard(?:ing|ed)?|throw(?:n|ing)?|pour\w*|remov\w*|(?:fish|lift|take|pick)\w*)\b")
_SAYS_MORE = re.compile(r"\b(?!away\b|out\b|off\b|it\b|them\b)\w+")
_ITEMS = re.compile(r", | and | or ")


def _goes_with(parts: frozenset[str], line: Called) -> bool:
    """Whether a line is thrown away with parts of a name: pork bones with "the bones", a bay leaf with its stem."""
    _, text, *_ = (*line.kind.split("; "), "")
    return bool(pattern("flavor_kind").search(line.kind)) or not parts.isdisjoint(
        normalized(text.partition(",")[0]).split()[-1:]
    )


def _parts(words: Sequence[str]) -> frozenset[str]:
    """The parts of a food, thrown away alone, that words name."""
    return frozenset(words) & words_of("thrown_part").keys()
