"""What a clause takes in hand, after the one before it: by a name, a group word, or through what was made.

A verb that adds takes the pot in hand with what is added ("stir in the cream"), a verb without an object takes the pot ("simmer", "dress
with the oil"), and what is strewn or served takes only what it names.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from nutrition.reading.batches_taken import batches_taken
from nutrition.reading.clauses import adds, begins, cue, heats, main_part, words_in
from nutrition.reading.lines_named import lines_named
from nutrition.reading.state import GROUP, PRODUCT, REST, Reading, Said
from nutrition.reading.worktop_after import leave
from nutrition.tables import words_of


@dataclass(frozen=True, slots=True)
class Taken:
    """What a clause takes in hand: line -> how; how much of each it puts in by name; whether it heats them; what runs off; what it
    calls cooked."""

    how: dict[int, str]
    shares: dict[int, str]
    heats: bool
    off: frozenset[int] = frozenset()
    cooked: frozenset[int] = frozenset()


def take_in_hand(plain: str, words: Sequence[str], state: Reading) -> Taken:
    """What a clause takes in hand; the worktop is as it leaves it."""
    main = main_part(plain)
    if cue("nothing_done", main) or (cue("only_when", main) and len(words) < 9):
        return Taken({}, {}, False)
    words = tuple(words) if main == plain else words_in(main)
    is_adding = _is_adding(main, state)
    finishes = bool(state.pot) and (begins(main, "finishing") or cue("goes_on_top", main))
    how, shares = lines_named(words, main, is_adding or finishes or begins(main, "by_hand"), state)
    how |= dict.fromkeys(_under_headings(words, state) - how.keys(), GROUP)
    how |= dict.fromkeys(_of_headings(words, state) - how.keys(), PRODUCT)
    how = {line: way for line, way in how.items() if _may_be_meant(line, main, state)}
    named = frozenset(how)
    rest = frozenset(line for line, share in shares.items() if share == REST)
    # "Pepper generously".
    verb_is_name = len(named) == 1 and bool(words) and words[0] in state.lines[min(named)].heads and bool(state.pot)
    said = Said(main, words, named, is_adding or verb_is_name, finishes, _gets_hot(plain, state), rest)
    joined = batches_taken(said, state)
    through = frozenset().union(*(each.lines for each in joined)) & state.allowed - state.top.gone
    how |= dict.fromkeys(through - named, PRODUCT)
    hands = named | through
    off = leave(said, hands, joined, state)
    cooked = frozenset(line for line in named if _is_called_cooked(line, words, state))
    return Taken({line: how[line] for line in sorted(hands)}, shares, said.heats, off, cooked)


def _gets_hot(plain: str, state: Reading) -> bool:
    """Whether what a clause has in hand gets hot: by its verb, or because time passes over a pot on the heat."""
    on_the_heat = bool(state.top.batches) and state.top.batches[-1].is_hot
    return heats(plain) or (on_the_heat and cue("lasts", plain) and not cue("gets_cold", plain))


def _is_called_cooked(line: int, words: Sequence[str], state: Reading) -> bool:
    """ "Serve with the boiled potatoes and melted butter"."""
    after = (words[at + 1 : at + 3] for at, word in enumerate(words) if word in words_of("called_cooked"))
    return any(not state.lines[line].heads.isdisjoint(each) for each in after)


def _is_adding(main: str, state: Reading) -> bool:
    """Whether a clause puts something into what is there: not on a plate, in a pot of its own or in boiling water."""
    # "Whisk the flour with the stock, then the eggs": what has no verb of its own goes in as well.
    bare = bool(state.pot and re.match(r"(?:the|a|an|some|half|with|and)\b", main))
    into_it = (cue("into_it", main.rstrip(" .")) and not heats(main)) or cue("pours", main)
    elsewhere = (cue("on_a_plate", main) or cue("in_a_vessel", main)) and not bare
    return (adds(main) or bare or into_it) and not elsewhere and not cue("begins_anew", main)


def _may_be_meant(line: int, main: str, state: Reading) -> bool:
    """Whether a line that words name is meant: it may stand in this step, was there before it is thrown away, is no water from the tap."""
    if line not in state.allowed or (cue("discards", main) and state.seen and line not in state.seen):
        return False
    called = state.lines[line]
    if "water" not in called.heads:
        return True
    if cue("tap_water", main) or (cue("covers_with_water", main) and "water" in state.later):
        return False
    return cue("the_water", main) or called.own <= {"water"} or called.own <= set(words_in(main))


def _under_headings(words: Sequence[str], state: Reading) -> frozenset[int]:
    """The lines under a heading that a clause names and no step has touched: they go by that name from then on."""
    found: frozenset[int] = frozenset()
    for word in words:
        if waits := state.parts.get(word, frozenset()) - state.seen:
            found |= waits
            state.top.past[word] = state.parts[word]
    return found


def _of_headings(words: Sequence[str], state: Reading) -> frozenset[int]:
    """The lines under a heading that a clause names in full: "the flax gel"."""
    said = f" {' '.join(words)} "
    found = [lines for name, lines in state.parts.items() if " " in name and f" {name} " in said]
    return frozenset().union(*found) - state.top.gone
