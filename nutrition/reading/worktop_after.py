"""The worktop as a clause leaves it: what goes into what, what is taken out, runs off or is thrown away, and what it is called from then on."""

import re
from collections.abc import Sequence

from nutrition.food.names import normalized
from nutrition.reading.clauses import begins, cue, is_made_here, starts, words_in
from nutrition.reading.lines_named import lines_named
from nutrition.reading.mentions import Called
from nutrition.reading.state import Reading, Said
from nutrition.reading.worktop import Batch, is_
from nutrition.tables import words_of

_NOTHING: frozenset[int] = frozenset()


def leave(said: Said, hands: frozenset[int], joined: Sequence[Batch], state: Reading) -> frozenset[int]:
    """Puts what a clause has in hand where it goes; the lines that ran off."""
    if not hands:
        return _NOTHING
    state.seen |= hands
    had_lifted, state.has_lifted = state.has_lifted, bool(_parts(said.words) and cue("off_it", said.plain))
    if (flavor := _flavor_lifted(said, hands, state)) or (out := _only_thrown(said, hands, state)):
        # What is taken out leaves the pot what it was, less that.
        state.top.take_away(flavor or out)
        state.last, state.has_lifted = state.pot, bool(flavor)
        return _NOTHING
    if said.named and said.named < state.pot and not said.named & state.top.main():
        wiped, poured = cue("wipes_off", said.plain), cue("pours_off", said.plain)
        if wiped or poured:
            state.top.take_away(said.named)
            state.last = state.pot
            return said.named if poured else _NOTHING
    if cue("wipes_off", said.plain) and not said.named:
        return _NOTHING  # "Shake off the marinade": what is shaken is still in hand.
    off = _drain(said, state) if cue("drains", said.plain) and not said.finishes else _NOTHING
    hands -= off
    if not said.finishes and not said.adds and _takes_out(said.plain) and _take_out(said.named, hands, state):
        return off
    if cue("keeps", said.plain) and hands <= state.seen and state.top.batches:
        _reserve(hands, state)
        _name(said, hands, state)
        return off
    _put(said, hands, joined, state)
    if cue("reserves", said.plain):
        _reserve(hands, state)
    if cue("lies_in", said.plain):
        for word in ("marinade", "brine"):
            state.top.past.setdefault(word, hands - state.top.main())
    _name(said, hands, state)
    _throw_away(said, hands, had_lifted, state)
    return off


def _put(said: Said, hands: frozenset[int], joined: Sequence[Batch], state: Reading) -> None:
    """The pot grows, or gives way to what was begun; what is strewn on or chopped beside it leaves it what it was."""
    top = state.top
    elsewhere = [each for each in joined if each in top.batches[:-1]]
    beside = (
        begins(said.plain, "by_hand") and not said.adds and len(state.pot) > 1 and bool(said.named or not elsewhere)
    )
    # "Mince with the leek", "crush them with the garlic": the pot grows.
    beside = beside and not said.heats and not (said.named and any(each in top.batches[-1:] for each in joined))
    if said.finishes or beside:
        if said.finishes and top.batches:
            top.batches[-1].lines |= said.named - top.gone
        elif hands == state.pot and cue("shapes", said.plain):
            top.batches[-1].is_shaped = True
        elif not hands <= state.pot:
            top.put(said.named, elsewhere, aside=True)
        state.last = hands if not said.finishes else state.last | said.named if state.last else state.last
    elif not (starts("discards", said.plain) and hands <= state.seen and top.batches):
        batch = top.put(hands, [each for each in joined if each in top.batches])
        state.last = batch.lines
        batch.is_shaped |= cue("shapes", said.plain)
        batch.is_wet |= cue("wets", said.plain)
        batch.is_hot = (batch.is_hot or said.heats) and not cue("gets_cold", said.plain)
        batch.is_bath |= cue("bathes", said.plain)
    state.is_aside, state.is_out = beside and not said.finishes, False


def _reserve(lines: frozenset[int], state: Reading) -> None:
    state.reserved |= frozenset(at for at in lines if not _is_flavor(state.lines[at]))


def _flavor_lifted(said: Said, hands: frozenset[int], state: Reading) -> frozenset[int]:
    """What was left in for its taste alone and is lifted out: "the bay leaf and the bones" are the leaf, "it" of garlic in oil the garlic."""
    if not cue("lifts", said.plain):
        return _NOTHING
    flavor = frozenset(at for at in said.named or hands if _is_flavor(state.lines[at]))
    if said.named:
        return flavor if flavor == hands or (flavor < said.named and _parts(said.words)) else _NOTHING
    garlic = frozenset(at for at in flavor if not is_(state.lines[at], "fat"))
    return garlic if all(is_(state.lines[at], "fat") for at in hands - garlic) else _NOTHING


def _only_thrown(said: Said, hands: frozenset[int], state: Reading) -> frozenset[int]:
    """What a clause names to throw it away, and works on nothing else."""
    if not said.named or hands != said.named or not said.named < state.pot or not cue("discards", said.plain):
        return _NOTHING
    return _discarded(said.plain, state)


def _throw_away(said: Said, hands: frozenset[int], had_lifted: bool, state: Reading) -> None:
    is_flavor = all(_is_flavor(state.lines[at]) for at in said.named or hands)
    if not cue("discards", said.plain) and not (cue("lifts", said.plain) and is_flavor):
        return
    out = _discarded(said.plain, state)
    is_it = re.search(r"\b(?:it|them)\b", said.plain) and not (had_lifted or _parts(said.words))
    if not out and is_it and len(hands) < len(state.seen):
        out = hands
    out -= state.reserved
    state.top.take_away(out)
    state.last -= out


