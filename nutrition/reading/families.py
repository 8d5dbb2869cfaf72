"""The foods a line's own words may mean beside the one its name stands for: the family of its noun, and which of it say what the line says.

"Pears, asian" are no pears in general, and "pudding, rice" is no rice: where the table has a food that says more of the line's words than the
one a cook's name stands for, and leaves none of them out that the other has, it is meant.
"""

import functools
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from nutrition.food.names import normalized
from nutrition.food.nutrients import INDEX
from nutrition.food.table import RETIRED, foods, remembered
from nutrition.notes import NOTHING, note
from nutrition.reading.matching import Match, head_of, in_full, matcher
from nutrition.reading.promises import Said
from nutrition.tables import pattern, words_of

#: What decides gates: nutrient -> a difference in 100 g below which nobody minds which of two foods it is (a rule of this tool: about a fiftieth
#: of a day's usual limit).
DECIDES = {
    "sodium_mg": 40.0,
    "potassium_mg": 60.0,
    "phosphorus_mg": 40.0,
    "carbohydrate_g": 3.0,
    "protein_g": 3.0,
    "fat_g": 4.0,
    "saturated_fat_g": 2.0,
    "energy_kcal": 40.0,
}
_COLUMNS = [INDEX[key] for key in DECIDES]
_MINDED = np.array(list(DECIDES.values()))
#: Of what decides, foods of one meaning may differ by this share of it.
_ALIKE = 0.15
#: So many foods a line may mean are kept beside the likely one, before those at the ends of what they hold.
_MOST = 6


@dataclass(frozen=True, slots=True)
class _Kin:
    """A food of the family: the words of the line it does not say, and its own that the line does not."""

    row: int
    missing: frozenset[str]
    unsaid: frozenset[str]

    @property
    def order(self) -> tuple[int, int, int, int]:
        return len(self.missing), len(self.unsaid), _RANK.get(foods().text["kinds"][self.row], 1), self.row


_RANK = {"Curated": 0, "SR Legacy": 1, "Foundation": 1, "FNDDS": 2}


@remembered
def _families() -> dict[str, tuple[int, ...]]:
    """Noun -> rows of the foods that are one: the last words of the first parts of their descriptions."""
    found: dict[str, list[int]] = {}
    for row, description in enumerate(foods().base.descriptions):
        if foods().text["kinds"][row] != RETIRED:
            for noun in _nouns(description):
                found.setdefault(noun, []).append(row)
    return {noun: tuple(rows) for noun, rows in found.items()}


@functools.lru_cache(maxsize=20_000)
def _nouns(description: str) -> frozenset[str]:
    parts = [normalized(each).split() for part in description.split(",")[:2] for each in part.split(" or ")]
    return frozenset(part[-1] for part in parts if part)


@remembered
def _tokens(row: int) -> frozenset[str]:
    return frozenset(normalized(foods().descriptions[row]).split())


def food_named(words: str) -> Match:
    """The food that words alone stand for, as a line of nothing else.

    >>> foods().descriptions[food_named("asian pears").row]
    'Pears, asian, raw'
    """
    return nearer(matcher().match(words), words, "", ())


def nearer(match: Match, name: str, binding: str, said: Sequence[Said]) -> Match:
    """The food of the family that says most of a line's words, where the one found leaves some of them out. `name`: the words that name
    it; `binding`: the words of the line that bind it.

    >>> found = nearer(matcher().match("pears"), "pears", "pears, asian", ())
    >>> foods().descriptions[found.row], found.sure
    ('Pears, asian, raw', 'likely')
    """
    words = in_full({t for each in said for t in each.tokens}, name).split()
    head = head_of([t for t in words if t not in words_of("harmless")] or words) if words else ""
    family = _families().get(head, ())
    wanted = _content(words, binding, head)
    # What is promised is the contract's (contract.py).
    left = wanted - _explained(match) - {t for each in said for t in each.tokens}
    if match.row >= 0 and not left:
        return _or_as_described(match, words)
    kin = [each for row in family if (each := _kin_of(row, wanted, words, said))]
    kin = sorted((each for each in kin if each.missing < left), key=lambda each: each.order)
    if kin and (match.row >= 0 or not kin[0].missing):
        return _meant(match, kin)
    # What only has the noun somewhere ("cereals ready-to-eat, rice") is asked about.
    rows = matcher().postings.get(head, ()) if match.row < 0 else ()
    kin = [each for row in rows if (each := _kin_of(int(row), wanted, words, said)) and not each.missing]
    return _asked(min(kin, key=lambda each: each.order), kin) if kin else match


@remembered
def _described() -> dict[str, int]:
    """First part of a description, as words are compared -> the plainest food called so."""
    found: dict[str, int] = {}
    for row, description in enumerate(foods().base.descriptions):
        if foods().text["kinds"][row] != RETIRED:
            found.setdefault(normalized(description.split(",")[0]), row)
    return found


def _or_as_described(match: Match, words: Sequence[str]) -> Match:
    """A food found by words of which one was passed over as saying nothing, where the table has a food of just these words: either may be meant
    ("Spanish rice", "banana split")."""
    row = _described().get(" ".join(words), match.row)
    if row == match.row or set(words) <= _explained(match) or not _differ((row, match.row)):
        return match
    ask = note("reading.which_kind", words=" ".join(words))
    return Match(match.row, "check", match.why, ask, (row, *match.others), match.name, is_of_a_kind=True)


