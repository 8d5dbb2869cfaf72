"""What foods are called: cooks' words brought together for comparing, and the name a cook knows a food by."""

import functools
import re
import unicodedata

from nutrition.food.table import foods, remembered
from nutrition.tables import pattern, read_table, words_of

#: How sure a cook's name is of its food, from the surest: the name on a screen is the surest one's.
_RANK = {"sure": 0, "likely": 1, "check": 2}


def plain_name(description: str) -> str:
    """A description without the table's fine print; never empty. Of a long one the first four parts, and all that say how it is cooked,
    kept or salted.

    >>> plain_name("Squash, summer, zucchini, includes skin, raw")
    'Squash, summer, zucchini'
    >>> plain_name("Collards, frozen, chopped, cooked, boiled, drained, with salt")
    'Collards, frozen, chopped, cooked, boiled, drained, with salt'
    """
    first, *rest = re.sub(r" \([^)]*\)", "", description).split(", ")
    parts = [first, *(part for part in rest if not pattern("fine_print").fullmatch(part))]
    return ", ".join([*parts[:4], *(part for part in parts[4:] if pattern("says_state").search(part))])


@functools.lru_cache(maxsize=20_000)
def singular(word: str) -> str:
    """English plurals of kitchen words.

    >>> [singular(w) for w in ("tomatoes", "berries", "peaches", "olives", "couscous", "peas")]
    ['tomato', 'berry', 'peach', 'olive', 'couscous', 'pea']
    """
    if word in words_of("spelling"):
        return words_of("spelling")[word]
    if word in words_of("singular") or len(word) < 4 or word.endswith(("ss", "us", "is")):
        return word
    if word.endswith("ies"):
        return word[:-3] + "y"
    if word.endswith(("ches", "shes", "xes", "sses", "oes")):
        return word[:-2]
    return word[:-1] if word.endswith("s") else word


@functools.cache
def _phrases() -> tuple[re.Pattern[str], list[tuple[re.Pattern[str], str]]]:
    """Whether any phrase is there at all, and each with what it is read as."""
    rows = read_table("phrases.tsv")
    each = [(row.pattern("phrase", around=r"\b(?:{})\b"), row["reads_as"]) for row in rows]
    some = "|".join(rf"\b(?:{re.sub(r'[(](?![?])', '(?:', row['phrase'])})\b" for row in rows)
    return re.compile(some), each


@functools.lru_cache(maxsize=50_000)
def normalized(text: str) -> str:
    """Lower case, no accents, no punctuation, singular, spellings brought together."""
    text = text.lower().replace("&", " and ")
    if not text.isascii():
        text = unicodedata.normalize("NFKD", text)
        text = "".join(c for c in text if not unicodedata.combining(c)).replace("ø", "o")
    text = re.sub(r"[’']s\b|['’]", "", text)
    if any(map(str.isdigit, text)):
        text = re.sub(r"(\d{2})\s*/\s*(\d{1,2})\b", r"\1% lean", text)
        text = re.sub(r"(\d+)\s*(?:%|percent|per cent)", r"\1% ", text)
    text = " ".join(re.sub(r"[^a-z0-9%]+", " ", text).split())
    some, phrases = _phrases()
    if some.search(text):
        for phrase, replacement in phrases:
            text = phrase.sub(replacement, text)
    return " ".join(singular(word) for word in text.split())


@functools.cache
def _first_names() -> dict[str, str]:
    """Description in lower case -> the first name of the surest row of cooks_names.tsv."""
    found: dict[str, tuple[int, str]] = {}
    for row in read_table("cooks_names.tsv"):
        food, rank = row["food"].lower(), _RANK[row.one_of("sure", _RANK)]
        if rank < found.get(food, (9, ""))[0]:
            found[food] = rank, row["names"].split("|")[0]
    return {food: name for food, (_, name) in found.items()}


@functools.cache
def _sure_names() -> dict[str, tuple[str, ...]]:
    """Description in lower case -> every name a cook surely calls it by."""
    found: dict[str, tuple[str, ...]] = {}
    for row in read_table("cooks_names.tsv"):
        if row["sure"] == "sure":
            food = row["food"].lower()
            found[food] = (*found.get(food, ()), *row["names"].split("|"))
    return found


@remembered
def is_water(food_id: str) -> bool:
    """Whether this is water as it comes from the tap, which nobody buys."""
    return foods().by_id(food_id).description.startswith(("Beverages, water", "Water, tap"))


def all_names(food_id: str) -> tuple[str, ...]:
    """Everything a food is called: by cooks of every kitchen and by the table; nothing once the table lacks it."""
    if not foods().has_id(food_id):
        return ()
    description = foods().by_id(food_id).description
    return tuple(dict.fromkeys((description, cook_name(food_id), *_sure_names().get(description.lower(), ()))))


@remembered
def cook_name(food_id: str) -> str:
    """What a cook calls a food; its description without fine print when nobody named it.

    >>> cook_name("usda:sr/dodo")
    'a food that is no longer in the table'
    """
    if not foods().has_id(food_id):
        return "a food that is no longer in the table"
    description = foods().by_id(food_id).description
    name = _first_names().get(description.lower())
    if name is None:
        return plain_name(description)
    return re.sub(r" drained( rinsed)?$", lambda m: ", drained" + (" and rinsed" if m[1] else ""), name)
