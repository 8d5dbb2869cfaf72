"""Recipes from the outside: pasted text, schema.org Recipe as JSON or JSON-LD, saved web pages.

Every function returns a RecipeText or raises Problem.
"""

import html
import json
import re
from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import islice
from typing import Any

from nutrition.dish.codec import from_data, line_from_data
from nutrition.dish.cooking import methods
from nutrition.dish.line import Line
from nutrition.food.table import foods
from nutrition.notes import Problem
from nutrition.reading.found import MOST_FILE, MOST_LINES, MOST_STEPS, MOST_TEXT, Exact, RecipeText, bounded
from nutrition.reading.lines import clean
from nutrition.reading.pdf import words_of_pdf
from nutrition.reading.plain import INGREDIENTS, densest_run, does_something, from_text, recipes_in, with_their_amounts
from nutrition.reading.yields import looks_like_yield, pieces_of, serves_of

#: The names under which a recipe of ours keeps its dish, and once kept each line, among schema.org additionalProperty.
KEPT, KEPT_LINE = "open-gate:dish", "open-gate:line"


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
                Exact(_known(dish.lines), written, dish.kitchen, dish.kind, dish.waved)
                if len(written) == len(dish.lines)
                else None
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


#: schema.org lies no deeper than this in any page; what does is not looked at.
_DEEPEST = 40


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
    return bounded(
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
        words = item if isinstance(item, str) else ""
        serves, note = serves_of(words)
        if serves or note:
            return serves, [each for each in (note, pieces_of(words)) if each]
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
        return from_bare_page(text)
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
    return bounded(RecipeText(title[:200], serves, lines, steps, notes=(note,) if note else ()))


#: Elements that end a line of a page.
_BREAKS = frozenset(
    [
        "address",
        "article",
        "aside",
        "br",
        "dd",
        "div",
        "dl",
        "dt",
        "figcaption",
        "footer",
        "h1",
        "h2",
        "h3",
        "h4",
        "h5",
        "h6",
        "header",
        "hr",
        "li",
        "main",
        "nav",
        "ol",
        "p",
        "pre",
        "section",
        "td",
        "th",
        "tr",
        "ul",
    ]
)
_UNSEEN = frozenset(("script", "style", "noscript", "template", "svg", "head"))


def words_of_page(text: str) -> list[str]:
    """The lines of a page as an eye finds them, in linear time; nothing for markup that cannot be parsed."""
    from lxml import html as markup

    try:
        root = markup.document_fromstring(text[:MOST_FILE])
    except (ValueError, TypeError, AssertionError, markup.etree.LxmlError):
        return []
    lines: list[str] = []
    line, hidden = "", 0
    for event, node in markup.etree.iterwalk(root, events=("start", "end")):
        tag = node.tag if isinstance(node.tag, str) else "svg"
        hidden += (tag in _UNSEEN) * (1 if event == "start" else -1)
        if tag in _BREAKS:
            lines += [line] if line.strip() and len(lines) < 20 * MOST_LINES else []
            line = ""
        said = node.text if event == "start" else node.tail
        line += said or "" if not hidden else ""
    return [*lines, line]


#: So many lines above the list its title and servings may stand; and lines that say that what stands there is the top of a page.
_ABOVE, _MENU = 8, ("Home", "Menu")


def from_bare_page(text: str) -> RecipeText:
    """A page without recipe marks: its words between the headings of ingredients and steps, all still to be looked at."""
    raw = with_their_amounts([line for line in (clean(line) for line in words_of_page(text)) if line])
    starts = [at for at, line in enumerate(raw) if INGREDIENTS.match(line)]
    if not starts:
        run = densest_run(raw)
        if run is None:
            raise Problem("reading.page_without_recipe")
        # Nothing calls itself the list: it is where amounts stand closest, and its title above it; a menu's lines are none.
        return _bare(from_text("\n".join([*_MENU, *raw[max(run[0] - _ABOVE, 0) :]])))
    title = next((line for line in reversed(raw[: starts[0]]) if 3 < len(line) < 90 and not looks_like_yield(line)), "")
    yields = [line for line in raw[: starts[0]] if len(line) < 90 and looks_like_yield(line)][-1:]
    return _bare(from_text("\n".join([title or raw[0], *yields, *raw[starts[0] :]])))


def _bare(found: RecipeText) -> RecipeText:
    """A page without marks, all still to be looked at; short words behind the last sentence of its steps are those of the page."""
    steps = list(found.steps)
    while (
        steps
        and len(steps) > 1
        and len(steps[-1]) < 45
        and not steps[-1].endswith((".", "!", ")"))
        and not does_something(steps[-1])
    ):
        steps.pop()
    return replace(found, is_bare=True, steps=tuple(steps), notes=(*found.notes, *found.steps[len(steps) :]))


#: How files begin that hold no plain words -> what they are.
_KINDS_OF_FILE = (
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
    if data.startswith(b"%PDF"):
        return from_text(words_of_pdf(data))
    kind = next((name for start, name in _KINDS_OF_FILE if data.startswith(start)), "")
    if kind or data[4:12] in (b"ftypheic", b"ftypheix", b"ftypmif1"):
        raise Problem("reading.file_of_a_kind", kind=kind or "a picture")
    return from_any(text_of(data))


def text_of(data: bytes) -> str:
    """The words of a file that holds plain words, in whatever letters it was written. Raises Problem.

    UTF-16 is told by its mark, or by every other byte being zero; a stray zero in other text is no letter and goes.

    >>> text_of("2 leeks".encode("utf-16-le")), text_of(b"2 le\\x00eks"), text_of("200 g crème".encode("cp1252"))
    ('2 leeks', '2 leeks', '200 g crème')
    """
    zeros = [data[:4096:2].count(0), data[1:4096:2].count(0)]
    half = max(min(len(data), 4096) // 2, 1)
    by_mark = data[:2] in (b"\xff\xfe", b"\xfe\xff")
    if by_mark or (max(zeros) > 0.6 * half and min(zeros) < 0.1 * half):
        coding = "utf-16" if by_mark else "utf-16-le" if zeros[1] > zeros[0] else "utf-16-be"
        return data.decode(coding, errors="replace").replace("\x00", "")
    if sum(zeros) > max(0.05 * min(len(data), 4096), 3) or sum(0 < b < 9 for b in data[:4096]) > 8:
        raise Problem("reading.file_not_text")
    plain = data.replace(b"\x00", b"")
    try:
        return plain.decode("utf-8-sig")
    except UnicodeDecodeError:
        return plain.decode("cp1252", errors="replace")


def from_any(text: str) -> RecipeText:
    """Text of any of the known kinds. Raises Problem."""
    if len(text) > MOST_FILE:
        raise Problem("reading.file_too_large", figure=len(text) / 1000000.0)
    head = text.lstrip()[:2000].lower()
    if head.startswith(("{", "[")):
        return from_jsonld(text)
    if head.startswith("<!doctype") or "<html" in head or "<script" in head or "ld+json" in text[:200_000]:
        return from_html(text)
    several = recipes_in(text)
    if len(several) > 1:
        titles = ", ".join(f"“{each.splitlines()[0].strip()[:40]}”" for each in several[:4])
        raise Problem("reading.several_recipes", count=len(several), titles=titles)
    return from_text(text)
