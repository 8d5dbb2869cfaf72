"""An ingredient line as text -> amounts, food words, preparation, vagueness.

`ingredient-parser-nlp` labels the words; this module brings its answer into the few units the core
knows and adds what it does not say: headings, vague amounts, and whose kitchen the words come from.
"""

import functools
import html
import re
import unicodedata
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from nutrition.food.units import GRAMS, ML
from nutrition.reading.tagger import tagger
from nutrition.tables import pattern, read_table, words_of

_HEADING = re.compile(r"^(?:for (?:the|an?|your)\b.*|.*:)$", re.I)
_BULLET = re.compile(r"^\s*(?:[-*•·▢□☐◦‣▪–—]+|\(\d+\)|\d+[.)](?=\s))\s*")
_LEAD_IN = re.compile(
    r"^(?P<one>an?\s+)?(?:(?:about|approx(?:imately|\.)?|around|roughly|scant|heaping|heaped|level|rounded)\s+)+", re.I
)
#: Soft hyphens, direction marks, zero-width joiners and the like, which change nothing a cook reads.
_INVISIBLE = re.compile("[\u00ad\u034f\u061c\u115f\u180e\u200b-\u200f\u202a-\u202e\u2060-\u206f\ufe00-\ufe0f\ufeff]")


@dataclass(frozen=True, slots=True)
class Amount:
    """A stated amount; `low` and `high` differ for a range. `kind`: weight, volume, package or count.

    `unit` is one of units.GRAMS, units.ML, the packages of vocabulary.tsv, a count word ("clove") or "each".
    `of_each` marks the size of one piece, as in "4 fillets (150 g each)".
    """

    low: float
    high: float
    unit: str
    kind: str
    of_each: bool = False

    @property
    def middle(self) -> float:
        return (self.low + self.high) / 2


@dataclass(frozen=True, slots=True)
class ParsedLine:
    """What the words of one line say; no food is chosen and nothing is weighed yet."""

    text: str
    names: tuple[str, ...] = ()
    amounts: tuple[Amount, ...] = ()
    size: str = ""
    preparation: str = ""
    comment: str = ""
    vague: str = ""
    extra: bool = False
    minus: bool = False
    is_unread: bool = False
    kitchen: str = "us"


@functools.cache
def _vague_cues() -> list[tuple[str, re.Pattern[str]]]:
    return [(row.text("cue"), row.pattern("words", re.I)) for row in read_table("vague_cues.tsv")]


class _Plain(dict[int, int | None]):
    """For str.translate: what is kept of each character, found out once: no emoji, no half letters, no controls."""

    def __missing__(self, code: int) -> int | None:
        letter = chr(code)
        is_odd = unicodedata.category(letter) in ("So", "Cs", "Cn", "Co", "Cc") and letter != "°"
        kept = self[code] = None if is_odd else code
        return kept


_PLAIN = _Plain()


def visible(text: str) -> str:
    """The text as an eye reads it: without marks that show nothing, every letter in one character.

    >>> visible("salt\u00ad ed n\u0303")
    'salt ed ñ'
    """
    return unicodedata.normalize("NFC", _INVISIBLE.sub("", text))


def clean(text: str) -> str:
    """One line of plain text: markup, bullets, emoji and invisible characters taken out."""
    text = visible(html.unescape(re.sub(r"<[^<>]{0,200}>", " ", text)))
    return " ".join(_BULLET.sub("", text.translate(_PLAIN)).split())


def is_heading(text: str) -> bool:
    """ "For the sauce", "Topping:" - a heading names a part and holds no amount.

    >>> is_heading("For the sauce:"), is_heading("For the pan: 1 tbsp oil"), is_heading("2 eggs")
    (True, False, False)
    """
    text = clean(text)
    return bool(text) and len(text) <= 60 and not re.search(r"\d|[½¼¾⅓⅔]", text) and bool(_HEADING.match(text))


def kitchen_of(text: str) -> str:
    """ "uk" when the words are British, else "us": it decides pints and fluid ounces."""
    return "uk" if pattern("british").search(text) else "us"


