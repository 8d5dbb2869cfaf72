"""Recipes from the outside: pasted text, schema.org Recipe as JSON or JSON-LD, saved web pages.

Every function returns a RecipeText or raises Problem.
"""

import html
import json
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import islice
from typing import Any

from nutrition.dish.codec import from_data, line_from_data
from nutrition.dish.cooking import methods
from nutrition.dish.line import Line
from nutrition.food.table import foods
from nutrition.food.units import NUMBER, number_of
from nutrition.notes import Problem
from nutrition.reading.lines import clean, is_heading


@dataclass(frozen=True, slots=True)
class RecipeText:
    """A recipe as found: headings still stand among the lines. `notes` say what was assumed in reading.

    `exact`: the dish as it was counted, when the recipe was written by giving/writing.py.
    """

    title: str
    serves: float | None
    lines: tuple[str, ...]
    steps: tuple[str, ...] = ()
    serving_grams: float | None = None
    notes: tuple[str, ...] = ()
    language: str = "en"
    exact: "Exact | None" = None


#: The names under which a recipe of ours keeps its dish, and once kept each line, among schema.org additionalProperty.
KEPT, KEPT_LINE = "open-gate:dish", "open-gate:line"


@dataclass(frozen=True, slots=True)
class Exact:
    """What a recipe of ours kept beside its words. `written`: the words each line was written with then."""

    lines: tuple[Line, ...]
    written: tuple[str, ...]
    kitchen: str = ""
    kind: str = ""

    def line_as_written(self, position: int, text: str) -> Line | None:
        """The line as it was counted; None when somebody changed its words since."""
        is_same = position < len(self.lines) and clean(self.written[position]) == clean(text)
        return self.lines[position] if is_same else None


def _exact(properties: Any, texts: list[str]) -> Exact | None:
    """What a recipe of ours kept; None when it is not ours or anything is off."""
    if not isinstance(properties, list):
        return None
    values = [p.get("value") for p in properties if isinstance(p, dict) and p.get("name") in (KEPT, KEPT_LINE)]
    try:
        if len(values) == 1 and isinstance(values[0], dict) and "lines" in values[0]:
            dish = from_data(values[0])
            written = tuple(map(str, values[0]["written"]))
            return (
                Exact(_known(dish.lines), written, dish.kitchen, dish.kind) if len(written) == len(dish.lines) else None
            )
        each = [value for value in values if isinstance(value, dict)]
        if len(each) == len(values) == len(texts):
            return Exact(_known([line_from_data(value) for value in each]), tuple(texts))
    except (KeyError, TypeError, ValueError, AttributeError):
        return None
    return None


def _known(lines: Sequence[Line]) -> tuple[Line, ...]:
    """The lines, when every food and method they name is known here. Raises KeyError."""
    for line in lines:
        for food_id in (line.food_id, *line.others):
            if food_id:
                foods().by_id(food_id)
        if line.state:
            methods()[line.state]
    return tuple(lines)


