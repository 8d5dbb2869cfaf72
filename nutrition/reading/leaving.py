"""What of a line is not eaten, by what the steps do: poured off, strained out, lifted out, left in the pan, pressed out, left over, soaked
out, and bone, shell, pit, cob and peel.

Asked of a whole method, once its clauses are read: a marinade that a later step boils down is eaten after all. What is left of a line is
a row of tables/cooking_methods.tsv, never a point; words: tables/patterns.tsv, names beginning with "left_".
"""

import functools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from nutrition.dish.method import (
    LEFT_IN_PAN,
    LEFT_OVER,
    LIFTED_OUT,
    PEEL,
    POURED_OFF,
    PRESSED_OUT,
    REFUSE,
    SOAKED_OUT,
    STRAINED_OUT,
)
from nutrition.reading.mentions import Called
from nutrition.tables import pattern


@dataclass(frozen=True, slots=True)
class Clause:
    """One thing a step does, as read. `hands`: lines it takes in hand; `named` of them; `pot`: what was worked on before; `out`: what it
    throws away; `off`: what runs off it."""

    step: int
    plain: str
    hands: frozenset[int]
    named: frozenset[int]
    pot: frozenset[int]
    out: frozenset[int]
    heats: bool
    off: frozenset[int] = frozenset()


@dataclass(frozen=True, slots=True)
class Left:
    """A line of which a step leaves something behind, and how."""

    step: int
    line: int
    how: str


def left_behind(clauses: Sequence[Clause], lines: Sequence[Called]) -> tuple[Left, ...]:
    """Each line of which something is not eaten, once for each way, in the order of the steps."""
    found: dict[tuple[int, str], Left] = {}
    for rule in (_baths, _water, _ran_off, _fat, _oil, _soaked, _pressed, _strained, _lifted, _coating, _refuse):
        for left in rule(clauses, lines):
            if not any(line == left.line and how in _ONCE for line, how in found):
                found.setdefault((left.line, left.how), left)
    return tuple(sorted(found.values(), key=lambda left: (left.step, left.line)))


#: What is gone by one of these is not gone by another way as well.
_ONCE = frozenset((POURED_OFF, STRAINED_OUT, LIFTED_OUT))


@functools.lru_cache(maxsize=65_536)
def _has(name: str, text: str) -> bool:
    return bool(pattern(f"left_{name}").search(text))


def _of(lines: Sequence[Called], among: frozenset[int], name: str) -> frozenset[int]:
    return frozenset(at for at in among if _has(name, lines[at].kind))


def _baths(clauses: Sequence[Clause], lines: Sequence[Called]) -> Iterator[Left]:
    """A marinade, a brine, a cure: what something lay in, where a step takes it out and none uses the rest."""
    bath: frozenset[int] = frozenset()
    for number, clause in enumerate(clauses):
        inside = clause.hands | clause.pot
        if _has("bath", clause.plain) and inside and not clause.heats:
            lies = _lying(lines, inside) or inside - _of(lines, inside, "bathes")
            bath |= inside - lies - _of(lines, inside, "never_bathes")
        named_out = _has("bath_out", clause.plain) or bool(clause.out & bath)
        if not bath or not named_out:
            continue
        later = frozenset().union(
            *(each.named | each.hands for each in clauses[number + 1 :] if each.step > clause.step)
        )
        again = frozenset().union(*(each.hands for each in clauses[number + 1 :] if _has("bath_again", each.plain)))
        again = frozenset() if _has("keeps_some", clause.plain) else again
        for line in sorted(bath - (later & again)):
            yield Left(clause.step, line, POURED_OFF)
        bath = frozenset()


def _lying(lines: Sequence[Called], inside: frozenset[int]) -> frozenset[int]:
    """What lies in a bath: meat, fish or tofu, else the vegetables that are no mere flavor."""
    vegetables = frozenset(at for at in inside if not pattern("flavor_kind").search(lines[at].kind))
    return _of(lines, inside, "main") or _of(lines, vegetables, "main_vegetable")


def _water(clauses: Sequence[Clause], lines: Sequence[Called]) -> Iterator[Left]:
    """What flavors water that is drained off: salt, vinegar, a seasoning."""
    flavors: frozenset[int] = frozenset()
    for number, clause in enumerate(clauses):
        if clause.heats and (_has("in_water", clause.plain) or any("water" in lines[at].heads for at in clause.named)):
            flavors |= _of(lines, clause.hands, "water_flavor")
        later = " ".join(each.plain for each in clauses[number + 1 :])
        lifted = _has("lifted", clause.plain) and not _has("water_used", later)
        if flavors & (clause.hands | clause.off) and (lifted or _has("drained", clause.plain)):
            for line in sorted(flavors):
                yield Left(clause.step, line, POURED_OFF)
            flavors = frozenset()


def _same_step(clauses: Sequence[Clause], number: int) -> list[str]:
    return [each.plain for each in clauses[number + 1 :] if each.step == clauses[number].step]