def warm() -> None:
    """Load the tagger now (two seconds) rather than at the first paste."""
    tagger()("1 cup milk")


def _unit(unit: object) -> tuple[str, str]:
    word = re.sub(
        r"^(?:(?:very )?(?:small|large|big|good|generous|medium|heaped|level) )+",
        "",
        str(unit).lower().strip().rstrip("."),
    )
    word = re.sub(r"^(?:imperial|metric|us|aus)_", "", word)
    word = words_of("unit").get(word, word)
    if word not in GRAMS and word not in ML and word.endswith("s") and not word.endswith("ss"):
        single = word[:-2] if word.endswith(("ches", "shes", "xes")) else word[:-1]
        single = {"leave": "leaf", "loave": "loaf", "halve": "half", "bunche": "bunch"}.get(single, single)
        word = words_of("unit").get(single, single)
    if word in GRAMS:
        return word, "weight"
    if word in ("dash", "pinch"):
        return word, "count"
    if word in ML:
        return word, "volume"
    if word in words_of("package"):
        return word, "package"
    return (word or "each"), "count"


def _number(value: object) -> float | None:
    try:
        return float(value) if isinstance(value, (int, float, Fraction)) else None
    except OverflowError:  # "1e400 cups"
        return None


def _amounts(parsed: Any) -> tuple[Amount, ...]:
    found = []
    for amount in parsed.amount:
        if hasattr(amount, "amounts"):  # "1 lb 4 oz"
            parts = [(_number(part.quantity), _unit(part.unit)) for part in amount.amounts]
            kinds = {kind for _, (_, kind) in parts}
            if kinds <= {"weight"} or kinds <= {"volume"}:
                base, table = ("g", GRAMS) if kinds == {"weight"} else ("ml", ML)
                sign = -1 if getattr(amount, "subtractive", False) else 1
                values = [q * table[unit] for q, (unit, _) in parts if q is not None]
                total = values[0] + sign * sum(values[1:]) if values else 0.0
                found.append(Amount(total, total, base, parts[0][1][1]))
            continue
        low, high = _number(amount.quantity), _number(amount.quantity_max)
        if low is not None and high is not None:
            unit, kind = _unit(amount.unit)
            found.append(Amount(low, high, unit, kind, bool(amount.SINGULAR)))
    return tuple(found)


#: Measures nobody agrees on: the least and the most of one, ml (old household books; common practice).
_OLD_ML = {"gill": (118, 142), "wineglass": (60, 150), "wineglassful": (60, 150), "katori": (120, 180)}


def _as_ml(found: re.Match[str]) -> str:
    """ "2 gills" as the range of milliliters it may be."""
    count = 0.5 if found[1] in ("1/2", "½") else float(found[1][:6])
    least, most = _OLD_ML[found[2].lower()]
    return f"{count * least:g}-{count * most:g} ml"


