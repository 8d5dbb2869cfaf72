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
    main_part,
    words_in,
)
from nutrition.reading.matching import matcher
from nutrition.reading.mentions import Called, core_of, groups, is_meant, tags_named
from nutrition.reading.worktop import Batch, Worktop, is_
from nutrition.tables import pattern, words_of

NAMED, GROUP, PRODUCT = "named", "group", "product"
ALL, PART, HALF, REST = "all", "part", "half", "rest"


@dataclass(slots=True)
class Reading:
    """What is known before a clause. `top`: what stands on the worktop; `last`: what the clause before took in hand, which "it" means;
    `is_aside`: that lies beside the pot; `is_out`: taken out of it; `seen`: lines any step has taken in hand; `parts`: word of a heading -> its lines; `part`: whose own
    step this is; `allowed`: the lines that may stand in it; `reserved`: lines kept for later; `has_lifted`: the clause before took something
    out of the pot, which "throw it away" then means; `later`: the clauses that come."""

    lines: Sequence[Called]
    top: Worktop = None  # type: ignore[assignment]
    last: frozenset[int] = frozenset()
    seen: frozenset[int] = frozenset()
    is_aside: bool = False
    is_out: bool = False
    parts: dict[str, frozenset[int]] = field(default_factory=dict)
    part: str = ""
    allowed: frozenset[int] = frozenset()
    reserved: frozenset[int] = frozenset()
    has_lifted: bool = False
    later: str = ""
    by_head: dict[str, list[int]] = field(default_factory=dict)
    vocabulary: frozenset[str] = frozenset()

    def __post_init__(self) -> None:
        self.top = Worktop(self.lines)
        self.vocabulary = frozenset().union(*(line.tokens | line.heads for line in self.lines))
        for at, line in enumerate(self.lines):
            for head in line.heads | {words_of("short_name")[each] for each in line.heads if each in words_of("short_name")}:
                self.by_head.setdefault(head, []).append(at)
        self.vocabulary |= self.by_head.keys()

    @property
    def pot(self) -> frozenset[int]:
        return self.top.pot

    @property
    def gone(self) -> frozenset[int]:
        return self.top.gone

    @property
    def products(self) -> dict[str, frozenset[int]]:
        return self.top.named()


@dataclass(frozen=True, slots=True)
class Taken:
    """What a sentence takes in hand: line -> how; which of them it puts in by name; whether it heats them; what runs off."""

    how: dict[int, str]
    shares: dict[int, str]
    heats: bool
    off: frozenset[int] = frozenset()


def _before(words: Sequence[str], at: int, count: int) -> list[str]:
    """The words before a place, nearest last."""
    return [word for word in words[max(at - 2 * count, 0) : at] if word != ","][-count:]


#: "A spoonful of cream goes on each plate".
_GOES_ON_TOP = re.compile(r"\bgoes? (?:on|over|with|beside)\b|^pass\b(?!.*\bthrough\b)")
#: "Slip in the carp", "put the bones back", "tuck the eggs between": in what is there.
_INTO_IT = re.compile(
    r"^(?:\w+ly )?\w+ (?:back )?in (?:the|a|all|half|most|some|your|\d)|^\w+ back\b|\b(?:in the middle|on top|all over|over the top|between|over|back|through|around|in)$"
)


def take_in_hand(plain: str, words: Sequence[str], state: Reading) -> Taken:
    """What a clause takes in hand; the worktop is as it leaves it."""
    said = main_part(plain)
    if _NOTHING.match(said) or (_WHEN.match(said) and len(words) < 9):
        return Taken({}, {}, False)
    words = words if said == plain else words_in(said)
    # "Whisk the flour with the stock, then the eggs": what has no verb of its own goes in as well.
    bare = bool(state.pot and re.match(r"(?:the|a|an|some|half|with|and)\b", said))
    adding = adds(said) or bare or bool(_INTO_IT.search(said.rstrip(" .")) and not heats(said))
    adding = adding and not ((_ON_PLATE.search(said) or _IN_A_VESSEL.search(said)) and not bare) and not said.startswith("meanwhile")
    adding = adding and not _INTO_WATER.search(said)
    finishing = bool(state.pot) and (begins(said, "finishing") or bool(_GOES_ON_TOP.search(said)))
    how, shares = _named(words, said, adding or finishing or begins(said, "by_hand"), state)
    if _WATER_ALONE.search(said):
        how = {line: way for line, way in how.items() if "water" not in state.lines[line].heads}
    for word in words:
        if waits := state.parts.get(word, frozenset()) - state.seen:
            how |= dict.fromkeys(waits - how.keys(), GROUP)
            state.top.past[word] = state.parts[word]
    how |= dict.fromkeys(_of_headings(words, state) - how.keys(), PRODUCT)
    if _COVERS.search(said) and re.search(r"\bwater\b", state.later):
        how = {n: way for n, way in how.items() if "water" not in state.lines[n].heads}
    if not _THE_WATER.search(said):
        how = {n: way for n, way in how.items() if "water" not in state.lines[n].heads or _is_water(n, said, state)}
    if _DISCARDING.search(said):
        how = {line: way for line, way in how.items() if line in state.seen or not state.seen}
    how = {line: way for line, way in how.items() if line in state.allowed}
    named = frozenset(how)
    heated = heats(plain)
    if len(named) == 1 and words and words[0] in state.lines[min(named)].heads and state.pot:
        adding = True  # "Pepper generously".
    joined = _joined(words, said, named, adding, finishing, heated, state)
    through = frozenset().union(*(each.lines for each in joined)) & state.allowed - state.gone
    for line in through - named:
        how[line] = PRODUCT
    hands = named | through
    off = _remember(words, said, named, hands, joined, adding, finishing, state)
    return Taken({line: how[line] for line in sorted(hands)}, shares, heated, off)