#: What a recipe is not larger than: pasted words, a file or a saved page, and its lines, steps and their lengths.
MOST_TEXT, MOST_FILE = 200_000, 5_000_000
MOST_LINES, MOST_STEPS, LONGEST_LINE, LONGEST_STEP = 200, 200, 500, 5_000
#: How much of a line is looked at to tell what kind of line it is.
_HEAD = 200
#: schema.org lies no deeper than this in any page; what does is not looked at.
_DEEPEST = 40
_SERVES = re.compile(
    rf"\b(?:serves|servings?|yields?|makes|portions?|feeds|for)\b[^\d½⅓⅔¼¾]{{0,15}}({NUMBER})(?:\s*(?:-|–|to"
    rf"|or)\s*({NUMBER}))?( dozen)?"
    rf"|({NUMBER})(?:\s*(?:-|–|to|or)\s*({NUMBER}))?( dozen)?\s*(?:servings?|portions?|people|persons)\b",
    re.I,
)
_BARE_COUNT = re.compile(rf"^\s*({NUMBER})(?:\s*(?:-|–|to|or)\s*({NUMBER}))?( dozen)?\b", re.I)
_INGREDIENTS = re.compile(r"^(?:the )?ingredients?\b[\s:]*$|^what you(?:'|’)?ll need:?$|^you will need:?$", re.I)
_METHOD = re.compile(
    r"^(?:method|directions?|instructions?|steps?|preparation|procedure|how to make it|to make)\b[\s:]*$", re.I
)
_NOTES = re.compile(r"^(?:notes?|tips?|nutrition(?:al)?(?: information| facts)?|storage)\b[\s:]*$", re.I)
_AMOUNT = re.compile(
    r"^\s*(?:[-*•]\s*)?(?:about |scant |heaping |heaped |generous |good |large |small |big )*"
    r"(?:\d|[½¼¾⅓⅔⅛⅜⅝⅞]|an? |one |two |three |four |few |half |pinch|dash|handful|knob|glug|splash|drizzle"
    r"|salt|pepper|juice |zest )",
    re.I,
)
_NUMBERED = re.compile(r"^\s*(?:step\s*)?\d{1,2}[.):]\s+(?=[A-Z])", re.I)
_VERBS = re.compile(
    r"^(?:pre-?heat|heat|mix|stir|add|put|place|bake|cook|boil|simmer|fry|whisk|beat|fold|drain|pour|serve|combine|cut|chop|"
    r"slice|melt|roast|blend|spread|season|bring|cover|remove|transfer|let|leave|toss|in an? |make|knead|roll"
    r"|line|grease|"
    r"divide|sprinkle|return|meanwhile|turn|set|warm|brown|saut[eé]|peel|rinse|soak|wash|while|when|once|to serve|take|"
    r"reduce|garnish|arrange|top|brush|check|taste|rub|sift|cream|spoon|press)\b",
    re.I,
)


def serves_of(text: str) -> tuple[float | None, str]:
    """Number of servings in words like "Serves 4 to 6", with a note when it had to be chosen.

    >>> serves_of("Serves 6"), serves_of("Makes 12 rolls")[0], serves_of("about an hour")
    ((6.0, ''), 12.0, (None, ''))
    >>> [serves_of(text)[0] for text in ("7.5 servings", "Serves 2½", "Serves 1 1/2", "Makes 2 dozen")]
    [7.5, 2.5, 1.5, 24.0]
    """
    text = text[:_HEAD]
    found = _SERVES.search(text) or _BARE_COUNT.search(text)
    if not found:
        return None, ""
    groups = [group for group in found.groups() if group]
    each = 12 if "dozen" in groups[-1].lower() else 1
    groups = [group for group in groups if "dozen" not in group.lower()]
    try:
        low = each * number_of(groups[0])
    except ZeroDivisionError:
        low = 0.0
    if not 0 < low <= 500:
        return None, f"“{text.strip()[:60]}” was read as {low:g} servings, which cannot be"
    if len(groups) > 1:
        return low, f"“{text.strip()[:60]}”: counted as {low:g} servings"
    return low, ""


