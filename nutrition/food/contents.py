"""What a food holds of allergens and of what plans avoid, by its words and its kind.

Words: tables/avoid_rules.tsv, read after the phrases of tables/innocent_phrases.tsv (coconut milk is not milk) have
been
put out of the way; coats: tables/coated_foods.tsv; kinds made of other foods: tables/compound_categories.tsv.
"""

import functools
import re
from collections.abc import Iterable
from dataclasses import dataclass, replace

from nutrition.food.table import foods, remembered
from nutrition.notes import Note, note
from nutrition.tables import pattern, read_table

CONTAINS, CHECK, NOTHING = "contains", "check the label", "nothing listed found"
#: The 15 listed allergens by key, in the words of a card. `gluten`: cereals that hold it.
ALLERGENS = {
    "milk": "Milk",
    "egg": "Egg",
    "fish": "Fish",
    "crustacean_shellfish": "Crustacean shellfish",
    "mollusc": "Molluscs",
    "tree_nut": "Tree nuts",
    "peanut": "Peanut",
    "wheat": "Wheat",
    "gluten": "Gluten",
    "soy": "Soy",
    "sesame": "Sesame",
    "mustard": "Mustard",
    "celery": "Celery",
    "lupin": "Lupin",
    "sulfite": "Sulfites",
}
#: What else plans avoid.
OTHERS = {
    "meat": "Meat",
    "gelatin": "Gelatin",
    "rennet": "Animal rennet",
    "honey": "Honey",
    "alcohol": "Alcohol",
    "trans_fat": "Trans fat",
}
TAGS = ALLERGENS | OTHERS
#: Regulation (EU) 1169/2011 Annex II (14: wheat stands under gluten); US: FALCPA 2004 and FASTER 2021. From memory.
LISTS = {
    "eu": tuple(key for key in ALLERGENS if key != "wheat"),
    "us": ("milk", "egg", "fish", "crustacean_shellfish", "tree_nut", "peanut", "wheat", "soy", "sesame"),
}


@dataclass(frozen=True, slots=True)
class Hit:
    """One reason for a finding: the word read, where it stood (line or food), why, and the rule's source.

    `because`: what to look for on the label, or what softened the rule; its code says which.
    """

    tag: str
    verdict: str
    word: str
    where: str
    because: Note
    source: str

    @property
    def look_for(self) -> str:
        return str(self.because)

    def softened(self, because: Note | None = None) -> "Hit":
        """The same as a matter of the label."""
        return replace(self, verdict=CHECK, because=because or self.because)


#: Why a rule was softened: the words of the line or of the food say it is free of this.
SAYS_FREE = note("food.says_free")
#: Where a hit stood.
LINE, FOOD = "line", "food"


@dataclass(frozen=True, slots=True)
class _Rule:
    tag: str
    verdict: str
    words: re.Pattern[str]
    because: Note
    source: str


def _whole_words(words: str, ending: str = "(?:s|es)?") -> re.Pattern[str]:
    return re.compile(rf"(?<![a-zà-ÿ])(?:{words}){ending}(?![a-zà-ÿ])")


@functools.cache
def _rules() -> tuple[_Rule, ...]:
    found = []
    for row in read_table("avoid_rules.tsv"):
        code = "food.on_the_us_list" if row["verdict"] == "contains_us" else "food.look_for"
        verdict = CHECK if row["verdict"] == "check" else CONTAINS
        because = note(code, text=row["look_for"])
        found.append(_Rule(row["tag"], verdict, _whole_words(row["words"]), because, row["source"]))
    return tuple(found)


@functools.cache
def _innocent() -> tuple[tuple[re.Pattern[str], str], ...]:
    return tuple((_whole_words(row["phrase"], ""), row["reads_as"]) for row in read_table("innocent_phrases.tsv"))


@functools.cache
def _free_words() -> tuple[tuple[re.Pattern[str], frozenset[str]], ...]:
    return tuple((re.compile(row["words"]), frozenset(row["tags"].split())) for row in read_table("free_words.tsv"))


@functools.cache
def _compounds() -> tuple[tuple[re.Pattern[str], tuple[str, ...], Note], ...]:
    return tuple(
        (
            re.compile(row["categories"]),
            tuple(ALLERGENS) if row["may_hold"] == "all" else tuple(row["may_hold"].split()),
            note("food.look_for", text=row["look_for"]),
        )
        for row in read_table("compound_categories.tsv")
    )


@dataclass(frozen=True, slots=True)
class _Coat:
    """One row of coated_foods.tsv. `holds`: tag -> verdict."""

    categories: re.Pattern[str]
    words: re.Pattern[str]
    unless: re.Pattern[str] | None
    holds: dict[str, str]
    why: str

    def worn_by(self, description: str, category: str) -> str:
        """The word that says it; empty for a food without this coat."""
        found = self.words.search(description) if self.categories.search(category) else None
        return found[0] if found and not (self.unless and self.unless.search(description)) else ""