_COVERS = re.compile(r"\bcover(?:ed)? (?:\w+ )?with (?:\w+ )?water\b|\bin water\b")
_THE_WATER = re.compile(r"\b(?:the|measured|remaining) (?:\w+ )?water\b")


def _is_water(line: int, said: str, state: Reading) -> bool:
    """Whether a clause that says "water" means a line: plain water, or what is called so with all its words."""
    own = state.lines[line].own
    return own <= {"water"} or own <= set(words_in(said))


_IN_A_VESSEL = re.compile(
    r"^(?:put|place|combine|pour|tip|set|lay|arrange|pack)\b(?!.*\b(?:over|on top|back)\b).*\b(?:in|into|on) an? (?:\w+ ){0,3}(?:pot|pan|saucepan|skillet|casserole|wok|cooker|bowl|dish|tin|tray|jug|jar)\b"
)
_INTO_WATER = re.compile(r"\b(?:in|into)\b(?: (?!the)\w+)* water\b")
#: Nothing is done with the dish.
_WHEN = re.compile(r"(?:when|once|as soon as)\b[^,]*$")
_NOTHING = re.compile(r"(?:taste|check|adjust|correct|preheat)\b")
#: A plate is laid: what was in hand waits.
_ON_PLATE = re.compile(r"^(?:lay|spread|put|set|place|arrange|pile) (?!it|them)[^,]*\b(?:on|in|over|among|between) (?:a |an |the |each |\w+ )?(?:\w+ )?(?:plates?|platter|dish|dishes|bowls?|tureen|glass(?:es)?|cups?|board)\b")
#: Water that comes from the tap, whatever the list holds.
_WATER_ALONE = re.compile(
    r"\b(?:soak|rinse|purge|wash)\w*\b(?!.*\bthe water)|\bplenty of\b|\b(?:cold|salted|salt|fresh|iced|ice|boiling|simmering) water\b|\bwater (?:away|off|out)\b|\b(?:discard|throw|change|changing) (?:out |away )?(?:the|its|their) (?:soaking )?water"
)


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
    thrown = words_of("thrown_part").keys() if _PARTS_OFF.search(plain) else frozenset()
    while at < len(words):
        if words[at] in _WORKS and (at == 0 or words[at - 1] in ("and", ",")):
            at += 1
            continue
        if words[at] in thrown and words[at - 1] in ("the", "any", "and", "out", "off", "their", "its", ","):
            at += 1
            continue
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
        for line in _everything(plain, state) - but - state.gone:
            how.setdefault(line, GROUP)
        for line in but:
            how.pop(line)
    return how, shares


#: Verbs that are nouns elsewhere.
_WORKS = frozenset(("seed", "core", "stone", "pit", "shell", "bone", "skin", "head", "gut", "string", "top", "joint", "fillet", "peel"))
#: "Pull out the seeds", "rub off the skins": parts of what is in hand, no lines.
_PARTS_OFF = re.compile(
    r"^(?:pull|rub|slip|scrape|scoop|pick|remove|discard|throw|cut|trim|strip)\b|^(?:lift|skim|pour|spoon|drain)\b.*\b(?:off|out|away)\b"
)
_EVERYTHING = re.compile(
    r"\b(?:everything|all (?:of )?(?:the |these )?(?:other |remaining )?ingredients?|the (?:other|remaining) ingredients|all the rest)\b"
)
_COMBINING = re.compile(r"\b(?:combin|mix|toss|put|lay|plac|stir|knead|work|mince|grind|pound|whisk|blend|blitz|beat|add|assembl|heat|simmer|boil|bring|pil|arrang|tip|whiz|process|pulse)\w*")