def _asked(best: _Kin, kin: Sequence[_Kin]) -> Match:
    others = tuple(each.row for each in sorted(kin, key=lambda each: each.order) if each is not best)[:_MOST]
    return Match(best.row, "check", note("reading.nearest"), note("reading.is_this_it"), others)


#: What joins two foods, unless the table says it too.
_JOINS = frozenset(("and", "with", "plus", "or"))


def is_all_of_it(row: int, names: Iterable[str], text: str) -> bool:
    """Whether what looks like several foods is the name of this one: "pudding, rice"; two joined by a word are two.

    >>> is_all_of_it(foods().by_description("Pudding, rice").row, ("Pudding", "rice"), "100 g pudding, rice")
    True
    """
    words = {t for name in names for t in normalized(name).split()} - words_of("harmless").keys()
    joins = _JOINS & set(normalized(text).split())
    return row >= 0 and words | joins <= _tokens(row)


@remembered
def _words_of_family(head: str) -> frozenset[str]:
    """What the foods of a family say of themselves."""
    said = frozenset().union(*(_tokens(row) for row in _families().get(head, ())))
    return said - (words_of("neutral").keys() - words_of("tells_in_family").keys())


def _content(words: Iterable[str], binding: str, head: str) -> frozenset[str]:
    """The words of a line that say which food of the family it is: those of its name, and those behind that some food of the family says."""
    of_family = _words_of_family(head)
    # "Greek" says nothing of a salad's cucumber, and of yogurt which it is.
    none = words_of("harmless").keys() - (words_of("tells_in_family").keys() & of_family)
    behind = {t for t in normalized(binding).split() if t in of_family}
    return frozenset(t for t in (*words, *behind) if t not in none and not t.isdigit())


def _explained(match: Match) -> frozenset[str]:
    """The words that the food found and the name it was found by account for."""
    if match.row < 0:
        return frozenset()
    also = {name for each in matcher().names_of(match.row) for name in each}
    return _tokens(match.row) | set(normalized(match.name).split()) | also


def _kin_of(row: int, wanted: frozenset[str], words: Sequence[str], said: Sequence[Said]) -> _Kin | None:
    """A food of the family that keeps what the line promises."""
    food = foods().food(row)
    if any(each.can_be_said_of(food) and not each.is_kept(food) for each in said):
        return None
    kept = {t for each in said for t in each.tokens}
    own = _tokens(row)
    if "and" in words and "and" not in own:
        return None  # "butter and honey" is no honey butter
    plain = set(normalized(pattern("neutral_phrases").sub("", foods().descriptions[row])).split())
    unsaid = plain - wanted - kept - set(words) - words_of("neutral").keys() - words_of("class").keys()
    return _Kin(row, wanted - own - kept, frozenset(t for t in unsaid if not t.isdigit()))


def _meant(match: Match, kin: Sequence[_Kin]) -> Match:
    """The nearest of the family, with the others the words allow; asked about where they differ in what decides, and where it alone says
    more than the line does."""
    best = kin[0]
    # One that says no more than the line is it, or one of those that say a word more; else all that keep its words may be meant.
    further = len(best.unsaid) + 1 if not best.unsaid else len(max(kin, key=lambda each: len(each.unsaid)).unsaid)
    alike = [each.row for each in kin[1:] if each.missing == best.missing and len(each.unsaid) <= further]
    others = _widest(best.row, alike)
    if best.missing:
        ask = match.ask or note("reading.unused", words=" ".join(sorted(best.missing)))
        # A word that none of them says may make another food of it.
        return Match(best.row, "check", note("reading.nearest"), ask, others)
    if best.unsaid and not others:
        return Match(best.row, "check", note("reading.all_words"), note("reading.is_this_it"), others)
    if others and _differ((best.row, *others)):
        return Match(
            best.row,
            "check",
            note("reading.all_words"),
            note("reading.which_kind", words=_said(best)),
            others,
            is_of_a_kind=True,
        )
    return Match(best.row, "likely", note("reading.all_words"), NOTHING, others)


def _widest(best: int, alike: Sequence[int]) -> tuple[int, ...]:
    """The nearest of them, and those that hold least and most of what decides: with the likely one they span all of them."""
    if len(alike) <= _MOST:
        return tuple(alike)
    values = foods().known[[best, *alike]][:, _COLUMNS]
    ends = [(best, *alike)[int(at)] for at in (*values.argmin(axis=0), *values.argmax(axis=0))]
    return tuple(row for row in dict.fromkeys((*alike[:_MOST], *ends)) if row != best)


def _said(kin: _Kin) -> str:
    return foods().descriptions[kin.row].split(",")[0].lower()


def _differ(rows: Sequence[int]) -> bool:
    """Whether foods differ in what decides a gate by more than anybody would mind."""
    values = foods().known[list(rows)][:, _COLUMNS]
    spread = values.max(axis=0) - values.min(axis=0)
    return bool((spread > np.maximum(_MINDED, _ALIKE * values.max(axis=0))).any())
