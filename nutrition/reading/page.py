"""Recipes from the outside: pasted text, schema.org Recipe as JSON or JSON-LD, saved web pages.

Every function returns a RecipeText or raises Problem.
"""

import html
import json
import re
from collections.abc import Sequence
from dataclasses import dataclass
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


MOST_BYTES = 1_000_000
MOST_LINES = 200
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
    if len(text) > MOST_BYTES:
        raise Problem("reading.text_too_long", figure=len(text) / 1000000.0)
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
    if len(lines) > MOST_LINES:
        raise Problem("reading.too_many_lines", count=len(lines), most_lines=MOST_LINES)
    return RecipeText(title[:200], serves, tuple(lines), tuple(steps), notes=tuple(notes[:20]))


def _opens_a_recipe(raw: list[str]) -> bool:
    """Whether the second line says that the first was the title, whatever number it begins with ("Three bean pot")."""
    return len(raw) > 1 and bool(_INGREDIENTS.match(raw[1]) or _looks_like_yield(raw[1]))


def _looks_like_yield(line: str) -> bool:
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


def _find_recipe(node: Any) -> dict[str, Any] | None:
    if isinstance(node, dict):
        kind = node.get("@type")
        kinds = kind if isinstance(kind, list) else [kind]
        if "Recipe" in kinds or (kind is None and "recipeIngredient" in node):
            return node
        return next((r for value in node.values() if (r := _find_recipe(value))), None)
    if isinstance(node, list):
        return next((r for value in node if (r := _find_recipe(value))), None)
    return None


def _strings(value: Any) -> list[str]:
    """Text out of strings, lists, HowToStep and HowToSection."""
    if isinstance(value, str):
        return [part for part in map(clean, re.split(r"<br\s*/?>|</p>|\n", html.unescape(value))) if part]
    if isinstance(value, list):
        return [text for item in value for text in _strings(item)]
    if isinstance(value, dict):
        inner = value.get("itemListElement") or value.get("text") or value.get("name")
        return _strings(inner) if inner is not None else []
    return []


def from_jsonld(text: str) -> RecipeText:
    """A schema.org Recipe as JSON or JSON-LD."""
    try:
        data = json.loads(text)
    except (json.JSONDecodeError, RecursionError) as problem:
        place = (
            f"line {problem.lineno}, column {problem.colno}"
            if isinstance(problem, json.JSONDecodeError)
            else "its depth"
        )
        raise Problem("reading.json_broken", place=place) from None
    recipe = _find_recipe(data)
    if recipe is None:
        raise Problem("reading.json_without_recipe")
    lines = _strings(recipe.get("recipeIngredient") or recipe.get("ingredients") or [])
    if not lines:
        raise Problem("reading.json_without_lines")
    if len(lines) > MOST_LINES:
        raise Problem("reading.json_too_many_lines", count=len(lines), most_lines=MOST_LINES)
    serves, notes = _yield_of(recipe.get("recipeYield"))
    title = _strings(recipe.get("name") or "")
    return RecipeText(
        title=(title[0] if title else "")[:200],
        serves=serves,
        lines=tuple(lines),
        steps=tuple(_strings(recipe.get("recipeInstructions") or [])),
        notes=tuple(notes),
        language=str(recipe.get("inLanguage") or "en"),
        exact=_exact(recipe.get("additionalProperty"), lines),
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
        serves, note = serves_of(str(item))
        if serves or note:
            return serves, [note] if note else []
    return None, []


def from_html(text: str) -> RecipeText:
    """A saved web page: its JSON-LD first, else what recipe-scrapers finds."""
    for block in re.findall(r"<script[^>]*application/ld\+json[^>]*>(.*?)</script>", text, re.S | re.I):
        try:
            if _find_recipe(json.loads(block)):
                return from_jsonld(block)
        except (json.JSONDecodeError, RecursionError, Problem):
            continue
    from recipe_scrapers import scrape_html

    try:
        page = scrape_html(text, org_url="https://saved.invalid/", supported_only=False)
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
    return RecipeText(title[:200], serves, lines[:MOST_LINES], steps, notes=(note,) if note else ())


def from_bytes(data: bytes) -> RecipeText:
    """An uploaded file: JSON, JSON-LD, a saved page or plain text, told apart by what is in it."""
    if not data.strip():
        raise Problem("reading.file_empty")
    if len(data) > 5 * MOST_BYTES:
        raise Problem("reading.file_too_large", figure=len(data) / 1000000.0)
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        if b"\x00" in data[:4096] or sum(b < 9 for b in data[:4096]) > 8:
            raise Problem("reading.file_not_text") from None
        text = data.decode("cp1252", errors="replace")
    return from_any(text)


def from_any(text: str) -> RecipeText:
    """Text of any of the known kinds."""
    head = text.lstrip()[:2000].lower()
    if head.startswith(("{", "[")):
        return from_jsonld(text)
    if head.startswith("<!doctype") or "<html" in head or "<script" in head or "ld+json" in text[:200_000]:
        return from_html(text)
    return from_text(text)