def _everything(plain: str, state: Reading) -> frozenset[int]:
    """What "everything" is: of the pot, of all that was taken in hand, or of all lines."""
    waits = frozenset(range(len(state.lines))) - state.seen
    if re.search(r"\beverything else\b", plain):
        return waits | frozenset().union(*(each.lines for each in state.top.batches))
    if re.search(r"\b(?:other|remaining|rest)\b", plain):
        return waits
    if state.pot and not _COMBINING.search(plain):
        return state.pot
    is_late = 3 * len(state.seen) >= 2 * len(state.lines) or bool(re.search(r"\bfrom the\b", plain))
    return state.seen if is_late else state.seen | waits




_DRY = re.compile(r"\bdry ingredients\b")
_EGG = re.compile(r"\b(?:yolks?|egg whites?|whites)\b|\bthe white(?:[.,;]|$| and)")
_SALTED = re.compile(r"\bsalted (?:boiling )?water\b")
_SEASONS = re.compile(r"\bseason(?:ing)?\b(?! (?:\w+ ){0,3}with\b)")
_FRIES = re.compile(r"\b(?:deep-)?fr(?:y|ied|ying)\b")
_TO_FRY_IN = re.compile(r"\bfor (?:deep-|shallow-)?frying|for the pan|to fry", re.I)


def _by_cue(plain: str, named: frozenset[int], state: Reading) -> Iterator[int]:
    """Lines that words of a clause mean without naming them."""
    if _DRY.search(plain):
        yield from (at for at, line in enumerate(state.lines) if pattern("dry_goods").search(line.kind))
    if _EGG.search(plain):
        yield from (at for at, line in enumerate(state.lines) if "egg" in line.tokens)
    if _SALTED.search(plain):
        salts = (at for at, line in enumerate(state.lines) if line.heads == {"salt"} and at not in state.seen)
        yield from () if re.search(r"\bsalt\b", state.later) else salts
    if _SEASONS.search(plain):
        yield from (
            at for at, line in enumerate(state.lines) if line.heads & {"salt", "pepper"} and at not in state.seen and "to taste" in line.kind
            or line.own and line.own <= {"salt", "pepper", "black"} and at not in state.seen and line.heads & {"salt"}
        )
    if _FRIES.search(plain) and not any(is_(state.lines[at], 'fat') for at in named):
        yield from (at for at, line in enumerate(state.lines) if _TO_FRY_IN.search(line.kind))


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
            if size > 1 or phrase[0] not in groups() or not definite:
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
        if exact and size == 1 and at and _is_other_food(words[at - 1], phrase[0], exact, state):
            return 1, (), ""
        if exact and (size > 1 or not _goes_on(phrase[-1], words[at + 1] if at + 1 < len(words) else "", state)):
            return (
                size,
                exact
                if len(exact) == 1 or are_several
                else _told_apart(before, exact, state) or _likelier(_the_one(core, exact, state), adding, state),
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
                if (definite or len(phrase[0]) > 12 or tags_named(phrase[0]) <= line.tags)
                and (group.tags & line.tags or (group.foods and group.foods.search(line.kind)))
                and not (group.is_itself and pattern("drawn_kind").search(line.kind))
            )
            # "The pasta" of a list with trofie, which no table knows: the one line of which nobody knows what it is.
            unknown = tuple(n for n, line in enumerate(state.lines) if line.row < 0)
            if of_group and words_of("made").get(phrase[0], "") == "wet" and state.seen.issuperset(of_group):
                continue
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


def _told_apart(before: Sequence[str], lines: tuple[int, ...], state: Reading) -> tuple[int, ...]:
    """The one of several lines that the words before a noun tell from the others: "the cold butter", "the 20 g butter"."""
    for size in (2, 1):
        said = " ".join(before[-size:])
        fits = tuple(at for at in lines if re.search(rf"\b{re.escape(said)}\b", _words_of_line(state.lines[at].kind)))
        if len(fits) == 1 and said not in ("the", "of the", "with the", "in the"):
            return fits
    return ()


@functools.lru_cache(maxsize=20_000)
def _words_of_line(kind: str) -> str:
    return normalized((*kind.split("; "), "")[1])


def _is_other_food(before: str, word: str, lines: Sequence[int], state: Reading) -> bool:
    """Whether a noun ends the name of a food that no line is: "icing sugar" over a list with sugar."""
    return (
        before not in words_of("harmless")
        and before not in words_of("state")
        and not any(before in state.lines[at].tokens for at in lines)
        and matcher().is_name((before, word))
        and any(word in state.lines[at].own and before not in state.lines[at].own for at in lines)
    )


def _is_called(core: Sequence[str], tags: frozenset[str], line: Called) -> bool:
    short = {words_of("short_name").get(head, head) for head in line.heads}
    return tags <= line.tags and all(word in line.tokens | short or word in words_of("harmless") for word in core)


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


