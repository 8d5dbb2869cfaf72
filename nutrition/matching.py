"""Food words -> food, with how sure.

Curated cooks' names come first (tables/cooks_names.tsv, and a practice's own corrections before
them), then token similarity over the food table. What a diet depends on and the words leave open is
never "sure": such names carry the question to ask.
"""

import functools
import math
import re
import unicodedata
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from rapidfuzz import fuzz, process

from .composition import FoodTable, foods, plain_name, read_table

SURENESS = ("sure", "likely", "check")

_KEEP = frozenset(
    [
        "molasses",
        "swiss",
        "hummus",
        "couscous",
        "asparagus",
        "citrus",
        "octopus",
        "brussels",
        "bass",
        "grass",
        "watercress",
        "cress",
        "schnapps",
        "haas",
        "hass",
        "kaas",
        "us",
        "lotus",
        "glass",
        "00s",
        "chess",
    ]
)
_IRREGULAR = {
    "leaves": "leaf", "halves": "half", "loaves": "loaf", "olives": "olive", "chives": "chive",
    "cloves": "clove", "endives": "endive", "tomatoes": "tomato", "potatoes": "potato", "mangoes": "mango",
    "chilies": "chili", "chillies": "chilli", "chiles": "chili", "chile": "chili", "chilis": "chili",
    "cookies": "cookie", "yoghurt": "yogurt", "houmous": "hummus", "brussels": "brussel", "fillets": "fillet",
    "filet": "fillet", "filets": "fillet", "tinned": "canned", "tin": "canned", "tins": "canned",
    "can": "canned", "cans": "canned", "colour": "color", "flavoured": "flavored", "wholewheat": "wholewheat",
    "knives": "knife", "geese": "goose", "anchovies": "anchovy", "prunes": "prune", "radishes": "radish",
    "skinned": "skinless", "flour.": "flour",
}  # fmt: skip
_PHRASES = [
    (re.compile(pattern), replacement)
    for pattern, replacement in (
        (r"\bno added salt\b|\bno salt\b(?! added)|\bsalt free\b|\bwithout (?:added )?salt\b|\bwith no salt added\b|\bno salt added\b", "no salt added"),
        (r"\b(low|reduced|less|lower|light|lite) (?:in )?(?:salt|sodium)\b", lambda m: {"less": "reduced", "lower": "low", "light": "reduced", "lite": "reduced"}.get(m[1], m[1]) + " sodium"),
        (r"\b(beef|lamb|pork|turkey|chicken|veal) mince\b", r"ground \1"),
        (r"\bminced (beef|lamb|pork|turkey|chicken|veal)\b", r"ground \1"),
        (r"\bsteak mince\b", "ground beef"),
        (r"\bgluten free\b", "gluten free"),
        (r"\bnon dairy\b|\bdairy free\b|\bnondairy\b", "dairy free"),
        (r"\bunpeeled\b", " "),
        (r"\bskin on\b", "with skin"),
        (r"\bnon ?fat\b", "nonfat"),
        (r"\blow ?fat\b", "low fat"),
        (r"\bfull ?fat\b", "full fat"),
        (r"\bwhole ?meal\b", "wholemeal"),
        (r"\bwhole ?grain\b", "wholegrain"),
        (r"\bbread ?crumb(s?)\b", r"breadcrumb\1"),
        (r"\bcorn ?flour\b(?=.*\bcornflour\b)", "cornflour"),
    )
]  # fmt: skip
#: Words that change neither the food nor its numbers.
_HARMLESS = frozenset(
    ["a", "an", "the", "of", "and", "or", "with", "in", "to", "for", "into", "from", "at", "on", "by", "plus", "about", "approximately", "your", "own", "favorite", "favourite", "fresh", "freshly", "large", "small", "medium", "big", "baby", "mini", "jumbo", "ripe", "organic", "good", "quality", "best", "finely", "roughly", "coarsely", "thinly", "thickly", "lightly", "chopped", "diced", "sliced", "minced", "grated", "crushed", "peeled", "halved", "half", "quartered", "cut", "trimmed", "washed", "softened", "melted", "soft", "cold", "warm", "hot", "cool", "chilled", "room", "temperature", "beaten", "piece", "chunk", "cube", "strip", "wedge", "round", "slice", "optional", "packed", "heaped", "level", "heaping", "scant", "firmly", "extra", "more", "deseeded", "seeded", "cored", "rinsed", "pitted", "stoned", "shelled", "torn", "picked", "whole", "stemmed", "ground", "cooked", "uncooked", "raw", "shredded", "store", "bought", "homemade", "prepared", "divided", "drained", "boneless", "skinless", "free", "range", "matchstick", "ring", "floret", "stalk", "stick", "head", "bunch", "sprig", "leaf", "handful", "knob", "clove", "bulb", "rib", "ear", "cob", "rasher", "size", "sized", "inch", "cm", "thick", "thin", "long", "preferably", "ideally", "such", "brand", "unpeeled", "scrubbed", "cleaned", "boiling", "squeezed", "juiced", "zested", "toasted", "crumbled", "cubed", "julienned", "mashed", "sifted", "lukewarm", "tepid", "iced", "filtered", "lean", "bite", "bitesize", "fine", "coarse", "only", "plain", "white", "dark", "light", "natural", "pure", "real", "premium", "thawed", "defrosted", "each", "one", "two", "mature", "young", "tender", "stale", "day", "old", "snipped", "shaved", "flaked", "bruised", "smashed", "pounded", "split", "deveined", "tail", "removed", "filleted", "deboned", "boned", "rolled", "tied", "lump", "vine", "ripened", "english", "italian", "french", "spanish", "greek", "mexican", "american", "canned", "jarred", "dried", "dry", "frozen", "block", "bottled", "cooking", "unsweetened", "season", "seasoning", "well", "taste", "serve", "serving", "garnish", "greasing", "frying", "generously", "needed", "desired"]
)  # fmt: skip
#: Words of preparation, comment or unit that may name another food ("drained" beans, "frozen" peas).
_STATES = frozenset(
    [
        "canned",
        "drained",
        "rinsed",
        "frozen",
        "dried",
        "dry",
        "cooked",
        "unsalted",
        "salted",
        "skinless",
        "lean",
        "fat",
        "no",
        "salt",
        "added",
        "low",
        "reduced",
        "sodium",
        "unsweetened",
        "sweetened",
        "boiled",
        "roasted",
        "smoked",
        "pickled",
        "jarred",
        "shredded",
        "bone",
        "skin",
        "ground",
    ]
)
#: A name that uses one of these, when the line says it, is nearer than one that does not.
_TELLING = frozenset(
    [
        "canned",
        "drained",
        "rinsed",
        "frozen",
        "dried",
        "cooked",
        "smoked",
        "pickled",
        "ground",
        "roasted",
        "light",
        "low",
        "reduced",
        "nonfat",
        "lean",
        "unsalted",
    ]
)
#: Left over from the match, these may change what a diet depends on.
_CRITICAL = frozenset(
    [
        "unsalted",
        "salted",
        "sodium",
        "added",
        "sugar",
        "free",
        "vegan",
        "dairy",
        "nondairy",
        "gluten",
        "fat",
        "lean",
        "low",
        "reduced",
        "lite",
        "light",
        "sweetened",
        "lactose",
        "milk",
        "nut",
        "wheat",
        "soy",
        "egg",
        "smoked",
        "cured",
        "flavored",
        "seasoned",
        "breaded",
        "battered",
        "stuffed",
        "marinated",
        "candied",
    ]
)


