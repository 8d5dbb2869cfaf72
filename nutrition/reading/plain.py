"""Recipes in plain words: title, servings, ingredient lines under their headings, steps; and two pasted at once."""

import re

from nutrition.notes import Problem
from nutrition.reading.found import MOST_TEXT, RecipeText, bounded
from nutrition.reading.lines import clean, is_heading
from nutrition.reading.yields import looks_like_yield, pieces_of, serves_inside, serves_of

INGREDIENTS = re.compile(r"^(?:the )?ingredients?\b[\s:]*$|^what you(?:'|’)?ll need:?$|^you will need:?$", re.I)
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


_ADDRESS = re.compile(r"\s*(?:https?://|www\.)\S+\s*", re.I)


def from_text(text: str) -> RecipeText:
    """Everyday text: title, servings, ingredient lines with headings, steps."""
    if not text.strip():
        raise Problem("reading.nothing_pasted")
    if len(text) > MOST_TEXT:
        raise Problem("reading.text_too_long", count=len(text), most=MOST_TEXT)
    if "\x00" in text:
        raise Problem("reading.binary")
    if _ADDRESS.fullmatch(text):
        raise Problem("reading.web_address", address=text.strip()[:80])
    raw = [clean(line) for line in text.splitlines()]
    raw = [line for line in raw if line]
    if not raw:
        raise Problem("reading.no_words_found")
    title, serves = "", None
    notes: list[str] = []
    lines: list[str] = []
    steps: list[str] = []
    where = "top"
    has_sections = any(INGREDIENTS.match(line) for line in raw)
    for position, line in enumerate(raw):
        if INGREDIENTS.match(line):
            where = "ingredients"
        elif _METHOD.match(line):
            where = "steps"
        elif _NOTES.match(line):
            where = "notes"
        elif where == "notes":
            notes.append(line)
        elif where in ("top", "ingredients") and serves is None and len(line) < 90 and looks_like_yield(line):
            serves, note = serves_of(line)
            notes += [each for each in (note, pieces_of(line)) if each]
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
    if serves is None:
        serves, title, note = serves_inside(title, steps)
        notes += [note] if note else []
    return bounded(RecipeText(title[:200], serves, tuple(lines), tuple(steps), notes=tuple(notes[:20])))


def _opens_a_recipe(raw: list[str]) -> bool:
    """Whether the second line says that the first was the title, whatever number it begins with ("Three bean pot")."""
    return len(raw) > 1 and bool(INGREDIENTS.match(raw[1]) or looks_like_yield(raw[1]))


def _is_step(line: str) -> bool:
    if _NUMBERED.match(line) and (len(line) > 40 or _VERBS.match(_NUMBERED.sub("", line))):
        return True
    if _AMOUNT.match(line):
        return False
    return (bool(_VERBS.match(line)) and (len(line) > 45 or line.endswith("."))) or (
        len(line) > 60 and line.endswith(".")
    )


def recipes_in(text: str) -> list[str]:
    """The recipes in a pasted text, one after the other; a text with one comes back whole.

    A second one begins where, after the steps of the first, there are ingredients again.

    >>> two = "Soup\\nServes 2\\n1 leek\\nMethod\\nBoil it.\\nBread\\nServes 4\\n500 g flour\\nMethod\\nBake it."
    >>> [each.splitlines()[0] for each in recipes_in(two)]
    ['Soup', 'Bread']
    """
    lines = [line for line in text[: MOST_TEXT + 1].splitlines() if line.strip()]
    starts, in_steps = [0], False
    for position, line in enumerate(lines):
        plain = clean(line)
        opens = bool(INGREDIENTS.match(plain)) or (len(plain) < 60 and looks_like_yield(plain))
        if opens and in_steps and position - starts[-1] > 2:
            before = position - 1
            if looks_like_yield(clean(lines[before])) and before > starts[-1]:
                before -= 1
            starts.append(before)
            in_steps = False
        elif _METHOD.match(plain) or _is_step(plain):
            in_steps = True
    ends = [*starts[1:], len(lines)]
    found = ["\n".join(lines[start:end]) for start, end in zip(starts, ends, strict=True)]
    return found if len(found) > 1 else [text]