def _joined(
    words: Sequence[str], plain: str, named: frozenset[int], adding: bool, finishing: bool, heated: bool, state: Reading
) -> list[Batch]:
    """The batches a clause takes in hand: by what they are called, by "it", with a line that stands in one, or because it has no object."""
    top = state.top
    found = [] if finishing else top.of(named)
    if not finishing:
        found += [batch for at in sorted(_targets(words, named, state)) if (batch := top.with_line(at)) and batch not in found]
    it = _meant_by_it(plain, words, named, state)
    if _FILLS.match(plain) and not named and (filling := top.called("filling", _pot(state))):
        found += [filling, *_pot(state)]
    own = {head for at in named for head in state.lines[at].heads}
    own |= {words_of("short_name")[head] for head in own if head in words_of("short_name")}
    is_named = is_target = is_object = False
    for at, word in enumerate(words):
        if at == 0 or word not in words_of("made") or word in own or words[at + 1 : at + 2] in _NO_PRODUCT:
            continue
        if finishing and words[at - 1] != "the":
            continue
        after = words[at + 1] if at + 1 < len(words) else ""
        if any(word in state.lines[n].tokens and after in state.lines[n].heads for n in named):
            continue  # "The fish sauce".
        part_of = [n for n in named if words[at - 1] in state.lines[n].tokens]
        if part_of and any(word in state.lines[n].tokens for n in part_of):
            continue  # "The curry powder".
        if part_of and (batch := top.with_line(part_of[0])):
            found += [batch] if batch not in found else []
            continue  # "The black bean paste".
        if not is_made_here(word, plain):
            objects = (n for n in named if state.lines[n].heads & set(words[:at]) and not is_(state.lines[n], 'fat'))
            # "Mash half of the potatoes into the broth" they stand in.
            apart = _last(state) if it else [each for n in objects if (each := top.with_line(n)) and not each.is_wet]
            if adding and not it and words_of("made")[word] != "pot" and not any(word in each.called for each in top.batches) and not _TARGET.intersection(words[max(at - 3, 0) : at]):
                apart = [*apart, *_pot(state)]  # "Pour in the mixture": not what it is poured into.
            if not adding and not it and has_no_object(plain) and {"with", "into"} & set(words[max(at - 3, 0) : at]):
                apart = [*apart, *_pot(state)]  # "Dress with the sauce": the pot is dressed.
            batch = _product(word, words, at, finishing, apart, state)
            if batch:
                found += [batch] if batch not in found else []
                is_named = True
                to = bool(_TARGET.intersection(words[max(at - 3, 0) : at])) or (
                    "in" in words[max(at - 3, 2) : at] and adding
                )
                is_target, is_object = is_target or to, is_object or not to
    if finishing:
        # "Serve it with rice" takes it in hand; "serve with rice" takes what it names.
        is_whole = re.match(r"\w+ (?:it|them)\b", plain) or (not named and not found and _LADLED.match(plain))
        return found + (_last(state) if is_whole else [])
    if not state.seen and not named and not found and not finishing:
        if has_no_object(plain) and not _OF_A_PART.search(plain):
            return [Batch(state.allowed)]  # "Simmer for an hour": nothing was named, so it is of everything.
        if begins(plain, "by_hand") or _OF_A_PART.search(plain):
            return [Batch(frozenset(sorted(state.allowed)[:1]))]  # "Snap off the woody ends": a dish begins with its first line.
    goes_to = is_target or _has_target(words, named, state)
    if it or _THE_REST.search(plain):
        if re.search(r"\bboth\b(?! \w+ide)", plain):
            found += top.batches[-2:]
        found += _last(state)
        if not goes_to and not adding and _INTO_UNKNOWN.search(plain) and not named:
            found += top.batches[-2:-1]
        if adding and not goes_to and it:
            # "Blend the tuna and fold it in": in what stood there before.
            found += _pot(state) if state.last != state.pot or named else top.batches[-2:]
        return _each(found)
    if named and not adding and _RUBS.match(plain) and _INTO_UNKNOWN.search(plain) and not _targets(words, named, state) and not is_named:
        return _each([*found, *_at_work(plain, state)])
    if _BACK.search(plain) and not goes_to:
        return _each([*found, *_pot(state), *_came_from(named or state.last, state)])
    is_fat = bool(named) and all(is_(state.lines[at], 'fat') for at in named)
    if adding:
        if re.match(r"add(?: (?:it|them))?(?: to the (?:bowls?|pan|pot|plates?))?[ .]*$", plain):
            return top.batches[-2:]
        has_object = bool(named - _targets(words, named, state)) or is_object
        found += _at_work(plain, state) if not has_object else [] if goes_to else _pot(state)
    elif has_no_object(plain) and (not is_named or bool(_TO_TARGET.search(plain))):
        found += _at_work(plain, state)
    elif named and (heated or plain.startswith("dissolve")) and top.is_medium() and " in " not in plain and not (is_fat and _MELTS.match(plain)):
        found += _pot(state)  # "Heat the oil; brown the meat."
    elif named and re.match(r"dress\b(?!.*\bwith\b)", plain):
        found += _pot(state)
    elif (is_fat and not is_named and heated and not state.lines[min(named)].heads & set(words[:5])) or (
        not named and not found and (has(plain, "going_on") or not pattern("no_food_object").search(plain))
    ):
        found += _at_work(plain, state)
    return _each(found)


