"""The method of a dish, read once: what each step takes in hand, by name, by a group word or through what was made of it; what it adds;
what it leaves behind; what it does.

A sentence is read after the one before it (hands.py): it knows what stands in the pot, what "it" was, and what "the dough" holds.
"""

import functools
from collections.abc import Sequence
from dataclasses import replace

from nutrition.dish.cooking import left_as
from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.dish.method import LIFTED_OUT, POURED_OFF, Added, Leaves, Method, Step, Use
from nutrition.dish.naming import description_of
from nutrition.food.names import normalized
from nutrition.reading.clauses import clauses_of, operations_in
from nutrition.reading.hands import Taken, take_in_hand
from nutrition.reading.leaving import Clause, left_behind
from nutrition.reading.mentions import Called, called
from nutrition.reading.pieces import pieces_in, vessels_in
from nutrition.reading.state import ALL, GROUP, NAMED, PRODUCT, Reading
from nutrition.reading.steps import heat_of
from nutrition.reading.times import times_of
from nutrition.reading.unlisted import Unlisted, additions, made_in
from nutrition.reading.worktop import Batch
from nutrition.tables import pattern

#: The plainest way in which a step calls a line is how it calls it.
_PLAINER = (NAMED, GROUP, PRODUCT)


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
    return _method(steps, lines, tuple(line.heading for line in own), cooked, additions(steps, own))


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
    more: tuple[Unlisted, ...],
) -> Method:
    """By what the lines are called: other amounts change nothing of it."""
    state = Reading(lines, parts=_parts(headings))
    of_part, of_none = _lines_by_part(steps, headings)
    read, taken_in_hand, clauses = [], [], []
    added: dict[int, list[Added]] = {}
    for each in more:
        added.setdefault(each.step, []).append(Added(each.words, each.tags))
    for number, text in enumerate(steps, 1):
        how: dict[int, str] = {}
        shares: dict[int, str] = {}
        does: dict[int, frozenset[str]] = {}
        hot = False
        part = next((each for each in of_part if text.startswith(f"{each}: ")), "")
        if part != state.part:
            state.part, state.last = part, frozenset()
            state.top.batches.append(Batch(frozenset()))
        state.allowed = of_part[part] if part else of_none
        own, whole = clauses_of(text), operations_in(text)
        coming = " ".join(steps[number:])
        for at, (plain, words) in enumerate(own):
            state.later = " ".join((*(each for each, _ in own[at + 1 :]), coming)).lower()
            pot, gone = state.pot, state.top.gone
            taken = take_in_hand(plain, words, state)
            taken_in_hand.append(taken)
            named = frozenset(line for line, way in taken.how.items() if way != PRODUCT)
            clauses.append(
                Clause(number, plain, frozenset(taken.how), named, pot, state.top.gone - gone, taken.heats, taken.off)
            )
            done = operations_in(plain, whole) if whole else ()
            for line, way in taken.how.items():
                how[line] = min(way, how.get(line, way), key=_PLAINER.index)
                does[line] = does.get(line, frozenset()).union(done)
            shares |= taken.shares
            hot = hot or taken.heats
        uses = tuple(Use(line, how[line], shares.get(line, ALL), does[line]) for line in sorted(how))
        if name := made_in(text):
            made = frozenset(line for line, way in how.items() if way != PRODUCT)
            state.parts[name], state.top.past[name.split()[-1]] = made, made
        oven, inside = heat_of(text)
        adds = tuple(added.get(number, ()))
        read.append(
            Step(
                number,
                text,
                uses,
                adds,
                whole,
                hot,
                times_of(text),
                oven.c if oven else None,
                inside,
                pieces_mm=pieces_in(text),
                vessels=vessels_in(text),
                in_liquid=bool(pattern("lies_in_liquid").search(text)),
                in_part=bool(pattern("of_a_part").search(text)),
            )
        )
    read = _with_leaves(read, clauses, lines)
    used = {use.line for step in read for use in step.uses}
    unnamed = tuple(at for at in range(len(lines)) if at not in used)
    products = tuple((name, tuple(sorted(inside))) for name, inside in state.top.named().items())
    left = {each.line for step in read for each in step.leaves if each.how in (POURED_OFF, LIFTED_OUT)} - state.reserved
    raw = tuple(at for at in _raw(len(lines), taken_in_hand) if at not in state.top.gone | cooked | left)
    return Method(tuple(read), raw, unnamed, products)


def _with_leaves(steps: Sequence[Step], clauses: Sequence[Clause], lines: Sequence[Called]) -> list[Step]:
    """The steps, each with what it leaves behind."""
    found: dict[int, list[Leaves]] = {}
    for left in left_behind(clauses, lines):
        how = left_as(left.how, lines[left.line].kind.split(";")[0])
        share = next((use.share for use in steps[left.step - 1].uses if use.line == left.line), ALL)
        if how:
            least, likely, most = (min(side, 1.0) for side in how.weight)
            found.setdefault(left.step, []).append(
                Leaves(left.line, left.how, how.key, (least, most), likely, left.step, share)
            )
    return [replace(step, leaves=tuple(found.get(step.number, ()))) for step in steps]


def _parts(headings: Sequence[str]) -> dict[str, frozenset[int]]:
    """What steps may call the lines under a heading: "the sauce" of those under "For the yogurt sauce"."""
    found: dict[str, frozenset[int]] = {}
    for at, heading in enumerate(headings):
        words = normalized(heading.split(": ")[0]).split()
        if words and words[-1] not in ("serve", "serving", "garnish", "finish"):
            for name in dict.fromkeys((words[-1], " ".join(words))):
                found[name] = found.get(name, frozenset()) | {at}
    return found


def _lines_by_part(steps: Sequence[str], headings: Sequence[str]) -> tuple[dict[str, frozenset[int]], frozenset[int]]:
    """Part with steps of its own ("Sauce: simmer it") -> its lines, which stand in no other; and the lines of all other steps."""
    tops = [heading.split(": ")[0] for heading in headings]
    own = {top for top in tops if top and any(step.startswith(f"{top}: ") for step in steps)}
    of_part = {top: frozenset(at for at, each in enumerate(tops) if each == top) for top in own}
    return of_part, frozenset(at for at, each in enumerate(tops) if each not in own)


def _raw(count: int, clauses: Sequence[Taken]) -> tuple[int, ...]:
    """Lines of which a part goes in that meets no heat then or later. What no step names went in at first, with everything."""
    return tuple(at for at in range(count) if _is_raw(at, clauses))


def _is_raw(at: int, clauses: Sequence[Taken]) -> bool:
    named = [n for n, each in enumerate(clauses) if each.how.get(at) in (NAMED, GROUP)]
    if not named:
        is_taken = any(at in each.how for each in clauses)
        return bool(clauses) and not any(each.heats for each in clauses if at in each.how or not is_taken)
    # What was heated as a whole is cooked, whatever part of it goes in later.
    whole = next((n for n in named if clauses[n].heats and clauses[n].shares.get(at, ALL) == ALL), len(clauses))
    put_in = [n for n in named if n <= whole and (n == named[0] or clauses[n].shares.get(at, ALL) != ALL)]
    return any(not any(each.heats or at in each.cooked for each in clauses[n:] if at in each.how) for n in put_in)