def _takes_out(plain: str) -> bool:
    return cue("takes_out", plain) and not cue("off_the_heat", plain)


def _take_out(named: frozenset[int], hands: frozenset[int], state: Reading) -> bool:
    """What is taken out of the pot lies beside it, and the pot is what is left; whether anything is."""
    top = state.top
    if not top.batches or not hands <= top.pot:
        return False
    pot = top.batches[-1]
    piece = (named & pot.lines) or top.body(pot.lines)
    rest = pot.lines - piece
    if not piece or not rest:
        return False
    own = frozenset(name for name in pot.called if words_of("made")[name] in ("shaped", "piece"))
    top.batches.insert(len(top.batches) - 1, Batch(piece, own, pot.is_shaped))
    pot.lines, pot.called, pot.is_shaped = rest, pot.called - own, False
    state.last, state.is_aside, state.is_out = piece, True, True
    return True


def _drain(said: Said, state: Reading) -> frozenset[int]:
    """What something lay or boiled in runs off and stands apart; which lines do."""
    top = state.top
    batch = next((each for each in reversed(top.batches) if not said.named or each.lines & said.named), None)
    if not batch:
        return _NOTHING
    body = top.body(batch.lines)
    of_water = {"water", "salt"} if said.plain.startswith("rinse") or batch.is_wet else {"water"}
    if batch.is_bath:
        off = frozenset(at for at in batch.lines if is_(state.lines[at], "liquid") or is_(state.lines[at], "bath"))
    else:
        off = frozenset(at for at in batch.lines if state.lines[at].heads & of_water)
    off -= body
    if not off or not body:
        return _NOTHING
    batch.lines -= off
    batch.is_bath = batch.is_wet = False
    top.batches.insert(0, Batch(off, frozenset(("liquid", "marinade", "brine")), is_wet=True))
    return off


def _name(said: Said, hands: frozenset[int], state: Reading) -> None:
    """What a clause calls what it has in hand goes by that name from then on."""
    top = state.top
    named = top.named()
    for at, word in enumerate(said.words):
        kind = words_of("made").get(word, "pot")
        if kind in ("pot", "meat") or said.finishes or not top.batches or said.words[at + 1 : at + 2] == ("of",):
            continue
        if any(word in state.lines[n].heads for n in said.named):
            continue
        if word not in named or is_made_here(word, said.plain):
            for each in top.batches:
                each.called -= {word}
            top.past.pop(word, None)
            batch = next((each for each in reversed(top.batches) if each.lines == hands), top.batches[-1])
            batch.called |= {word}


def _is_flavor(line: Called) -> bool:
    """Whether a line is left in a dish for its taste alone: leaves, pods, peel, a clove of garlic."""
    return is_(line, "flavor")


def _discarded(plain: str, state: Reading) -> frozenset[int]:
    """What a sentence throws away: what it names after the verb, or the product it names there. Of a part ("discard the whites") the line
    stays, unless it was there for its taste alone or is that part."""
    plain = _OUT_OF.sub(" out", plain)
    thrown = _THROWS.split(plain, maxsplit=1)[-1]
    after = thrown if thrown != plain and _SAYS_MORE.search(thrown) else _LIFTS.split(plain, maxsplit=1)[-1]
    found = _NOTHING
    for item in _ITEMS.split(after):
        words = words_in(item)
        parts = _parts(words)
        lines = frozenset(lines_named(words, item, False, state)[0]) & state.seen
        found |= frozenset(at for at in lines if not parts or _goes_with(parts, state.lines[at]))
        for word in words:
            found |= _of_product(word, state)
    return found - state.reserved if len(found) < len(state.lines) else _NOTHING


def _of_product(word: str, state: Reading) -> frozenset[int]:
    """What is thrown away with a product: all of a marinade but what lay in it; of a liquid what is no body of it."""
    top, whole = state.top, word in words_of("thrown_whole")
    inside = top.named().get(word)
    if inside is None and whole:
        batch = top.called(word)
        inside = batch.lines if batch else state.pot
    if inside is None or word in words_of("main"):
        return _NOTHING
    is_wet = words_of("made").get(word) == "wet" and not whole
    return inside - top.main() - (top.body(inside) if is_wet else _NOTHING)


_OUT_OF = re.compile(r" out of (?:the|its|their) .*")
_THROWS = re.compile(r"\b(?:discard(?:ing|ed)?|throw(?:n|ing)?)\b")
_LIFTS = re.compile(r"\b(?:discard(?:ing|ed)?|throw(?:n|ing)?|pour\w*|remov\w*|(?:fish|lift|take|pick)\w*)\b")
_SAYS_MORE = re.compile(r"\b(?!away\b|out\b|off\b|it\b|them\b)\w+")
_ITEMS = re.compile(r", | and | or ")
_ON_THE = re.compile(r" (?:on|in|with) ")


def _goes_with(parts: frozenset[str], line: Called) -> bool:
    """Whether a line is thrown away with parts of a name: pork bones with "the bones", a bay leaf with its stem."""
    _, text, *_ = (*line.kind.split("; "), "")
    name = _ON_THE.split(text.partition(",")[0])[0]
    return _is_flavor(line) or not parts.isdisjoint(normalized(name).split()[-1:])


def _parts(words: Sequence[str]) -> frozenset[str]:
    """The parts of a food, thrown away alone, that words name."""
    return frozenset(words) & words_of("thrown_part").keys()