@functools.cache
def _coats() -> tuple[_Coat, ...]:
    return tuple(
        _Coat(
            re.compile(row["categories"]),
            re.compile(row["words"], re.I),
            re.compile(row["unless"], re.I) if row["unless"] else None,
            dict.fromkeys(row["check"].split(), CHECK) | dict.fromkeys(row["contains"].split(), CONTAINS),
            row["why"],
        )
        for row in read_table("coated_foods.tsv")
    )


def _coat_of(description: str, category: str) -> tuple[Hit, ...]:
    """What the coat of a breaded, battered or coated food holds; empty for a food without one."""
    for coat in _coats():
        if word := coat.worn_by(description, category):
            because = note("food.coat")
            return tuple(Hit(tag, verdict, word, FOOD, because, coat.why) for tag, verdict in coat.holds.items())
    return ()


def plain_words(text: str) -> str:
    """The words as the rules read them: lower case, with the names of other things put out of the way.

    >>> plain_words("Coconut milk and butternut squash")
    'coconut and squash'
    """
    text = text.lower().replace("’", "'")
    for phrase, reads_as in _innocent():
        text = phrase.sub(reads_as, text)
    return text


@functools.lru_cache(maxsize=20_000)
def hits_of_words(text: str, where: str) -> tuple[Hit, ...]:
    """At most one hit a tag, "contains" before "check the label".

    >>> [(hit.tag, hit.verdict) for hit in hits_of_words("2 tbsp soy sauce", LINE)][:2]
    [('wheat', 'contains'), ('soy', 'contains')]
    """
    text = plain_words(text)
    free = {tag for words, tags in _free_words() if words.search(text) for tag in tags}
    hits = []
    for rule in _rules():
        if match := rule.words.search(text):
            hit = Hit(rule.tag, rule.verdict, match[0], where, rule.because, rule.source)
            hits.append(hit.softened(SAYS_FREE) if rule.verdict == CONTAINS and rule.tag in free else hit)
    found = {hit.tag: hit for hit in _strongest(hits)}
    wheat, gluten = found.get("wheat"), found.get("gluten")
    if wheat and (not gluten or (gluten.verdict, wheat.verdict) == (CHECK, CONTAINS)):
        found["gluten"] = replace(wheat, tag="gluten")
    return tuple(found.values())


@functools.lru_cache(maxsize=10_000)
def hits_of_description(description: str, category: str) -> tuple[Hit, ...]:
    """What a food holds by its description, and by its kind when foods of that kind are made of others."""
    hits = _strongest((*hits_of_words(description, FOOD), *_coat_of(description, category)))
    named = {hit.tag for hit in hits}
    for categories, tags, because in _compounds():
        if categories.search(category) and not pattern("one_thing").match(description):
            source = f"common practice: foods of the kind “{category}” are made of others"
            hits += tuple(Hit(tag, CHECK, description, FOOD, because, source) for tag in tags if tag not in named)
            break
    return hits


def _strongest(hits: Iterable[Hit]) -> tuple[Hit, ...]:
    """One hit a tag: the first that contains it, else the first."""
    found: dict[str, Hit] = {}
    for hit in hits:
        if hit.tag not in found or (found[hit.tag].verdict, hit.verdict) == (CHECK, CONTAINS):
            found[hit.tag] = hit
    return tuple(found.values())


@remembered
def hits_of_food(food_id: str) -> tuple[Hit, ...]:
    """What a food holds. Raises KeyError when there is none of this id."""
    food = foods().by_id(food_id)
    if food.id in foods().printed:
        return hits_of_label(food.description, *foods().printed[food.id])
    return hits_of_description(food.description, food.category)


def hits_of_label(name: str, ingredients: str, may_contain: str) -> tuple[Hit, ...]:
    """What a label says it holds: its list, its line of traces as a matter to look at, and what the name says outright.

    A name that sends one to the label ("stock") has been answered: somebody read it.

    >>> [(hit.tag, hit.verdict) for hit in hits_of_label("Green sauce", "basil, cashews, salt", "may contain milk")]
    [('tree_nut', 'contains'), ('milk', 'check the label')]
    """
    because = note("food.traces")
    traces = tuple(hit.softened(because) for hit in hits_of_words(may_contain, FOOD)) if may_contain else ()
    outright = (hit for hit in hits_of_words(name, FOOD) if hit.verdict == CONTAINS)
    return _strongest((*hits_of_words(ingredients, FOOD), *outright, *traces))
