"""What each food of the table is called, and which words of its description tell it from others: tables/signatures.tsv."""

from dataclasses import dataclass

from nutrition.food.names import normalized
from nutrition.food.table import foods, remembered, remembered_of_table
from nutrition.tables import read_table, words_of


@dataclass(frozen=True, slots=True)
class Signature:
    """`heads`: nouns a line may call a food by. `under`: the noun of its class, where it is called by more. `tells`: words that say which of
    its kind it is."""

    heads: tuple[str, ...]
    under: str
    tells: frozenset[str]


def signature(row: int) -> Signature:
    """The signature of a food. A practice's own is called by its last word, and every word of it tells.

    >>> found = signature(foods().by_description("Pears, asian, raw").row)
    >>> found.heads, sorted(found.tells)
    (('pear',), ['asian', 'pear'])
    """
    found = _all().get(row)
    if found is None:
        words = normalized(foods().descriptions[row]).split()
        found = Signature(tuple(words[-1:]), "", frozenset(words))
    return found


@remembered
def words_said(row: int) -> frozenset[str]:
    """All that a food says of itself, as words are compared."""
    return frozenset(normalized(foods().descriptions[row]).split())


def family(head: str) -> tuple[int, ...]:
    """Rows of the foods of the table a noun may name."""
    return _families().get(head, ())


@remembered_of_table
def tells_of_family(head: str) -> frozenset[str]:
    """The words by which the foods of a family are told apart."""
    return frozenset().union(*(signature(row).tells for row in family(head)))


@remembered_of_table
def words_of_family(head: str) -> frozenset[str]:
    """What the foods of a family say of themselves beside what any food says."""
    said = frozenset().union(*(words_said(row) for row in family(head)))
    return said - (words_of("neutral").keys() - tells_of_family(head))


@remembered_of_table
def _all() -> dict[int, Signature]:
    found = {}
    for each in read_table("signatures.tsv"):
        row = each.as_("food", foods().base.by_description, "a food of the table").row
        found[row] = Signature(each.listed("heads"), each["under"], each.words("tells"))
    return found


@remembered_of_table
def _families() -> dict[str, tuple[int, ...]]:
    found: dict[str, list[int]] = {}
    for row, each in _all().items():
        for head in each.heads:
            found.setdefault(head, []).append(row)
    return {head: tuple(rows) for head, rows in found.items()}