_RUBS = re.compile(r"(?:rub|push|press|sprinkle|smear|pour|spoon|tuck|slip|stuff)\b")
_INTO_UNKNOWN = re.compile(r"\b(?:into|onto|over|between|under|inside) (?:the|each|every) (?!pan|pot|dish|oven|tin|bowl|board|plate|middle|fridge|water|heat|skillet|wok|glass|jar)\w+")
_MELTS = re.compile(r"(?:heat|melt|warm|brown|foam|clarify)\b")
_LADLED = re.compile(r"(?:spoon|ladle|pour|pile|heap) (?:over|on|onto|into)\b")
_OF_A_PART = re.compile(r"\b(?:off|out|from) the\b|^peel\b|^\w+ the (?:leaves|ends|tops|stalks|kernels|stems)\b")
_FILLS = re.compile(r"(?:fill|stuff)\b(?! (?:the|a|in)\b)")
_THE_REST = re.compile(r"\bthe (?:rest|remainder|others)\b(?! of)")
_BACK = re.compile(r"\b(?:back|return(?:ed)?)\b(?! to the (?:boil|simmer|heat|oven))")
#: "Spread over the slices": what is in hand.
_TO_TARGET = re.compile(r"^(?:\w+ly )?\w+ (?:into|over|onto|on|to|through|in) (?:the|each|every)\b")


def _came_from(lines: frozenset[int], state: Reading) -> list[Batch]:
    """Where something stood before it was taken out: the last batch beside the pot that holds any of it."""
    return [each for each in state.top.batches[:-1] if each.lines & lines][-1:] or state.top.batches[-2:-1]


def _each(batches: Sequence[Batch]) -> list[Batch]:
    return [each for at, each in enumerate(batches) if each not in batches[:at]]


def _pot(state: Reading) -> list[Batch]:
    return state.top.batches[-1:]


def _at_work(plain: str, state: Reading) -> list[Batch]:
    """What a verb without an object works on."""
    goes_on = _OF_THE_POT.match(plain)
    return _last(state) if state.is_aside and not (goes_on and state.is_out) else _pot(state)


_OF_THE_POT = re.compile(r"(?:skim|cover|simmer|boil|reduce|bring|strain|bubble|thicken)\b")


def _last(state: Reading) -> list[Batch]:
    """What "it" means: what the clause before took in hand."""
    if not state.last or state.last == state.pot:
        return _pot(state)
    return [next((each for each in state.top.batches if each.lines == state.last), Batch(state.last))]


#: "A cup of", "a soup kettle".
_NO_PRODUCT = {(word,) for word in ("of", "kettle", "pot", "pan", "plate", "bowl", "spoon", "cutter", "ring", "paper", "tin")}
_ITS_OWN = re.compile(r"\w+ing (?:it|them|these)\b")


def _meant_by_it(plain: str, words: Sequence[str], named: frozenset[int], state: Reading) -> bool:
    """Whether a clause means what went before by "it": not in "grind the nuts with the garlic, loosening it"."""
    said = _ITS_OWN.sub(" ", plain) if named else plain
    found = _IT.search(said)
    if not found or not named or found["prep"]:
        return bool(found)
    before = words_in(said[: found.start()])[1:]
    return not any(at in named for at in _named(before, "", False, state)[0])


_IT = re.compile(r"(?P<prep>\b(?:in|with|over|on|to|into|onto|from|of|beside|around|under|among|between) )?\b(?:it|them|these|both|this|one side|the other side|the (?:tops?|edges?|surface|rims?|outside|sides|ends)|\w*(?:spoon|ladle)fuls?(?! of))\b")
_TARGET = frozenset(("into", "to", "over", "on", "onto", "around", "under", "among", "between", "beside"))


def _targets(words: Sequence[str], named: frozenset[int], state: Reading) -> frozenset[int]:
    """Named lines that something is put to: "over the meat"."""
    found: set[int] = set()
    for at, word in enumerate(words):
        if word in _TARGET or (word == "in" and {"it", "them"} & set(words[:at])):
            after = set(words[at + 1 : at + 5])
            found |= {
                line
                for line in named
                if state.lines[line].heads & after and line in state.seen and not (word == "in" and is_(state.lines[line], "fat"))
            }
    return frozenset(found)


def _has_target(words: Sequence[str], named: frozenset[int], state: Reading) -> bool:
    """Whether what is put somewhere is put to something that stands apart from the pot."""
    targets = _targets(words, named, state)
    return bool(targets) and not targets & state.pot