@dataclass(frozen=True, slots=True)
class Match:
    """A food for some words. `row` is -1 when nothing fits. `ask`: what the words leave open; `name`: the cook's name found.

    `is_of_a_kind`: what is open is only which of the foods named it is (`row` and `others`), never something else.
    """

    row: int
    sure: str
    why: str
    ask: str = ""
    others: tuple[int, ...] = ()
    name: str = ""
    is_of_a_kind: bool = False


def singular(word: str) -> str:
    """English plurals of kitchen words.

    >>> [singular(w) for w in ("tomatoes", "berries", "peaches", "olives", "couscous", "peas")]
    ['tomato', 'berry', 'peach', 'olive', 'couscous', 'pea']
    """
    if word in _IRREGULAR:
        return _IRREGULAR[word]
    if word in _KEEP or len(word) < 4 or word.endswith(("ss", "us", "is")):
        return word
    if word.endswith("ies"):
        return word[:-3] + "y"
    if word.endswith(("ches", "shes", "xes", "sses", "oes")):
        return word[:-2]
    return word[:-1] if word.endswith("s") else word


def normalized(text: str) -> str:
    """Lower case, no accents, no punctuation, singular, spellings brought together."""
    text = unicodedata.normalize("NFKD", text.lower())
    text = "".join(c for c in text if not unicodedata.combining(c)).replace("ø", "o").replace("&", " and ")
    text = re.sub(r"[’']s\b|['’]", "", text)
    text = re.sub(r"(\d{2})\s*/\s*(\d{1,2})\b", r"\1% lean", text)
    text = re.sub(r"(\d+)\s*(?:%|percent|per cent)", r"\1% ", text)
    text = re.sub(r"[^a-z0-9%]+", " ", text)
    text = " ".join(text.split())
    for pattern, replacement in _PHRASES:
        text = pattern.sub(replacement, text)
    return " ".join(singular(word) for word in text.split())