def from_text(text: str) -> RecipeText:
    """Everyday text: title, servings, ingredient lines with headings, steps."""
    if not text.strip():
        raise Problem("reading.nothing_pasted")
    if len(text) > MOST_TEXT:
        raise Problem("reading.text_too_long", count=len(text), most=MOST_TEXT)
    if "\x00" in text:
        raise Problem("reading.binary")
    raw = [clean(line) for line in text.splitlines()]
    raw = [line for line in raw if line]
    if not raw:
        raise Problem("reading.no_words_found")
    title, serves = "", None
    notes: list[str] = []
    lines: list[str] = []
    steps: list[str] = []
    where = "top"
    has_sections = any(_INGREDIENTS.match(line) for line in raw)
    for position, line in enumerate(raw):
        if _INGREDIENTS.match(line):
            where = "ingredients"
        elif _METHOD.match(line):
            where = "steps"
        elif _NOTES.match(line):
            where = "notes"
        elif where == "notes":
            notes.append(line)
        elif where in ("top", "ingredients") and serves is None and len(line) < 90 and _looks_like_yield(line):
            serves, note = serves_of(line)
            notes += [note] if note else []
        elif position == 0 and (not _AMOUNT.match(line) or _opens_a_recipe(raw)):
            title = line
        elif where == "steps":
            steps.append(_NUMBERED.sub("", line))
        elif where == "top" and has_sections:
            notes.append(line)
        elif _is_step(line) and (lines or where == "top"):
            where = "steps"
            steps.append(_NUMBERED.sub("", line))
        else:
            where = "ingredients"
            lines.append(line)
    if not any(not is_heading(line) for line in lines):
        raise Problem("reading.no_lines_found", raw=raw[0][:60])
    return _bounded(RecipeText(title[:200], serves, tuple(lines), tuple(steps), notes=tuple(notes[:20])))


def _bounded(found: RecipeText) -> RecipeText:
    """The recipe, when it is of a size recipes have. Raises Problem."""
    for texts, most, longest, what in (
        (found.lines, MOST_LINES, LONGEST_LINE, "ingredient lines"),
        (found.steps, MOST_STEPS, LONGEST_STEP, "steps"),
    ):
        if len(texts) > most:
            raise Problem("reading.too_many", what=what, most=most)
        long = next((text for text in texts if len(text) > longest), "")
        if long:
            raise Problem("reading.too_long", start=long[:40], count=len(long), what=what, most=longest)
    return found


def _opens_a_recipe(raw: list[str]) -> bool:
    """Whether the second line says that the first was the title, whatever number it begins with ("Three bean pot")."""
    return len(raw) > 1 and bool(_INGREDIENTS.match(raw[1]) or _looks_like_yield(raw[1]))


def _looks_like_yield(line: str) -> bool:
    line = line[:_HEAD]
    start = re.match(r"^(?:recipe )?(?:serves|servings?|yields?|makes|portions?|feeds|for \d)", line, re.I)
    counted = rf"^{NUMBER}(?:\s*(?:-|–|to)\s*{NUMBER})?\s*(?:servings?|portions?|people)\b"
    return bool(start or re.match(counted, line, re.I))


def _is_step(line: str) -> bool:
    if _NUMBERED.match(line) and (len(line) > 40 or _VERBS.match(_NUMBERED.sub("", line))):
        return True
    if _AMOUNT.match(line):
        return False
    return (bool(_VERBS.match(line)) and (len(line) > 45 or line.endswith("."))) or (
        len(line) > 60 and line.endswith(".")
    )


def _find_recipe(node: Any, depth: int = 0) -> dict[str, Any] | None:
    if depth > _DEEPEST:
        return None
    if isinstance(node, dict):
        kind = node.get("@type")
        kinds = kind if isinstance(kind, list) else [kind]
        if "Recipe" in kinds or (kind is None and "recipeIngredient" in node):
            return node
        return next((r for value in node.values() if (r := _find_recipe(value, depth + 1))), None)
    if isinstance(node, list):
        return next((r for value in node if (r := _find_recipe(value, depth + 1))), None)
    return None


def _strings(value: Any, depth: int = 0) -> Iterator[str]:
    """Text out of strings, lists, HowToStep and HowToSection."""
    if isinstance(value, str):
        parts = re.split(r"<br\s{0,9}/?>|</p>|\n", html.unescape(value[:MOST_TEXT]))
        yield from (part for part in map(clean, parts) if part)
    elif depth > _DEEPEST:
        return
    elif isinstance(value, list):
        for item in value:
            yield from _strings(item, depth + 1)
    elif isinstance(value, dict):
        yield from _strings(value.get("itemListElement") or value.get("text") or value.get("name"), depth + 1)