_POURED = frozenset(("sauce", "dressing", "glaze", "custard", "vinaigrette", "cream", "mayonnaise"))


def _product(
    word: str, words: Sequence[str], at: int, finishing: bool, apart: Sequence[Batch], state: Reading
) -> Batch | None:
    """What a word calls; where nothing was called so yet, what is being worked on, else what a dish begins with."""
    top, kind = state.top, words_of("made")[word]
    if kind == "pot":
        if not top.batches or words[at - 1] not in ("the", "same") or finishing:
            return None
        return next((each for each in reversed(top.batches) if each not in apart), top.batches[-1])
    if word in top.named():
        batch = next((each for each in reversed(top.batches) if word in each.called), None)
        return batch or Batch(top.past[word] - state.gone)
    if finishing:
        return None
    before = set(words[max(at - 2, 0) : at])
    if kind == "shaped" and before & {"on", "onto", "in", "into", "to", "with"} and not before & {"the", "each", "every"}:
        return None  # "On skewers", "into rounds".
    if kind in ("meat", "piece"):
        if not top.main() and not state.seen:
            return Batch(frozenset((0,)))
        if not state.pot or not top.main() & state.pot:
            return Batch(top.main()) if top.main() else (top.batches[-1] if top.batches and kind == "piece" else None)
        return top.batches[-1]
    if like := top.called(word, apart):
        return like
    beside = kind in ("piece", "shaped") or (kind == "mass" and word not in _POURED) or words[0] == "squeeze"
    if state.is_aside and beside and (work := [each for each in _last(state) if each not in apart]):
        return work[0]
    if rest := [each for each in top.batches if each not in apart]:
        return next((each for each in reversed(rest) if top.body(each.lines)), rest[-1])
    first = frozenset(range(len(state.lines))[:1])
    return Batch(top.main() or first)


def _remember(
    words: Sequence[str],
    plain: str,
    named: frozenset[int],
    hands: frozenset[int],
    joined: Sequence[Batch],
    adding: bool,
    finishing: bool,
    state: Reading,
) -> frozenset[int]:
    """The worktop as a clause leaves it; which lines ran off."""
    top, off = state.top, frozenset[int]()
    if not hands:
        return off
    state.seen |= hands
    has_lifted, state.has_lifted = state.has_lifted, bool(_parts(words) and _OFF_IT.search(plain))
    flavor = frozenset(at for at in named if _all_flavor(frozenset((at,)), state))
    if flavor and flavor < named and _LIFTING.search(plain) and _parts(words):
        named = hands = flavor  # "The bay leaf and the bones".
    if not named and _LIFTING.search(plain):
        flavor = frozenset(at for at in hands if _all_flavor(frozenset((at,)), state) and not is_(state.lines[at], "fat"))
        if flavor and all(is_(state.lines[at], "fat") for at in hands - flavor):
            named = hands = flavor  # "Brown the garlic in the oil and remove it".
    if named and hands == named and _LIFTING.search(plain) and _all_flavor(named, state):
        # What is taken out leaves the pot what it was, less that.
        top.take_away(named)
        state.last, state.has_lifted = state.pot, True
        return off
    elsewhere = [each for each in joined if each in top.batches[:-1]]
    if named and hands == named and _DISCARDING.search(plain) and named < state.pot and (out := _discarded(plain, state)):
        top.take_away(out)
        state.last = state.pot
        return off
    if named and (_WIPES.match(plain) or _POURS_OFF.match(plain)) and named < state.pot and not named & top.main():
        top.take_away(named)
        state.last = state.pot
        return named if _POURS_OFF.match(plain) else off
    if _DRAINS.match(plain) and not finishing:
        off = _drain(plain, named, state)
        hands -= off
    if _TAKES_OUT.search(plain) and not _OFF_THE_HEAT.search(plain) and not finishing and not adding and _take_out(named, hands, state):
        return off
    if _KEEPS.match(plain) and hands <= state.seen and top.batches:
        state.reserved |= frozenset(at for at in hands if not _all_flavor(frozenset((at,)), state))
        _name(words, plain, named, hands, finishing, state)
        return off
    beside = begins(plain, "by_hand") and not adding and len(state.pot) > 1 and not (elsewhere and not named)
    # "Mince with the leek", "crush them with the garlic": the pot grows.
    beside = beside and not (named and any(each in top.batches[-1:] for each in joined))
    if finishing or beside:
        # What is strewn on, or chopped beside it, leaves the pot what it was.
        if finishing and top.batches:
            top.batches[-1].lines |= named - state.gone
        elif hands == state.pot and _SHAPING.search(plain):
            top.batches[-1].is_shaped = True
        elif not hands <= state.pot:
            top.put(named, elsewhere, aside=True)
        state.last = hands if not finishing else state.last | named if state.last else state.last
    elif not (_DISCARDING.match(plain) and hands <= state.seen and top.batches):
        there = [each for each in joined if each in top.batches]
        batch = top.put(hands, there)
        state.last = batch.lines
        if _SHAPING.search(plain):
            batch.is_shaped = True
        if _WET.search(plain):
            batch.is_wet = True
        if _BATHES.search(plain):
            batch.is_bath = True
    state.is_aside, state.is_out = beside and not finishing, False
    if re.match(r"(?:reserve|set aside|keep|save)\b", plain):
        state.reserved |= frozenset(at for at in hands if not _all_flavor(frozenset((at,)), state))
    if re.search(r"\b(?:marinat|brine|steep|lay it in|leave it in)", plain):
        liquid = hands - top.main()
        for word in ("marinade", "brine"):
            top.past.setdefault(word, liquid)
    _name(words, plain, named, hands, finishing, state)
    if _DISCARDING.search(plain) or (_LIFTING.search(plain) and _all_flavor(named or hands, state)):
        out = _discarded(plain, state) or (
            hands
            if re.search(r"\b(?:it|them)\b", plain)
            and len(hands) < len(state.seen)
            and not (has_lifted or _parts(words))
            else frozenset()
        )
        out -= state.reserved
        top.take_away(out)
        state.last -= out
    return off