_LEAN_GRADES = {"beef": (70, 75, 80, 85, 90, 93, 95, 97), "turkey": (85, 93, 99)}


def _grade(words: str) -> str:
    """Bring "88% lean" or "12% fat" mince to the nearest grade the table has."""
    meat = next((m for m in _LEAN_GRADES if m in words), None)
    found = re.search(r"(\d{1,2})% (lean|fat)\b", words) or re.search(r"\b(lean) (\d{1,2})%", words)
    if not meat or "ground" not in words or not found:
        return words
    percent = int(next(g for g in found.groups() if g.isdigit()))
    lean = percent if percent > 50 else 100 - percent
    nearest = min(_LEAN_GRADES[meat], key=lambda grade: abs(grade - lean))
    return words.replace(found[0], f"{nearest}% lean")


#: A food as it comes from the field or the freezer, and its plain canned kinds.
_FRESH = re.compile(r"\braw$|, raw,|\bfrozen\b|^Lychee$")
_CANNED_PLAIN = re.compile(
    r"^(?!.*(with oil|fat added|NS as to|pickled|harvard|no salt|reduced|fat, )).*\bcanned\b", re.I
)


@dataclass(frozen=True, slots=True)
class _Name:
    tokens: tuple[str, ...]
    row: int
    sure: str
    ask: str
    others: tuple[int, ...]