_SPELLED = {word: number for number, word in enumerate(("one", "two", "three", "four", "five", "six"), start=1)}
_BEFORE_TAGGING: list[tuple[re.Pattern[str], str | Callable[[re.Match[str]], str]]] = [
    (
        re.compile(r"(?<![\d/.,])(\d{1,2})\s*[-–‑]\s*(\d/\d{1,2}|[½¼¾⅓⅔⅛⅜⅝⅞])(?![\d/])"),
        r"\1 \2",
    ),  # "1-1/2": one and a half
    (re.compile(r"(?<![\d.])(\d{1,3}),(\d{1,2})(?!\d)"), r"\1.\2"),  # "1,5 kg": a decimal comma
    (re.compile(r"(?<![\d.])(\d{1,3}),(\d{3})(?!\d)"), r"\1\2"),  # "1,000 g": a thousand
    (re.compile(r"(?<=\d)\s+%"), "%"),
    (
        re.compile(r"(?<=[^\W\d_]) (\d{1,2}(?:\.\d)?%)(?=\s*(?:$|[,;(]))"),
        r", \1",
    ),  # "milk 3.5%": said of it, no part of its name
    (re.compile(r"(\d)\s*[x×]\s*(?=\d)", re.I), r"\1 x "),  # "2x400g" -> "2 x 400g"
    (re.compile(r"\b(\d+(?:\.\d+)?)\s*(?:-|–)?\s*(?:oz|ounce)\.(?=\s|\))", re.I), r"\1 oz"),
    (re.compile(r"(?<=\d)\s*(?:g|gms|gr)\.?(?=\s|/|$|\)|,)", re.I), " g"),
    (re.compile(r"(?<=[\d½¼¾⅓⅔⅛])\s*(?:tblsp|tbsps?|tbs|tbl)\b\.?", re.I), " tbsp"),
    (re.compile(r"(?<=[\d½¼¾⅓⅔⅛])\s*T\b\.?"), " tbsp"),
    (re.compile(r"(?<=[\d½¼¾⅓⅔⅛])\s*t\b\.?"), " tsp"),
    (re.compile(r"(?<=\d)\s*c\.?(?=\s)"), " cup"),
    (re.compile(r"(?<=[\w½¼¾⅓⅔⅛])\s*\+\s*(?=[\d½¼¾⅓⅔⅛])"), " + "),  # "1 cup+2 tbsp"
    (re.compile(r"\bkilos?\b", re.I), "kg"),
    (
        re.compile(r"(\d{1,4}(?:\.\d+)?)\s*(?:dl|decilit(?:er|re)s?)\b", re.I),
        lambda found: f"{100 * float(found[1]):g} ml",
    ),
    (re.compile(r"\bpk[gt]s?\b\.?", re.I), "package"),
    (
        re.compile(r"^(one|two|three|four|five|six) and (?:a half|1/2|½)\b", re.I),
        lambda m: f"{_SPELLED[m[1].lower()]} 1/2",
    ),
    (re.compile(r"\b(\d+)\s*(?:&|and|\+)\s*(\d/\d|[½¼¾⅓⅔⅛])(?![\d/])", re.I), r"\1 \2"),
    (re.compile(r"\btablespoon(?:ful|sful|fuls)\b", re.I), "tbsp"),
    (re.compile(r"\bteaspoon(?:ful|sful|fuls)\b", re.I), "tsp"),
    (re.compile(r"\bcup(?:ful|sful|fuls)\b", re.I), "cup"),
    (re.compile(r"^(\d+) doz(?:en)?\b\.? (?:of )?", re.I), lambda m: f"{12 * int(m[1][:4])} "),
    (re.compile(r"^(?:a )?couple (?:of )?", re.I), "2 "),
    (re.compile(r"^(?:a|one|1) dozen ", re.I), "12 "),
    (re.compile(r"^(?:half a|½|1/2) dozen ", re.I), "6 "),
    (re.compile(r"^(?:2|two) dozen ", re.I), "24 "),
    (
        re.compile(
            r"^((?:finely |freshly )?(?:grated |squeezed )?(?:zest|juice|rind)(?: and (?:zest|juice|rind))?)"
            r"(?: of| from)? ([\d½/]+|an?|one|two|half an?) (large |small )?(lemon|lime|orange)s?\b",
            re.I,
        ),
        r"\2 \3\4, \1",
    ),
    (re.compile(r"^an? (?!few|little|bit|touch|couple|dozen)", re.I), "1 "),
    (re.compile(r"^half (?:a|an|of an?) ", re.I), "1/2 "),
    (re.compile(r"^½ (?:a|an|of an?) ", re.I), "1/2 "),
    (re.compile(r"\b(?:mugs?|teacups?)\b", re.I), "cup"),
    (
        re.compile(
            r"(?<=\d)\s*(g|kg|ml|oz|l)\s+(?:packs?|packets?|bags?|tubs?|pots?|cartons?|blocks?|balls?|jars?|bottles?|"
            r"punnets?|box|sachets?|sheets?|pouch(?:es)?|joint|piece)\b(?: of)?",
            re.I,
        ),
        r" \1",
    ),
    (re.compile(r"\bdsps?\b", re.I), "dessertspoon"),
    (re.compile(r"^(\d+(?:\.\d+)?|1/2|½) (gill|wineglass(?:ful)?|katori)(?:s|es)?\b(?: of)?", re.I), _as_ml),
]
_GROUPED = re.compile(
    r"^\s*(\d+)(?:\s*x\s*|\s*\(\s*|\s+(?!\d+/\d))(\d+(?:[./]\d+)?)\s*-?\s*"
    r"(g|kg|fl\.? oz|fluid ounces?|oz|ounces?|ml|lb|pounds?|grams?|litres?|liters?|l)\b",
    re.I,
)
#: Whether a weight beside a count is of one piece or of all: "(150 g each)", "(about 600 g total), each cut in 3".
_OF_EACH = re.compile(
    r"\beach\b(?!\s+(?:cut|halved|quartered|sliced|split|peeled|trimmed|chopped|scored|wrapped|torn))", re.I
)
_OF_ALL = re.compile(r"\b(?:in total|total|in all|altogether|all together|combined weight|overall)\b", re.I)


