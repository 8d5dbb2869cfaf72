"""What a dish holds of allergens and of what plans avoid, read from the foods and from the words of the lines.

A finding is "contains" or "check the label"; where neither was found the words are "nothing listed
found", never that a dish is safe. Words: tables/avoid_rules.tsv, read after the phrases of
tables/innocent_phrases.tsv (coconut milk is not milk) have been put out of the way.
"""

from __future__ import annotations

import functools
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from .composition import foods, read_table

if TYPE_CHECKING:
    from .recipe import Line

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
#: A line that calls itself free of something is believed only as far as its label.
_FREE_WORDS = (
    (r"gluten[- ]?free|\bgf\b|wheat[- ]?free", "wheat gluten"),
    (r"dairyfree|milk[- ]free|vegan|meatfree", "milk"),
    (r"egg replacer|egg[- ]free|eggless|vegan|meatfree", "egg"),
    (r"nut[- ]free", "tree_nut peanut"),
    (r"soy[- ]free|soya[- ]free", "soy"),
    (r"meatfree|vegan|vegetarian|plant[- ]based|no meat|without meat", "meat gelatin fish honey"),
    (r"\bmock\b|imitation", "meat"),
)


@dataclass(frozen=True, slots=True)
class Hit:
    """One reason for a finding: the word read, where it stood, what to look for on the label, and the rule's source."""

    tag: str
    verdict: str
    word: str
    where: str
    look_for: str
    source: str


@dataclass(frozen=True, slots=True)
class Finding:
    """What a dish shows of one tag. `lines` are positions from 0; `hits` are (position, Hit) of that verdict, one a line.

    `also_check`: lines whose label decides, where another line contains it outright.
    """

    tag: str
    verdict: str
    lines: tuple[int, ...]
    hits: tuple[tuple[int, Hit], ...]
    also_check: tuple[int, ...] = ()

    @property
    def label(self) -> str:
        return TAGS[self.tag]

    @property
    def look_for(self) -> tuple[str, ...]:
        return tuple(dict.fromkeys(hit.look_for for _, hit in self.hits if hit.look_for and hit.verdict == CHECK))


@dataclass(frozen=True, slots=True)
class _Rule:
    tag: str
    verdict: str
    words: re.Pattern
    look_for: str
    source: str


def _pattern(words: str) -> re.Pattern:
    return re.compile(rf"(?<![a-zà-ÿ])(?:{words})(?:s|es)?(?![a-zà-ÿ])")


@functools.cache
def _rules() -> tuple[_Rule, ...]:
    return tuple(
        _Rule(row["tag"], row["verdict"], _pattern(row["words"]), row["look_for"], row["source"])
        for row in read_table("avoid_rules.tsv")
    )


@functools.cache
def _innocent() -> tuple[tuple[re.Pattern, str], ...]:
    rows = read_table("innocent_phrases.tsv")
    return tuple((re.compile(rf"(?<![a-zà-ÿ])(?:{row['phrase']})(?![a-zà-ÿ])"), row["reads_as"]) for row in rows)


@functools.cache
def _compounds() -> tuple[tuple[re.Pattern, tuple[str, ...], str], ...]:
    return tuple(
        (
            re.compile(row["categories"]),
            tuple(ALLERGENS) if row["may_hold"] == "all" else tuple(row["may_hold"].split()),
            row["look_for"],
        )
        for row in read_table("compound_categories.tsv")
    )


@functools.cache
def _coats() -> tuple[tuple[re.Pattern, re.Pattern, re.Pattern | None, dict[str, str], str], ...]:
    found = []
    for row in read_table("coated_foods.tsv"):
        verdicts = dict.fromkeys(row["check"].split(), CHECK) | dict.fromkeys(row["contains"].split(), CONTAINS)
        patterns = (re.compile(row[name], re.I) if row[name] else None for name in ("categories", "words", "unless"))
        found.append((*patterns, verdicts, row["why"]))
    return tuple(found)


def _coat_of(description: str, category: str) -> tuple[Hit, ...]:
    """What the coat of a breaded, battered or coated food holds; empty for a food without one."""
    for categories, words, unless, verdicts, why in _coats():
        worn = words.search(description) if categories.search(category) else None
        if worn and not (unless and unless.search(description)):
            return tuple(
                Hit(tag, verdict, worn[0], "the food", "what its coat is made of", why) for tag, verdict in verdicts.items()
            )
    return ()


def plain_words(text: str) -> str:
    """The words as the rules read them: lower case, with the names of other things put out of the way.

    >>> plain_words("Coconut milk and butternut squash")
    'coconut and squash'
    """
    text = text.lower().replace("’", "'")
    for pattern, reads_as in _innocent():
        text = pattern.sub(reads_as, text)
    return text


@functools.lru_cache(maxsize=20_000)
def hits_of_words(text: str, where: str) -> tuple[Hit, ...]:
    """At most one hit a tag, "contains" before "check the label".

    >>> [(hit.tag, hit.verdict) for hit in hits_of_words("2 tbsp soy sauce", "the line")][:2]
    [('wheat', 'contains'), ('soy', 'contains')]
    """
    text = plain_words(text)
    free = {tag for words, tags in _FREE_WORDS if re.search(words, text) for tag in tags.split()}
    found: dict[str, Hit] = {}
    for rule in _rules():
        match = rule.words.search(text)
        if not match:
            continue
        verdict = CHECK if rule.verdict == "check" else CONTAINS
        look_for, source = rule.look_for, rule.source
        if verdict == CONTAINS and rule.tag in free:
            verdict, look_for = CHECK, "it calls itself free of this: the label must say so"
        hit = Hit(rule.tag, verdict, match[0], where, look_for, source)
        if rule.tag not in found or (found[rule.tag].verdict, verdict) == (CHECK, CONTAINS):
            found[rule.tag] = hit
    wheat, gluten = found.get("wheat"), found.get("gluten")
    if wheat and (not gluten or (gluten.verdict, wheat.verdict) == (CHECK, CONTAINS)):
        found["gluten"] = Hit("gluten", wheat.verdict, wheat.word, where, wheat.look_for, wheat.source)
    return tuple(found.values())