_OFF_THE_HEAT = re.compile(r"\b(?:off|from) the (?:heat|oven|fire|stove|hob|grill|flame|fridge)\b")
_TAKES_OUT = re.compile(
    r"\b(?:lift|take|scoop|fish|remove)\w*\b(?:(?! off\b| up\b)[^,;])*(?:\bout\b|\bfrom the\b(?! (?:heat|oven|fire|stove|hob|grill|flame|fridge))|\bto a\b|\bwith a\b|$)|^remove\b|\bset (?:it |them |the \w+ )?aside\b"
)


def _take_out(named: frozenset[int], hands: frozenset[int], state: Reading) -> bool:
    """What is taken out of the pot lies beside it, and the pot is what is left; whether anything is."""
    top = state.top
    if not top.batches:
        return False
    pot = top.batches[-1]
    if not hands <= pot.lines:
        return False
    piece = (named & pot.lines) or top.body(pot.lines)
    rest = pot.lines - piece
    if not piece or not rest:
        return False
    called, pot.called = pot.called, frozenset()
    taken = Batch(piece, frozenset(each for each in called if words_of("made")[each] in ("shaped", "piece")), pot.is_shaped)
    pot.lines, pot.called, pot.is_shaped = rest, called - taken.called, False
    top.batches.insert(len(top.batches) - 1, taken)
    state.last, state.is_aside, state.is_out = piece, True, True
    return True


_KEEPS = re.compile(r"(?:reserve|keep|save)\b(?! (?:warm|hot|cold|cool|it|them))")
_POURS_OFF = re.compile(r"(?:pour|tip|drain|ladle)\b(?!.*\b(?:fat|all but|most|some|half|excess)\b).*\b(?:off|away)\b")
_WIPES = re.compile(r"(?:rinse|brush|wipe|scrape|shake|wash)\b (?=.*\boff\b)(?!.*\b(?:excess|some|any)\b)")
_DRAINS = re.compile(r"(?:\w+ly )?(?:drain|squeeze|rinse|wring)\b")


def _drain(plain: str, named: frozenset[int], state: Reading) -> frozenset[int]:
    """What something lay or boiled in runs off and stands apart; which lines do."""
    top = state.top
    batch = next((each for each in reversed(top.batches) if not named or each.lines & named), None)
    if not batch:
        return frozenset()
    body = top.body(batch.lines)
    of_water = {"water", "salt"} if plain.startswith("rinse") or batch.is_wet else {"water"}
    runs_off = frozenset(at for at in batch.lines if state.lines[at].heads & of_water)
    bathes = frozenset(at for at in batch.lines - body if any(is_(state.lines[at], what) for what in ("liquid", "bath")))
    off = bathes if batch.is_bath else runs_off - body
    if off and body:
        batch.lines -= off
        batch.is_bath = batch.is_wet = False
        top.batches.insert(0, Batch(off, frozenset(("liquid", "marinade", "brine")), is_wet=True))
        return off
    return frozenset()


_BATHES = re.compile(r"\b(?:soak|steep)\w*|\b(?:leave|lay)\b.*\bin the\b|\bplenty of water\b|\bsubmerge")
_SHAPING = re.compile(r"\b(?:shap\w+|form\w*|roll\w*|stamp\w*|pinch\w*\b(?! of)|pleat\w*|seal\w*|pat\b.*\binto|stuff\w*|thread\w*|wrap\w*|fill\w*|(?:cut|divide)\b.*\b(?:rounds|circles|squares|portions|balls|in \d+|in (?:two|four|six|eight|ten|twelve)))\b")
_WET = re.compile(r"\b(?:water|simmer\w*|boil\w*|poach\w*|brais\w*|stew\w*)\b")