def from_jsonld(text: str) -> RecipeText:
    """A schema.org Recipe as JSON or JSON-LD."""
    try:
        data = json.loads(text)
    except json.JSONDecodeError as problem:
        place = f"line {problem.lineno}, column {problem.colno}"
        raise Problem("reading.json_broken", place=place) from None
    except RecursionError:
        raise Problem("reading.json_broken", place="its depth") from None
    except ValueError:  # "1" and ten thousand digits
        raise Problem("reading.json_broken", place="a number with thousands of digits") from None
    recipe = _find_recipe(data)
    if recipe is None:
        raise Problem("reading.json_without_recipe")
    lines = list(islice(_strings(recipe.get("recipeIngredient") or recipe.get("ingredients")), MOST_LINES + 1))
    if not lines:
        raise Problem("reading.json_without_lines")
    serves, notes = _yield_of(recipe.get("recipeYield"))
    return _bounded(
        RecipeText(
            title=next(_strings(recipe.get("name")), "")[:200],
            serves=serves,
            lines=tuple(lines),
            steps=tuple(islice(_strings(recipe.get("recipeInstructions")), MOST_STEPS + 1)),
            notes=tuple(notes),
            language=str(recipe.get("inLanguage") or "en")[:20],
            exact=_exact(recipe.get("additionalProperty"), lines),
        )
    )


def _yield_of(value: Any) -> tuple[float | None, list[str]]:
    """schema.org recipeYield: a number, words, a QuantitativeValue, or a list of them."""
    values = value if isinstance(value, list) else [value]
    for item in values:
        if isinstance(item, dict):
            item = item.get("value")
        if isinstance(item, bool) or item is None:
            continue
        if isinstance(item, (int, float)):
            return (float(item), []) if 0 < item <= 500 else (None, [f"recipeYield {item} cannot be"])
        serves, note = serves_of(item if isinstance(item, str) else "")
        if serves or note:
            return serves, [note] if note else []
    return None, []


def _ld_json_blocks(text: str) -> Iterator[str]:
    """What stands in the page's scripts of linked data, in one walk through the text."""
    small, at, opened = text.lower(), 0, -1
    while (start := small.find("<script", at)) >= 0:
        if opened < start:
            opened = small.find(">", start)
        if opened < 0:
            return
        if opened - start > _LONGEST_TAG:
            at = start + len("<script")
            continue
        closed = small.find("</script", opened)
        if closed < 0:
            return
        if "ld+json" in small[start:opened]:
            yield text[opened + 1 : closed]
        at = closed


#: No page has more blocks of linked data than this; no tag is longer than this.
_MOST_BLOCKS = 100
_LONGEST_TAG = 2_000
_MICRODATA = "schema.org/Recipe"


#: Attributes that carry microdata; and how much of a marked recipe is read.
_SPEAKING = {"itemtype", "itemscope", "itemprop", "content", "datetime", "typeof", "property", "value"}
_MOST_MARKED = 40_000


def _with_microdata(text: str) -> str:
    """The part of a page that is marked as a recipe, well formed; empty for none. Raises Problem for one too long to read."""
    marker = text.find(_MICRODATA)
    if marker < 0:
        return ""
    _refuse_cut(text[marker + MOST_TEXT :])
    text = text[max(text.rfind("<", 0, marker), 0) : marker + MOST_TEXT]
    from lxml import etree
    from lxml import html as lxml_html

    try:
        page = lxml_html.document_fromstring(re.sub(rf"<[^<>]{{{_LONGEST_TAG},}}>?", " ", text))
    except (etree.LxmlError, ValueError):
        return ""
    marked = page.xpath(f'//*[contains(@itemtype, "{_MICRODATA}") or contains(@typeof, "Recipe")]')
    if not marked:
        return ""
    # What says nothing of the recipe is left out, so that what is left of a page is short.
    for odd in marked[0].xpath(".//script | .//style | .//svg | .//noscript | .//iframe | .//picture"):
        odd.drop_tree()
    for element in marked[0].iter(etree.Element):
        for name in set(element.attrib) - _SPEAKING:
            del element.attrib[name]
    whole = str(lxml_html.tostring(marked[0], encoding="unicode"))
    _refuse_cut(whole[_MOST_MARKED:])
    return whole[:_MOST_MARKED]