@functools.lru_cache(maxsize=10_000)
def hits_of_description(description: str, category: str) -> tuple[Hit, ...]:
    """What a food holds by its description, and by its kind when foods of that kind are made of others."""
    hits = _strongest((*hits_of_words(description, "the food"), *_coat_of(description, category)))
    named = {hit.tag for hit in hits}
    for pattern, tags, look_for in _compounds():
        if pattern.search(category) and not _is_plain(description):
            source = f"common practice: foods of the kind “{category}” are made of others"
            hits += tuple(
                Hit(tag, CHECK, description, "the food", look_for, source) for tag in tags if tag not in named
            )
            break
    return hits


def _strongest(hits: Sequence[Hit]) -> tuple[Hit, ...]:
    """One hit a tag: the first that contains it, else the first."""
    found: dict[str, Hit] = {}
    for hit in hits:
        if hit.tag not in found or (found[hit.tag].verdict, hit.verdict) == (CHECK, CONTAINS):
            found[hit.tag] = hit
    return tuple(found.values())


def hits_of_food(food_id: str) -> tuple[Hit, ...]:
    """What a food of the table holds."""
    food = foods().by_id(food_id)
    return hits_of_description(food.description, food.category)


#: Foods that stand in a compound category and yet are one thing.
_PLAIN = re.compile(
    r"^(sugars?|honey|molasses|syrups?, (corn|maple|sorghum|cane)|sweeteners?|vinegar|salt|oil|cornstarch|"
    r"[a-z ]+ oil$|coconut aminos|jams|jell|marmalade|pectin|cereals, oats|oat bran|nutritional yeast|candies, hard|gums|chutney|"
    r"baking chocolate|beverages, coffee|snacks, rice cakes|potato chips, plain|syrup|cream, |crème fraîche|"
    r"leavening agents|water|olives|pickles?|capers|gelatin|agave|sauce, (tomato|ready-to-serve, pepper)|tomato|"
    r"soy sauce|sauce, (fish|worcestershire|oyster|hoisin|soy|plum|pepper|hot)|sauce, ready-to-serve, (pepper|hot)|"
    r"tortillas, [^|]*corn|mustard, prepared|catsup|xanthan|psyllium|popcorn|snacks, popcorn, air|egg, white|corn grain|salsa)",
    re.I,
)


def _is_plain(description: str) -> bool:
    return bool(_PLAIN.match(description))


def hits_of_line(line: Line) -> tuple[Hit, ...]:
    """What one line shows. A line without a food, or one that may be several, is checked for what it may be."""
    hits = list(hits_of_words(line.text, "the line")) if line.words_hold else []
    if line.food_id:
        own = hits_of_food(line.food_id)
        says_free = {hit.tag for hit in hits if hit.verdict == CHECK and "calls itself" in hit.look_for}
        hits += [_softened(hit) if hit.tag in says_free else hit for hit in own]
    if line.sure == "check":
        for other in line.others:
            hits += [_softened(hit, "it may be another product than the one counted") for hit in hits_of_food(other)]
    if line.is_food_open and not line.is_of_a_kind:
        # Nobody has said yet which food it is: what it may be is not ruled out, whatever its candidates are.
        seen, may_be = {hit.tag for hit in hits}, ALLERGENS if line.food_id else TAGS
        look_for = "everything: which food this is, is not settled" if line.food_id else "everything: no food was found for this line"
        hits += [Hit(tag, CHECK, line.text, "the line", look_for, "unknown food") for tag in may_be if tag not in seen]
    return tuple(hits)


def _softened(hit: Hit, look_for: str = "it calls itself free of this: the label must say so") -> Hit:
    return Hit(hit.tag, CHECK, hit.word, hit.where, look_for, hit.source)


def find(lines: Sequence[Line], tags: Iterable[str] = tuple(ALLERGENS), allergen_list: str = "") -> list[Finding]:
    """One finding a tag that shows, "contains" first. `allergen_list`: "eu" makes pine nuts a matter of the label.

    Raises KeyError for a tag that is not known.
    """
    by_tag: dict[str, list[tuple[int, Hit]]] = {tag: [] for tag in tags if TAGS[tag]}
    for position, line in enumerate(lines):
        if line.high <= 0 and line.grams is not None:
            continue
        for hit in hits_of_line(line):
            if hit.tag in by_tag:
                if allergen_list == "eu" and "US list" in hit.look_for:
                    hit = _softened(hit, hit.look_for)
                by_tag[hit.tag].append((position, hit))
    findings = []
    for tag, hits in by_tag.items():
        if hits:
            verdict = CONTAINS if any(hit.verdict == CONTAINS for _, hit in hits) else CHECK
            first: dict[int, Hit] = {}
            for position, hit in hits:
                if hit.verdict == verdict:
                    first.setdefault(position, hit)
            telling, where = tuple(first.items()), set(first)
            also = {position for position, _ in hits} - where
            findings.append(Finding(tag, verdict, tuple(sorted(where)), telling, tuple(sorted(also))))
    return sorted(findings, key=lambda finding: finding.verdict != CONTAINS)
