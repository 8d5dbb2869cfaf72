"""Foods of one family, held against a line: what of its words each says, what it says beyond them, whether it keeps what they promise."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass

from nutrition.food.names import normalized
from nutrition.food.signatures import signature, words_said
from nutrition.food.table import Food, foods, remembered
from nutrition.reading.matching import matcher
from nutrition.reading.promises import Said, promises
from nutrition.tables import pattern, words_of

#: Of foods that say as much, the plainest table's comes first.
_RANK = {"Curated": 0, "SR Legacy": 1, "Foundation": 1, "FNDDS": 2}


@dataclass(frozen=True, slots=True)
class Kin:
    """A food that keeps all a line promises: the words of the line it does not say, its own that the line does not, and how many promises
    it makes that the line does not. `unshown`: how many of the promise's own words it does not say; `further`: how many words that tell
    nothing it has and the line has not."""

    food: Food
    missing: frozenset[str]
    unsaid: frozenset[str]
    unshown: int = 0
    promises: int = 0
    further: int = 0

    @property
    def is_exact(self) -> bool:
        """Whether it says all the line does, and nothing more."""
        return not (self.missing or self.unsaid or self.unshown)

    @property
    def row(self) -> int:
        return self.food.row

    @property
    def order(self) -> tuple[int, ...]:
        # What stands before the noun makes another food of it, more than a word behind: soy yogurt.
        unsaid = len(self.unsaid) + len(self.unsaid & _called(self.food))
        return (
            len(self.missing),
            unsaid,
            self.unshown,
            self.promises,
            _RANK.get(self.food.kind, 1),
            self.further,
            self.row,
        )


def kin_of(
    rows: Sequence[int],
    wanted: Collection[str],
    said: Sequence[Said],
    known: Collection[str] = (),
    *,
    is_shown: bool = False,
) -> list[Kin]:
    """Those of the foods that keep what a line promises, the nearest first. `wanted`: the words that say which it is; `known`: words that
    are no news of a food; `is_shown`: nor are those that show what was promised.

    >>> from nutrition.food.signatures import family
    >>> pears = kin_of(family("pear"), {"pear", "asian"}, ())
    >>> pears[0].food.description, pears[0].missing, pears[0].unsaid
    ('Pears, asian, raw', frozenset(), frozenset())
    """
    kept = frozenset(token for each in said for token in each.tokens)
    promised = {each.promise.number for each in said}
    found = []
    for row in rows:
        food = foods().food(row)
        if all(each.is_kept(food) for each in said if each.can_be_said_of(food)):
            unsaid = signature(row).tells.difference(wanted, kept, known, _shown(food, said) if is_shown else ())
            missing = frozenset(wanted).difference(words_said(row), kept)
            unshown = len(kept - words_said(row))
            further = len(words_said(row).difference(wanted, kept, known))
            found.append(Kin(food, missing, unsaid, unshown, _says_more(food, promised) if said else 0, further))
    return sorted(found, key=lambda each: each.order)


def sisters(words: Sequence[str], said: Sequence[Said], of: Food) -> list[int]:
    """The foods that say all of these words, of which the last says what they are, or whose own noun is what was promised: "pickled" and
    pickles. None that is a dish, or made for babies.

    `of`: the food whose class they share: cranberry beans are no berries.

    >>> salmon = foods().by_description("Fish, salmon, pink, raw")
    >>> {foods().descriptions[row].partition(",")[0] for row in sisters(("salmon",), (), salmon)} == {"Fish", "Salmon"}
    True
    """
    rows = map(int, matcher().postings.get(words[-1], ())) if words else ()
    return [row for row in rows if _is_sister(foods().food(row), words, said, signature(of.row).heads)]


def _is_sister(food: Food, words: Sequence[str], said: Sequence[Said], of: Sequence[str]) -> bool:
    own, classes = signature(food.row), words_of("class").keys()
    if not all(each.can_be_said_of(food) for each in said):
        return False
    if not words_said(food.row).issuperset(words) or pattern("composed_or_for_babies").search(food.category):
        return False
    if words[-1] in own.heads:
        return not own.under or own.under in classes or own.under in (*words, *of)
    return {*words, *of, "spice", *_shown(food, said)}.issuperset(_called(food))


@remembered
def _called(food: Food) -> frozenset[str]:
    """The words of what a description begins with."""
    return frozenset(normalized(food.description.partition(",")[0]).split())


def _shown(food: Food, said: Sequence[Said]) -> frozenset[str]:
    """Words that say what was promised, and those of a description that show it."""
    found = [shown[0] for each in said if (keeps := each.promise.keeps) for shown in keeps.finditer(food.description)]
    return frozenset(token for words in (*found, *(each.words for each in said)) for token in normalized(words).split())


def _says_more(food: Food, promised: set[int]) -> int:
    """How many promises a description makes that the line does not."""
    words = pattern("neutral_phrases").sub("", food.description)
    return sum(1 for each in promises() if each.number not in promised and each.words.search(words))
