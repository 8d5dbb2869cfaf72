"""What a food is made of, by its description and category: the rule by which tables/contents.tsv is built.

Nothing is ruled out by silence. A simple food (one plant, meat, fish, egg, milk, oil, sugar, salt or pure spice: every word
of it stands in tables/simple_words.tsv, or it stands in simple_foods.tsv) holds what its words say and nothing else; a
food of a kind (tables/kinds_of_foods.tsv) may hold what its kind may hold; any other food may hold everything.
"""

import functools
import re
from dataclasses import dataclass

from nutrition.food.spoken import spoken
from nutrition.food.tags import CHECK, CONTAINS, FOOD, TAGS, Hit, strongest
from nutrition.notes import Note, note
from nutrition.tables import Row, read_table

#: The names of what is no kind of kinds_of_foods.tsv.
SIMPLE, SEVERAL_THINGS = "simple food", "several things"
#: What a food of several things may hold. Trans fat is told by words only.
_ANYTHING = tuple(tag for tag in TAGS if tag != "trans_fat")
_WORD = re.compile(r"[^\W\d_][\w'-]*")


@dataclass(frozen=True, slots=True)
class Kind:
    """One row of kinds_of_foods.tsv. `holds`: tag -> verdict.

    `on_top`: it comes on top of what the food is ("yes"), and nothing else is open then ("closes").
    """

    name: str
    categories: re.Pattern[str]
    words: re.Pattern[str]
    unless: re.Pattern[str] | None
    holds: dict[str, str]
    on_top: str
    look_for: Note

    def fits(self, description: str, category: str) -> bool:
        return bool(
            self.categories.search(category)
            and self.words.search(description)
            and not (self.unless and self.unless.search(description))
        )


@dataclass(frozen=True, slots=True)
class MadeOf:
    """What a food holds: one hit a tag, and the kinds of food it was taken for."""

    hits: tuple[Hit, ...]
    kinds: tuple[str, ...]

    def tags(self, verdict: str) -> tuple[str, ...]:
        """The tags of a verdict, in the order of TAGS."""
        shown = {hit.tag for hit in self.hits if hit.verdict == verdict}
        return tuple(tag for tag in TAGS if tag in shown)


@functools.cache
def kinds() -> tuple[Kind, ...]:
    """All kinds, in their order."""
    return tuple(
        Kind(
            row.text("kind"),
            row.pattern("categories"),
            row.pattern("words", re.I),
            row.pattern_or_none("unless", re.I),
            dict.fromkeys(_tags(row, "check"), CHECK) | dict.fromkeys(_tags(row, "contains"), CONTAINS),
            row.one_of("on_top", ("", "yes", "closes")),
            note("food.look_for", text=row["look_for"]),
        )
        for row in read_table("kinds_of_foods.tsv")
    )


def _tags(row: Row, column: str) -> tuple[str, ...]:
    return _ANYTHING if row[column] == "anything" else row.listed(column, TAGS)


@functools.cache
def _simple_words() -> tuple[re.Pattern[str], re.Pattern[str], re.Pattern[str], frozenset[str]]:
    """(categories that have simple foods, words together that no simple food has, phrases, words)"""
    rows = {row["what"]: row for row in read_table("simple_words.tsv")}
    phrases = "|".join(map(re.escape, sorted(rows["phrase"]["words"].split("|"), key=len, reverse=True)))
    words = rows["state"].words("words") | rows["thing"].words("words")
    kinds, never = rows["kind"].pattern("words", around="^(?:{})"), rows["never"].pattern("words")
    return kinds, never, re.compile(rf"(?<!\w)(?:{phrases})(?!\w)"), words


@functools.cache
def _simple_foods() -> frozenset[str]:
    return frozenset(row["food"] for row in read_table("simple_foods.tsv"))


def is_simple(description: str, category: str) -> bool:
    """Whether a food is one thing, raw or plainly cooked.

    >>> is_simple("Rice flour, white, unenriched", "Cereal Grains and Pasta")
    True
    >>> is_simple("Carrots, glazed", "Vegetables and Vegetable Products")
    False
    """
    categories, never, phrases, words = _simple_words()
    if description in _simple_foods():
        return True
    plain = description.lower()
    if never.search(plain) or not categories.match(category):
        return False
    return set(_WORD.findall(phrases.sub(" ", plain))) <= words


@functools.lru_cache(maxsize=10_000)
def made_of(description: str, category: str) -> MadeOf:
    """What a food holds, by rule.

    >>> fried = made_of("Fish, cod, fried", "Fish")
    >>> fried.kinds, fried.tags(CONTAINS), "tree_nut" in fried.tags(CHECK)
    (('coat',), ('fish', 'wheat', 'gluten'), False)
    """
    said = spoken(description, FOOD, is_one=True)
    fitting = [kind for kind in kinds() if kind.fits(description, category)]
    more = [kind for kind in fitting if kind.on_top]
    is_one = is_simple(description, category)
    of_kind = [] if is_one else [kind for kind in fitting if not kind.on_top][:1]
    hits = strongest(*said.hits, *(hit for kind in (*more, *of_kind) for hit in _hits_of(kind, description)))
    hits = tuple(hit.softened() if hit.tag in said.free | said.by_habit else hit for hit in hits)
    hits = hits if is_one else _of_whichever_meat(hits)
    names = dict.fromkeys([SIMPLE] * is_one + [kind.name for kind in (*more, *of_kind)])
    if is_one or of_kind or any(kind.on_top == "closes" for kind in more):
        return MadeOf(hits, tuple(names))
    return MadeOf(strongest(*hits, *anything(description)), (SEVERAL_THINGS, *names))


def _of_whichever_meat(hits: tuple[Hit, ...]) -> tuple[Hit, ...]:
    """Meat in a food of several things may be a pig's, where nothing says it is or is not."""
    meat = next((hit for hit in hits if hit.tag in ("meat", "gelatin")), None)
    if meat is None or any(hit.tag == "pork" for hit in hits):
        return hits
    why = note("food.look_for", text="which animal it is of")
    return (*hits, Hit("pork", CHECK, meat.word, meat.where, why, meat.source))


def _hits_of(kind: Kind, description: str) -> list[Hit]:
    source = f"common practice: what a food of the kind “{kind.name}” is made of"
    return [Hit(tag, verdict, description, FOOD, kind.look_for, source) for tag, verdict in kind.holds.items()]


def anything(description: str, where: str = FOOD, because: Note | None = None) -> tuple[Hit, ...]:
    """A food of which nobody knows what it is made of: everything is a matter of its label."""
    because = because or note("food.look_for", text="everything it was made of")
    source = "common practice: a food made of several things"
    return tuple(Hit(tag, CHECK, description, where, because, source) for tag in _ANYTHING)