@functools.lru_cache(maxsize=4096)
def parse(text: str, kitchen: str = "") -> ParsedLine:
    """Read one ingredient line. `kitchen` "us" or "uk" decides pints; empty: from the words.

    >>> parse("2 (15 oz) cans black beans").amounts
    (Amount(low=2.0, high=2.0, unit='can', kind='package', of_each=False), \
Amount(low=15.0, high=15.0, unit='oz', kind='weight', of_each=True))
    """
    plain = clean(text)[:400]
    kitchen = kitchen or kitchen_of(plain)
    if not plain:
        return ParsedLine(text, kitchen=kitchen)
    vague = next((name for name, cue in _vague_cues() if cue.search(plain)), "")
    extra = bool(re.search(r"\b(?:plus|and) (?:a little |a bit |some )?(?:extra|more)\b", plain, re.I))
    tagged = _LEAD_IN.sub(lambda found: "1 " if found["one"] else "", plain)
    for words, replacement in _BEFORE_TAGGING:
        tagged = words.sub(replacement, tagged)
    try:
        parsed = tagger()(tagged)
        amounts = _amounts(parsed)
    except Exception:  # the tagger is not ours and gives up in many ways ("1/0 cup", "1 can + 1/2 cup"): the words stay
        return ParsedLine(text, names=(plain,), kitchen=kitchen, is_unread=True)
    grouped = _GROUPED.match(tagged)
    if grouped:  # "2 x 400g tins", "4 (6-ounce) fillets": the second figure is the size of one
        unit, kind = _unit(re.sub(r"fl.*oz|fluid.*", "fl oz", grouped[3].lower()))
        size = float(Fraction(grouped[2])) if "/" in grouped[2] else float(grouped[2])
        counted = next((a for a in amounts if a.kind in ("package", "count")), None)
        count = float(grouped[1])
        first = Amount(count, count, counted.unit if counted else "each", counted.kind if counted else "count")
        amounts = (first, Amount(size, size, unit, kind, of_each=True))
    elif amounts and amounts[0].kind == "package":
        amounts = (amounts[0], *(_of_each(a, amounts[0]) for a in amounts[1:]))
    if len(amounts) > 1 and (_OF_ALL.search(plain) or _OF_EACH.search(plain)):
        of_each = not _OF_ALL.search(plain)
        amounts = (amounts[0], *(Amount(a.low, a.high, a.unit, a.kind, of_each) for a in amounts[1:]))
    return ParsedLine(
        text=text,
        names=tuple(name.text for name in parsed.name),
        amounts=amounts,
        size=parsed.size.text if parsed.size else "",
        preparation=parsed.preparation.text if parsed.preparation else "",
        comment=parsed.comment.text if parsed.comment else "",
        vague=vague,
        extra=extra,
        minus=bool(re.match(r"\s*[-–−](?=[\d½¼¾⅓⅔])", text)),
        kitchen=kitchen,
    )


def _of_each(amount: Amount, package: Amount) -> Amount:
    """ "1 can (400 g)": the weight stands for one can, not for all."""
    weighs = amount.kind in ("weight", "volume")
    return Amount(amount.low, amount.high, amount.unit, amount.kind, weighs or package.middle > 1)
