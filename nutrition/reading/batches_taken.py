"""Which batches on the worktop a clause takes in hand: what it calls by a name, means by "it", puts something to, or works on without a word."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from nutrition.reading.clauses import begins, cue, has, has_no_object, is_made_here, words_in
from nutrition.reading.lines_named import lines_named
from nutrition.reading.state import Reading, Said, short_names
from nutrition.reading.worktop import Batch, is_
from nutrition.tables import words_of

_TARGET = frozenset(("into", "to", "over", "on", "onto", "around", "under", "among", "between", "beside"))
#: "A cup of", "a soup kettle".
_NO_PRODUCT = frozenset(("of", "kettle", "pot", "pan", "plate", "bowl", "spoon", "cutter", "ring", "paper", "tin"))


@dataclass(slots=True)
class _Called:
    """Batches that words call; whether something is put to one of them, and whether one of them is what is put."""

    batches: list[Batch] = field(default_factory=list)
    is_target: bool = False
    is_object: bool = False

    def __bool__(self) -> bool:
        return self.is_target or self.is_object


def batches_taken(said: Said, state: Reading) -> list[Batch]:
    """Every batch a clause takes in hand, each once."""
    it = _means_it(said, state)
    called = _called(said, it, state)
    found = called.batches if said.finishes else [*state.top.of(said.named), *_put_to(said, state), *called.batches]
    if said.finishes:
        # "Serve it with rice" takes it in hand; "serve with rice" takes what it names.
        is_whole = re.match(r"\w+ (?:it|them)\b", said.plain) or not (
            said.named or found or not cue("ladled", said.plain)
        )
        return _once(found + (_last(state) if is_whole else []))
    if not (state.seen or said.named or found) and (start := _start(said, it, state)):
        return [start]
    return _once(found + _without_a_name(said, it, called, bool(found), state))


def _start(said: Said, it: bool, state: Reading) -> Batch | None:
    """What a dish begins with where nothing was named: "simmer it for an hour" takes everything, "snap off the ends" the first line."""
    if cue("of_a_part", said.plain) or (begins(said.plain, "by_hand") and not has_no_object(said.plain)):
        return Batch(frozenset(sorted(state.allowed)[:1]))
    return Batch(state.allowed) if it or has_no_object(said.plain) else None


def _without_a_name(said: Said, it: bool, called: _Called, is_found: bool, state: Reading) -> list[Batch]:
    """The batches a clause takes in hand and does not call."""
    goes_to = called.is_target or _has_target(said, state)
    if it or cue("the_rest", said.plain):
        return _by_it(said, it, goes_to, state)
    if said.named and not (said.adds or called or _targets(said, state)) and _rubs_into(said.plain):
        return _at_work(said, state)
    if cue("back", said.plain) and not goes_to:
        return [*_pot(state), *_came_from(said.named or state.last, state)]
    if said.adds:
        return _added_to(said, called, goes_to, state)
    return _at_work(said, state) if _goes_on(said, called, is_found, state) else []


def _rubs_into(plain: str) -> bool:
    """Whether a clause rubs or pushes what it names into something that no word of ours is: "under every flap"."""
    return cue("rubs", plain) and cue("into_unknown", plain)


def _by_it(said: Said, it: bool, goes_to: bool, state: Reading) -> list[Batch]:
    top = state.top
    found = top.batches[-2:] if cue("both", said.plain) else []
    found += _last(state)
    if not (goes_to or said.adds or said.named) and cue("into_unknown", said.plain):
        found += top.batches[-2:-1]
    if said.adds and not goes_to and it:
        # "Blend the tuna and fold it in": in what stood there before.
        found += _pot(state) if state.last != state.pot or said.named else top.batches[-2:]
    return found


def _added_to(said: Said, called: _Called, goes_to: bool, state: Reading) -> list[Batch]:
    """What something is put in, where the clause does not say."""
    if cue("adds_it", said.plain):
        return state.top.batches[-2:]
    if not (said.named - _targets(said, state) or called.is_object):
        return _at_work(said, state)
    return [] if goes_to else _pot(state)


def _goes_on(said: Said, called: _Called, is_found: bool, state: Reading) -> bool:
    """Whether a clause that neither adds nor says "it" works on what is in hand."""
    is_fat = bool(said.named) and all(is_(state.lines[at], "fat") for at in said.named)
    if has_no_object(said.plain) and (not called or cue("to_target", said.plain)):
        return True
    melts = is_fat and cue("melts", said.plain)
    hot = said.heats or said.plain.startswith("dissolve")
    if said.named and hot and state.top.is_medium() and " in " not in said.plain and not melts:
        return True  # "Heat the oil; brown the meat."
    if said.named and cue("dresses", said.plain):
        return True
    if is_fat and not called and said.heats and not state.lines[min(said.named)].heads & set(said.words[:5]):
        return True
    return not (said.named or is_found) and (has(said.plain, "going_on") or not cue("no_food_object", said.plain))


def _called(said: Said, it: bool, state: Reading) -> _Called:
    """The batches that words of a clause call: "the dough", "the sauce", and "fill" where a filling waits."""
    found = _Called()
    if not said.finishes and not said.named and cue("fills", said.plain):
        filling = state.top.called("filling", _pot(state))
        found.batches += [filling, *_pot(state)] if filling else []
    for at, word in enumerate(said.words):
        if not at or word not in words_of("made") or _is_of_a_line(at, said, state):
            continue
        if said.finishes and said.words[at - 1] != "the":
            continue
        own = next((n for n in sorted(said.named) if said.words[at - 1] in state.lines[n].tokens), None)
        if own is not None and (batch := state.top.with_line(own)):
            found.batches.append(batch)  # "The black bean paste".
        elif not is_made_here(word, said.plain) and (batch := _product(at, it, said, state)):
            found.batches.append(batch)
            to = bool(_TARGET & said.before(at)) or (said.adds and "in" in said.words[max(at - 3, 2) : at])
            found.is_target, found.is_object = found.is_target or to, found.is_object or not to
    return found


def _is_of_a_line(at: int, said: Said, state: Reading) -> bool:
    """Whether a noun belongs to the name of a line the clause says: "the fish sauce", "the curry powder", or means no product at all."""
    word, after = said.words[at], next(iter(said.words[at + 1 : at + 2]), "")
    lines = [state.lines[n] for n in said.named]
    return (
        after in _NO_PRODUCT
        or any(word in line.heads | short_names(line) for line in lines)
        or any(word in line.tokens and after in line.heads for line in lines)
        or any({word, said.words[at - 1]} <= line.tokens for line in lines)
    )


def _product(at: int, it: bool, said: Said, state: Reading) -> Batch | None:
    """What a noun calls; where nothing was called so yet, what it must be; else what is in hand, or what a dish begins with."""
    top, word = state.top, said.words[at]
    kind = words_of("made")[word]
    apart = _apart(at, it, said, state)
    if kind == "pot":
        if not top.batches or said.words[at - 1] not in ("the", "same") or said.finishes:
            return None
        return next((each for each in reversed(top.batches) if each not in apart), top.batches[-1])
    if word in top.named():
        batch = next((each for each in reversed(top.batches) if word in each.called), None)
        return batch or Batch(top.past[word] - top.gone)
    is_tool = kind == "shaped" and said.before(at, 2) & {"on", "onto", "in", "into", "to", "with"}
    if said.finishes or (is_tool and not said.before(at, 2) & {"the", "each", "every"}):
        return None  # "On skewers", "into rounds".
    if kind in ("meat", "piece"):
        return _meat(kind, state)
    return top.called(word, apart) or _in_hand(word, kind, apart, said, state)


def _apart(at: int, it: bool, said: Said, state: Reading) -> list[Batch]:
    """The batches that a noun cannot mean, because the clause works on them already."""
    word = said.words[at]
    if it:
        return _last(state)
    # "Mash half of the potatoes into the broth" they stand in.
    before = set(said.words[:at])
    objects = (n for n in sorted(said.named) if state.lines[n].heads & before and not is_(state.lines[n], "fat"))
    found = [each for n in objects if (each := state.top.with_line(n)) and not each.is_wet]
    is_called = any(word in each.called for each in state.top.batches)
    if said.adds and words_of("made")[word] != "pot" and not is_called and not _TARGET & said.before(at):
        found += _pot(state)  # "Pour in the mixture": not what it is poured into.
    if not said.adds and has_no_object(said.plain) and {"with", "into"} & said.before(at):
        found += _pot(state)  # "Dress with the sauce": the pot is dressed.
    return found


def _meat(kind: str, state: Reading) -> Batch | None:
    """ "The meat", "the pieces"."""
    main = state.top.main()
    if not main and not state.seen:
        return Batch(frozenset((0,)))
    if main and not main & state.pot:
        return Batch(main)
    return state.top.batches[-1] if state.top.batches and (main or kind == "piece") else None


def _in_hand(word: str, kind: str, apart: Sequence[Batch], said: Said, state: Reading) -> Batch:
    top = state.top
    poured = word in words_of("poured")
    beside = kind in ("piece", "shaped") or (kind == "mass" and not poured) or said.words[0] == "squeeze"
    if state.is_aside and beside and (work := [each for each in _last(state) if each not in apart]):
        return work[0]
    if rest := [each for each in top.batches if each not in apart]:
        return next((each for each in reversed(rest) if top.body(each.lines)), rest[-1])
    return Batch(top.main() or frozenset(range(len(state.lines))[:1]))


def _means_it(said: Said, state: Reading) -> bool:
    """Whether a clause means what went before by "it": not in "grind the nuts with the garlic, loosening it"."""
    plain = _ITS_OWN.sub(" ", said.plain) if said.named else said.plain
    found = _IT.search(plain)
    if not found or not said.named or found["prep"]:
        return bool(found)
    before = words_in(plain[: found.start()])[1:]
    return said.named.isdisjoint(lines_named(before, "", False, state)[0])


_ITS_OWN = re.compile(r"\w+ing (?:it|them|these)\b")
_IT = re.compile(
    r"(?P<prep>\b(?:in|with|over|on|to|into|onto|from|of|beside|around|under|among|between) )?\b(?:it|them|these|both|this|one side"
    r"|the other side|the (?:tops?|edges?|surface|rims?|outside|sides|ends)|\w*(?:spoon|ladle)fuls?(?! of))\b"
)


def _targets(said: Said, state: Reading) -> frozenset[int]:
    """Named lines that something is put to: "over the meat", "it in the sauce"."""
    found: set[int] = set()
    for at, word in enumerate(said.words):
        inside = word == "in" and {"it", "them"} & set(said.words[:at])
        if word in _TARGET or inside:
            after = set(said.words[at + 1 : at + 5])
            there = (line for line in said.named & state.seen - said.rest if state.lines[line].heads & after)
            found |= {line for line in there if not (inside and is_(state.lines[line], "fat"))}
    return frozenset(found)


def _put_to(said: Said, state: Reading) -> Iterator[Batch]:
    for at in sorted(_targets(said, state)):
        if batch := state.top.with_line(at):
            yield batch


def _has_target(said: Said, state: Reading) -> bool:
    """Whether what is put somewhere is put to something that stands apart from the pot."""
    targets = _targets(said, state)
    return bool(targets) and not targets & state.pot


def _came_from(lines: frozenset[int], state: Reading) -> list[Batch]:
    """Where something stood before it was taken out: the last batch beside the pot that holds any of it."""
    return [each for each in state.top.batches[:-1] if each.lines & lines][-1:] or state.top.batches[-2:-1]


def _once(batches: Sequence[Batch]) -> list[Batch]:
    return [each for at, each in enumerate(batches) if each not in batches[:at]]


def _pot(state: Reading) -> list[Batch]:
    return state.top.batches[-1:]


def _at_work(said: Said, state: Reading) -> list[Batch]:
    """What a verb without an object works on."""
    if said.plain.startswith("ladle") and (soup := state.top.called("soup")):
        return [soup]
    is_of_the_pot = state.is_out and cue("of_the_pot", said.plain)
    return _last(state) if state.is_aside and not is_of_the_pot else _pot(state)


def _last(state: Reading) -> list[Batch]:
    """What "it" means: what the clause before took in hand."""
    if not state.last or state.last == state.pot:
        return _pot(state)
    return [next((each for each in state.top.batches if each.lines == state.last), Batch(state.last))]