class Matcher:
    """Names and food table, indexed. One a process: see `matcher()`."""

    def __init__(self, table: FoodTable, names: list[dict[str, str]]):
        self.table = table
        self._names: list[_Name] = []
        self._by_token: dict[str, list[int]] = defaultdict(list)
        self._exact: dict[frozenset[str], int] = {}
        self._cook_name: dict[int, tuple[int, str]] = {}
        for row in names:
            self._add(row)
        self._search = _Search(table)

    def _add(self, row: dict[str, str]) -> None:
        food = self.table.by_description(row["food"]).row
        others = tuple(self.table.by_description(d).row for d in row["or"].split(" | ") if d)
        rank = SURENESS.index(row["sure"])
        if rank < self._cook_name.get(food, (9, ""))[0]:
            self._cook_name[food] = (rank, row["names"].split("|")[0])
        for name in row["names"].split("|"):
            tokens = tuple(normalized(name).split())
            position = len(self._names)
            self._names.append(_Name(tokens, food, row["sure"], row["ask"], others))
            for token in set(tokens):
                self._by_token[token].append(position)
            self._exact.setdefault(frozenset(tokens), position)

    def match(self, name: str, hints: str = "", aliases: Mapping[str, str] | None = None) -> Match:
        """The food for `name`. `hints`: preparation, comment, unit. `aliases`: normalized words -> food id.

        >>> m = matcher().match("unsalted butter")
        >>> foods().descriptions[m.row], m.sure
        ('Butter, without salt', 'sure')
        """
        words = _grade(normalized(name))
        hint_words = _grade(" ".join(dict.fromkeys(normalized(f"{name} {hints}").split())))
        states = tuple(w for w in hint_words.split() if w in _STATES or re.fullmatch(r"\d+%", w))
        if "rinsed" in states and "canned" in states and "drained" not in states:
            states = (*states, "drained")  # what comes out of a can is not rinsed with its liquid
        if aliases:
            for key in (f"{words} {' '.join(states)}".strip(), words):
                if key in aliases:
                    return Match(int(self.table.rows([aliases[key]])[0]), "sure", "your practice's own name", name=key)
        return self._match(words, states)

    @functools.lru_cache(maxsize=20_000)  # noqa: B019 - the matcher lives as long as the process
    def _match(self, words: str, states: tuple[str, ...]) -> Match:
        tokens = words.split()
        if not tokens:
            return Match(-1, "check", "no food words were read")
        best = self._best_name(tokens, states)
        if best is None:
            return self._by_similarity(words)
        left = [t for t in tokens if t not in best.tokens and t not in _HARMLESS and not self._also_names(t, best.row)]
        unused = [t for t in states if t in _CRITICAL and t not in best.tokens and t not in tokens]
        if left:
            similar = self._search.all_words(tokens)
            if similar is not None and not best.ask:
                return Match(similar, "likely", "all its words, in the food table")
            known = any(t in self._by_token or t in self._search.vocabulary for t in left)
            sure = "check" if known or len(left) > 1 else "likely"
            said = " ".join(left)
            ask = best.ask or f"“{said}” was not used: does it matter?"
            if "canned" in states and _FRESH.search(self.table.descriptions[best.row]):
                canned = self._from_a_can(best)
                return Match(canned.row, "check", canned.why, canned.ask or ask, canned.others)
            return Match(best.row, sure, f"read as {' '.join(best.tokens)}", ask, best.others, " ".join(best.tokens))
        sure = best.sure
        if "canned" in states and _FRESH.search(self.table.descriptions[best.row]):
            return self._from_a_can(best)
        if unused and sure == "sure" and not {"fat", "low", "salt", "added", "free"} >= set(unused):
            sure = "likely"
        name = " ".join(best.tokens)
        return Match(best.row, sure, f"a cook's name: {name}", best.ask, best.others, name, bool(best.ask))

    def _from_a_can(self, best: _Name) -> Match:
        """The words say a can, the name they found is of the fresh food: its canned kind, if the table has one.

        What stands in a can holds salt or syrup; the fresh food is never taken for it as sure.
        """
        said = f"a cook's name: {' '.join(best.tokens)}"
        if self.table.categories[best.row] == "Legumes and Legume Products":
            return Match(best.row, "check", said, "from a can, or dry?", best.others)
        head = self.table.descriptions[best.row].split(",")[0].rstrip("s")
        kinds = [
            row
            for row, description in enumerate(self.table.descriptions)
            if description.split(",")[0].rstrip("s") == head and _CANNED_PLAIN.search(description)
        ]
        if not kinds:
            return Match(
                best.row, "check", said, "from a can? counted as fresh: canned holds salt or sugar", best.others
            )
        kinds.sort(key=lambda row: ("drained" not in self.table.descriptions[row], len(self.table.descriptions[row])))
        return Match(kinds[0], "likely", f"{said}, canned", "", tuple(dict.fromkeys([*kinds[1:4], best.row])))

    def _also_names(self, token: str, row: int) -> bool:
        """Whether a word left over is another name of the same food ("rotini" of pasta)."""
        position = self._exact.get(frozenset((token,)))
        return position is not None and self._names[position].row == row

    def _best_name(self, tokens: list[str], states: tuple[str, ...]) -> _Name | None:
        have, hinted = set(tokens), set(tokens) | set(states)
        exact = self._exact.get(frozenset(tokens))
        counts: dict[int, int] = defaultdict(int)
        for token in hinted:
            for position in self._by_token.get(token, ()):
                counts[position] += 1
        best, best_score = None, (-1.0,)
        for position, count in counts.items():
            name = self._names[position]
            if count < len(set(name.tokens)):
                continue
            own = sum(1 for t in name.tokens if t in have)
            if own == 0 or (
                all(t in _STATES for t in name.tokens if t in have and t not in ("salt",)) and "salt" not in name.tokens
            ):
                continue
            heads = name.tokens[-1] == tokens[-1]
            together = " ".join(name.tokens) in " ".join(tokens)
            weighty = sum(0.5 if t in _HARMLESS else 1.0 for t in name.tokens)
            told = sum(1 for t in name.tokens if t in _TELLING)
            score = (weighty + 1.0 * told + 0.45 * heads + 0.3 * together, len(name.tokens), position == exact)
            if score > best_score:
                best, best_score = name, score
        return best

    def _by_similarity(self, words: str) -> Match:
        hits = self._search.ranked(words, 5)
        if not hits:
            return Match(-1, "check", "no food is called anything like this", "which food is this?")
        row, score = hits[0]
        asked = set(words.split())
        exact = asked <= self._search.tokens_of(row)
        if not asked & self._search.tokens_of(row) or score < 0.3:
            others = tuple(r for r, _ in hits)
            return Match(-1, "check", "the words are not in the tables", "which food is this?", others)
        return Match(
            row,
            "likely" if exact and score > 0.6 else "check",
            "the nearest description in the food table",
            "" if exact else "the words are not in the tables: is this the food?",
            tuple(r for r, _ in hits[1:]),
        )

    def cook_name(self, row: int) -> str:
        """What a cook calls the food of this row; its description without fine print when nobody named it."""
        if row not in self._cook_name:
            return plain_name(self.table.descriptions[row])
        name = self._cook_name[row][1]
        return re.sub(r" drained( rinsed)?$", lambda m: ", drained" + (" and rinsed" if m[1] else ""), name)

    def search(self, words: str, limit: int = 20) -> list[int]:
        """Rows for a typed search: cooks' names first, then descriptions; typos are forgiven."""
        words = normalized(words)
        if not words:
            return []
        found: dict[int, None] = {}
        exact = self._best_name(words.split(), ())
        if exact and set(words.split()) <= set(exact.tokens) | _HARMLESS:
            found[exact.row] = None
            found.update(dict.fromkeys(exact.others))
        for row, _ in self._search.ranked(words, limit, prefix=True):
            found.setdefault(row)
        return list(found)[:limit]