def _name(
    words: Sequence[str], plain: str, lines: frozenset[int], hands: frozenset[int], finishing: bool, state: Reading
) -> None:
    """What a clause calls what it has in hand goes by that name from then on."""
    top = state.top
    named = top.named()
    for at, word in enumerate(words):
        kind = words_of("made").get(word, "pot")
        if kind in ("pot", "meat") or finishing or not top.batches or words[at + 1 : at + 2] in _NO_PRODUCT:
            continue
        if any(word in state.lines[n].heads for n in lines):
            continue
        if word not in named or is_made_here(word, plain):
            for each in top.batches:
                each.called -= {word}
            top.past.pop(word, None)
            batch = next((each for each in reversed(top.batches) if each.lines == hands), top.batches[-1])
            batch.called |= {word}


#: "Pull the skin off": a part, which "throw it out" then means.
_OFF_IT = re.compile(r"\b(?:off|from|out of)\b")
_DISCARDING = re.compile(
    r"\b(?:discard\w*|throw\w*\b(?! (?:in|into|on|over)\b)|thrown|bin|pour\w* (?:the )?(?:\w+ )?away|can go|(?:not|no longer) (?:used|needed)|(?:fish|pick)\w* (?!them|it\b)(?:\w+ ){0,5}out)\b"
)
_LIFTING = re.compile(r"\b(?:remov\w*|(?:lift|take|took|taking|pick|pull|fish)\w*\b(?: the \w+)?(?: \w+)? out)\b")


def _all_flavor(lines: frozenset[int], state: Reading) -> bool:
    """Whether all of these are left in a dish for their taste alone: leaves, pods, peel, a clove of garlic."""
    return bool(lines) and all(pattern("flavor_kind").search(state.lines[at].kind) for at in lines)


#: Thrown away with all that is in them, but what lay in them.
_WHOLE = frozenset(("marinade", "brine", "paste", "rub", "mixture"))


def _discarded(plain: str, state: Reading) -> frozenset[int]:
    """What a sentence throws away: what it names after the verb, or the product it names there. Of a part ("discard the whites") the line
    stays, unless it was there for its taste alone or is that part."""
    plain = _OUT_OF.sub(" out", plain)
    thrown = _THROWS.split(plain, maxsplit=1)[-1]
    after = thrown if thrown != plain and _SAYS_MORE.search(thrown) else _LIFTS.split(plain, maxsplit=1)[-1]
    found: frozenset[int] = frozenset()
    for item in _ITEMS.split(after):
        tail = words_in(item)
        how = {at: way for at, way in _named(tail, item, False, state)[0].items() if at in state.seen}
        parts = _parts(tail)
        found |= frozenset(at for at in how if not parts or _goes_with(parts, state.lines[at]))
        for word in tail:
            if word in state.products and word not in words_of("main"):
                inside = state.products[word]
                is_wet = words_of("made").get(word) == "wet" and word not in _WHOLE
                found |= inside - state.top.main() - (state.top.body(inside) if is_wet else frozenset())
            elif word in ("marinade", "brine", "mixture", "paste", "rub"):
                batch = state.top.called(word) or Batch(state.pot)
                found |= batch.lines - state.top.main() - (state.top.body(batch.lines) if word not in _WHOLE else frozenset())
    return found - state.reserved if len(found) < len(state.lines) else frozenset()


_OUT_OF = re.compile(r" out of (?:the|its|their) .*")
_THROWS = re.compile(r"\b(?:discard(?:ing|ed)?|throw(?:n|ing)?)\b")
_LIFTS = re.compile(r"\b(?:discard(?:ing|ed)?|throw(?:n|ing)?|pour\w*|remov\w*|(?:fish|lift|take|pick)\w*)\b")
_SAYS_MORE = re.compile(r"\b(?!away\b|out\b|off\b|it\b|them\b)\w+")
_ITEMS = re.compile(r", | and | or ")


def _goes_with(parts: frozenset[str], line: Called) -> bool:
    """Whether a line is thrown away with parts of a name: pork bones with "the bones", a bay leaf with its stem."""
    _, text, *_ = (*line.kind.split("; "), "")
    name = _ON_THE.split(text.partition(",")[0])[0]
    return bool(pattern("flavor_kind").search(line.kind)) or not parts.isdisjoint(normalized(name).split()[-1:])


_ON_THE = re.compile(r" (?:on|in|with) ")


def _parts(words: Sequence[str]) -> frozenset[str]:
    """The parts of a food, thrown away alone, that words name."""
    return frozenset(words) & words_of("thrown_part").keys()