def _refuse_cut(rest: str) -> None:
    """What is not read of a page may hold no ingredient: one that is lost would count as nothing. Raises Problem."""
    if "ngredient" in rest:
        raise Problem("reading.page_too_long")


def from_html(text: str) -> RecipeText:
    """A saved web page: its JSON-LD first, else what its markup says is a recipe."""
    refusal = None
    for block in islice(_ld_json_blocks(text), _MOST_BLOCKS):
        try:
            if "ecipe" in block and _find_recipe(json.loads(block)):
                return from_jsonld(block)
        except Problem as problem:
            refusal = problem
        except (ValueError, RecursionError):
            continue
    if refusal:
        raise refusal
    if not (marked := _with_microdata(text)):
        raise Problem("reading.page_without_recipe")
    from recipe_scrapers import scrape_html

    try:
        page = scrape_html(marked, org_url="https://saved.invalid/", supported_only=False)
        lines = tuple(clean(line) for line in page.ingredients())
        steps = tuple(clean(step) for step in page.instructions_list())
        title = clean(page.title() or "")
    except Exception:
        lines = ()
    if not lines:
        raise Problem("reading.page_without_recipe")
    try:
        serves, note = serves_of(page.yields() or "")
    except Exception:
        serves, note = None, ""
    return _bounded(RecipeText(title[:200], serves, lines, steps, notes=(note,) if note else ()))


#: How files begin that hold no plain words -> what they are.
_KINDS_OF_FILE = (
    (b"%PDF", "a PDF"),
    (b"PK\x03\x04", "an office or ZIP file"),
    (b"\xd0\xcf\x11\xe0", "an office file"),
    (rb"{\rtf", "a rich text file"),
    (b"\x89PNG", "a picture"),
    (b"\xff\xd8\xff", "a picture"),
    (b"GIF8", "a picture"),
    (b"RIFF", "a picture"),
    (b"\x1f\x8b", "a packed file"),
)


def from_bytes(data: bytes) -> RecipeText:
    """An uploaded file: JSON, JSON-LD, a saved page or plain text, told apart by what is in it."""
    if not data.strip():
        raise Problem("reading.file_empty")
    if len(data) > MOST_FILE:
        raise Problem("reading.file_too_large", figure=len(data) / 1000000.0)
    kind = next((name for start, name in _KINDS_OF_FILE if data.startswith(start)), "")
    if kind or data[4:12] in (b"ftypheic", b"ftypheix", b"ftypmif1"):
        raise Problem("reading.file_of_a_kind", kind=kind or "a picture")
    try:
        text = data.decode("utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig")
    except UnicodeDecodeError:
        if b"\x00" in data[:4096] or sum(b < 9 for b in data[:4096]) > 8:
            raise Problem("reading.file_not_text") from None
        text = data.decode("cp1252", errors="replace")
    return from_any(text)


def from_any(text: str) -> RecipeText:
    """Text of any of the known kinds. Raises Problem."""
    if len(text) > MOST_FILE:
        raise Problem("reading.file_too_large", figure=len(text) / 1000000.0)
    head = text.lstrip()[:2000].lower()
    if head.startswith(("{", "[")):
        return from_jsonld(text)
    if head.startswith("<!doctype") or "<html" in head or "<script" in head or "ld+json" in text[:200_000]:
        return from_html(text)
    return from_text(text)