class _Search:
    """Token similarity over descriptions: inverse document frequency, plain and raw foods first."""

    def __init__(self, table: FoodTable):
        postings: dict[str, list[int]] = defaultdict(list)
        self._tokens = [frozenset(normalized(d).split()) for d in table.descriptions]
        for row, tokens in enumerate(self._tokens):
            for token in tokens:
                postings[token].append(row)
        count = len(table)
        self.vocabulary = {t: np.array(rows, dtype=np.intp) for t, rows in postings.items()}
        self._weight = {t: math.log(1 + count / len(rows)) for t, rows in self.vocabulary.items()}
        self._all = list(self.vocabulary)
        length = np.array([sum(self._weight[t] for t in tokens) for tokens in self._tokens], dtype=np.float32)
        self._length = np.maximum(length, 1.0)
        bonus = {"SR Legacy": 0.03, "Curated": 0.04, "Foundation": 0.02}
        raw = np.array(["raw" in tokens for tokens in self._tokens])
        plain = np.array([bonus.get(kind, 0.0) for kind in table._text["kinds"]], dtype=np.float32)
        self._bonus = plain + 0.04 * raw

    def tokens_of(self, row: int) -> frozenset[str]:
        return self._tokens[row]

    def all_words(self, tokens: list[str]) -> int | None:
        """The plainest food whose description has every word, when one clearly has."""
        wanted = [t for t in tokens if t not in ("fresh", "large", "small", "of")]
        if not wanted or any(t not in self.vocabulary for t in wanted):
            return None
        hits = [(row, score) for row, score in self.ranked(" ".join(wanted), 3) if set(wanted) <= self._tokens[row]]
        return hits[0][0] if hits and hits[0][1] > 0.62 else None

    def ranked(self, words: str, limit: int, *, prefix: bool = False) -> list[tuple[int, float]]:
        """(row, score 0 to about 1), best first."""
        wanted: dict[str, float] = {}
        parts = words.split()
        for position, word in enumerate(parts):
            if word in self.vocabulary:
                wanted[word] = 1.0
            if prefix and position == len(parts) - 1 and len(word) > 2:
                wanted.update({t: 0.9 for t in self._all if t.startswith(word) and t not in wanted})
            elif word not in self.vocabulary and len(word) > 3:
                near = process.extract(word, self._all, scorer=fuzz.ratio, limit=2, score_cutoff=80)
                wanted.update({t: 0.7 * score / 100 for t, score, _ in near})
        if prefix and not wanted and parts:
            near = process.extract(parts[-1], self._all, scorer=fuzz.ratio, limit=3, score_cutoff=70)
            wanted.update({t: 0.7 * score / 100 for t, score, _ in near})
        if not wanted:
            return []
        score = np.zeros(len(self._tokens), dtype=np.float32)
        for token, share in wanted.items():
            score[self.vocabulary[token]] += share * self._weight[token]
        asked = sum(self._weight.get(w, 6.0) for w in parts) or 1.0
        score = 2 * score / (np.minimum(self._length, 3 * asked) + asked) + np.where(score > 0, self._bonus, 0)
        best = np.argpartition(-score, min(limit, len(score) - 1))[:limit]
        best = best[np.argsort(-score[best], kind="stable")]
        return [(int(row), float(score[row])) for row in best if score[row] > 0]


@functools.cache
def matcher() -> Matcher:
    """The matcher over the project's own tables, built once a process."""
    return Matcher(foods(), read_table("cooks_names.tsv"))


def cook_name(food_id: str) -> str:
    """What a cook calls a food of the table."""
    return matcher().cook_name(foods().by_id(food_id).row)