def _ran_off(clauses: Sequence[Clause], lines: Sequence[Called]) -> Iterator[Left]:
    """What something was soaked in and drained of, where no later step uses it: milk, soda, a syrup."""
    for number, clause in enumerate(clauses):
        later = frozenset().union(*(each.hands for each in clauses[number + 1 :]))
        for line in sorted(clause.off - later):
            if "water" not in lines[line].heads:
                yield Left(clause.step, line, POURED_OFF)


def _fat(clauses: Sequence[Clause], lines: Sequence[Called]) -> Iterator[Left]:
    """Fat that a step pours or spoons off: of the meat it ran out of."""
    for clause in clauses:
        if _has("fat_off", clause.plain):
            cooked = clause.hands | clause.pot
            for line in sorted(_of(lines, cooked, "fatty") or _of(lines, cooked, "oil")):
                yield Left(clause.step, line, POURED_OFF)


def _oil(clauses: Sequence[Clause], lines: Sequence[Called]) -> Iterator[Left]:
    """Oil something swims in, or is lifted out of: what clings is eaten."""
    for number, clause in enumerate(clauses):
        oils = _of(lines, clause.hands | clause.pot, "oil")
        step = " ".join((clause.plain, *_same_step(clauses, number)))
        deep = _has("deep", clause.plain) or (
            _has("fries", clause.plain)
            and (_has("drained_of_oil", step) or any(_has("for_frying", lines[at].kind) for at in oils))
        )
        if deep or (oils and _has("out_of_fat", clause.plain)):
            for line in sorted(oils):
                yield Left(clause.step, line, LEFT_IN_PAN)


def _soaked(clauses: Sequence[Clause], lines: Sequence[Called]) -> Iterator[Left]:
    """Salt that soaking draws out of salted fish, bacon, olives."""
    for clause in clauses:
        if _has("soaked", clause.plain):
            for line in sorted(_of(lines, clause.hands, "salted")):
                yield Left(clause.step, line, SOAKED_OUT)


def _pressed(clauses: Sequence[Clause], lines: Sequence[Called]) -> Iterator[Left]:
    """What is wrung or pressed out of watery things, and of the salt on them."""
    for clause in clauses:
        if _has("pressed", clause.plain):
            for line in sorted(_of(lines, clause.hands or clause.pot, "watery")):
                yield Left(clause.step, line, PRESSED_OUT)


def _strained(clauses: Sequence[Clause], lines: Sequence[Called]) -> Iterator[Left]:
    """What stays in the sieve, and is neither rubbed through it nor used again."""
    for number, clause in enumerate(clauses):
        through = _has("rubbed_through", clause.plain) and not _has("discarded", clause.plain)
        if not _has("strained", clause.plain) or through:
            continue
        kept = frozenset().union(*(each.named for each in clauses[number + 1 :] if _has("saved", each.plain)))
        stays = _of(lines, clause.hands | clause.pot, "stays_in_sieve") - kept
        if _has("whey", clause.plain):
            stays |= _of(lines, clause.hands | clause.pot, "curdles")
        for line in sorted(stays):
            yield Left(clause.step, line, STRAINED_OUT)


def _lifted(clauses: Sequence[Clause], lines: Sequence[Called]) -> Iterator[Left]:
    """What was left in for its taste and is taken out, or thrown away."""
    for clause in clauses:
        for line in sorted(clause.out):
            yield Left(clause.step, line, LIFTED_OUT)


def _coating(clauses: Sequence[Clause], lines: Sequence[Called]) -> Iterator[Left]:
    """Flour, crumbs, egg that something is turned in: a part stays in the dish it was turned in."""
    for number, clause in enumerate(clauses):
        coats = _has("coats", clause.plain)
        swims = any(_has("deep", each.plain) for each in clauses[number + 1 :])
        if (coats and swims) or _has("shaken_off", " ".join((clause.plain, *_same_step(clauses, number)))):
            for line in sorted(_of(lines, clause.hands, "coating")):
                yield Left(clause.step, line, LEFT_OVER)


def _refuse(clauses: Sequence[Clause], lines: Sequence[Called]) -> Iterator[Left]:
    """Bone, shell, pit, cob and peel: where the line's words say they are in its weight, or a step takes them off."""
    for at, line in enumerate(lines):
        own = [clause for clause in clauses if at in clause.hands]
        words = line.kind.partition(";")[2]
        for how in REFUSE if own else ():
            if _has(f"no_{how}", words):
                continue
            cues = _taken_off_by(how, line)
            off = (
                next((clause for clause in own if any(_has(cue, clause.plain) for cue in cues)), None) if cues else None
            )
            if off or _has(f"with_{how}", words):
                yield Left((off or own[-1]).step, at, how)


def _taken_off_by(how: str, line: Called) -> list[str]:
    """The cues of a clause that takes bone, shell or peel off a line that has some: of a lemon its juice is taken, of herbs their leaves."""
    cues = [f"{how}_off"] if _has(f"may_have_{how}", line.kind) else []
    if how == PEEL:
        cues += ["juiced"] if _has("citrus", line.kind) else []
        cues += ["stalk_off"] if _has("leafy", line.kind) else []
    return cues
