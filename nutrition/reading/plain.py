"""Recipes in plain words: title, servings, ingredient lines under their headings, steps; and two pasted at once."""

import re

from nutrition.food.units import NUMBER
from nutrition.notes import Problem
from nutrition.reading.clauses import operations_in
from nutrition.reading.found import MOST_TEXT, RecipeText, bounded
from nutrition.reading.lines import clean, is_heading
from nutrition.reading.yields import looks_like_yield, pieces_of, portion_of, says_portion, serves_inside, serves_of
from nutrition.tables import pattern

INGREDIENTS = re.compile(r"^(?:the )?ingredients?\b[\s:]*$|^what you(?:'|’)?ll need:?$|^you will need:?$", re.I)
_METHOD = re.compile(
    r"^(?:method|directions?|instructions?|steps?|preparation|procedure|how to make it|to make)\b[\s:]*$", re.I
)
_NOTES = re.compile(
    r"^(?:notes?|tips?|nutrition(?:al)?(?: information| facts| values?)?(?:,? \(?per .{1,20})?|storage)\b[\s:]*$", re.I
)
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


#: So many lines that begin with an amount, with few others between, are a list of ingredients where nothing calls itself one.
LEAST_RUN, _MOST_BETWEEN = 3, 2
_COUNTED = re.compile(r"^\s*(?:[-*•]\s*)?(?:\d|[½¼¾⅓⅔⅛⅜⅝⅞])")
_AMOUNT_ALONE = re.compile(
    rf"^{NUMBER}(?:\s*(?:-|–|to)\s*{NUMBER})?\s*(?:g|kg|ml|cl|dl|l|oz|lb|cups?|tbsp|tsp|tablespoons?|teaspoons?|cloves?|cans?|tins?)?\.?$",
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
    raw = with_their_amounts([line for line in raw if line])
    if not raw:
        raise Problem("reading.no_words_found")
    raw, notes = _without_surroundings(raw)
    list_ends = (densest_run(raw) or (0, len(raw)))[1]
    title, serves = "", None
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
            pieces = pieces_of(line)
            portion, said = portion_of(line, raw) if pieces else (None, "")
            serves = portion or serves
            notes += [said] if portion else [each for each in (note, pieces) if each]
        elif where in ("top", "ingredients") and says_portion(line):
            notes.append(line)
        elif position == 0 and (not _AMOUNT.match(line) or _opens_a_recipe(raw)):
            title = line
        elif where == "steps":
            steps.append(_NUMBERED.sub("", line))
        elif where == "top" and has_sections:
            notes.append(line)
        elif (_is_step(line) or (position >= list_ends and _is_sentence(line))) and (lines or where == "top"):
            where = "steps"
            steps.append(_NUMBERED.sub("", line))
        else:
            where = "ingredients"
            lines.append(line)
    if not any(not is_heading(line) for line in lines):
        raise Problem("reading.no_lines_found", raw=raw[0][:60])
    while len(steps) > 1 and pattern("menu_of_a_page").match(steps[-1]):
        notes.append(steps.pop())
    if serves is None:
        serves, title, note = serves_inside(title, steps)
        notes += [note] if note else []
    notes = [each for each in notes if not any(each in other and each != other for other in notes)]
    return bounded(RecipeText(title[:200], serves, tuple(lines), tuple(steps), notes=tuple(notes[:20])))


def _opens_a_recipe(raw: list[str]) -> bool:
    """Whether the second line says that the first was the title, whatever number it begins with ("Three bean pot")."""
    return len(raw) > 1 and bool(INGREDIENTS.match(raw[1]) or looks_like_yield(raw[1]))


def _without_surroundings(raw: list[str]) -> tuple[list[str], list[str]]:
    """The lines of the recipe; what stands around it on a page goes: menus above the title, "you may also like" below the steps.

    Lines above the list that tell times and skill are notes. What is not a menu by its words stays: a line too many is looked at, one
    too few counts as nothing.
    """
    start = next((at for at, line in enumerate(raw) if INGREDIENTS.match(line)), None)
    run = densest_run(raw)
    start = start if start is not None else run[0] if run else 0
    before, rest = raw[:start], raw[start:]
    end = next((at for at in range(LEAST_RUN + 1, len(rest)) if _is_below(rest, at)), len(rest))
    if sum(bool(pattern("menu_of_a_page").match(line)) for line in before) > 1:  # one such word may be the title
        before, notes = _top_of_a_page([line for line in before if not pattern("menu_of_a_page").match(line)])
    else:
        notes = [line for line in before if pattern("times_of_a_recipe").match(line)]
        notes += [line for line in before[1:] if _tells_about_it(line)]
        before = [line for line in before if line not in notes]
    if end < len(rest):
        notes.append(f"what stands from “{rest[end][:40]}” on is below the recipe and was left out")
    return [*before, *rest[:end]], notes


def _top_of_a_page(lines: list[str]) -> tuple[list[str], list[str]]:
    """Of what stands above the list: the title, the nearest that may be one; servings; what may be an ingredient without an amount; and
    the rest, which is none of the recipe."""

    def is_fact(line: str) -> bool:
        return bool(looks_like_yield(line) or says_portion(line) or pattern("times_of_a_recipe").match(line))

    facts = [at for at, line in enumerate(lines) if is_fact(line)]
    may_be = [
        at for at, line in enumerate(lines) if 3 < len(line) < 90 and not is_fact(line) and not _AMOUNT.match(line)
    ]
    above = [at for at in may_be if not facts or at < facts[-1]] or may_be
    title = above[-1] if above else -1
    first = max([title, *facts]) if facts and title < facts[-1] else title
    kept = [lines[title]] if title >= 0 else []
    kept += [lines[at] for at in facts if not pattern("times_of_a_recipe").match(lines[at])]
    kept += [line for line in lines[first + 1 :] if not _tells_about_it(line)]
    return kept, [line for line in lines if line not in kept]


def _is_below(lines: list[str], at: int) -> bool:
    """Whether the recipe is over at a line: it says so, and no list and no method comes after it."""
    if not pattern("after_a_recipe").match(lines[at]):
        return False
    after = lines[at + 1 :]
    return not densest_run(after) and not any(INGREDIENTS.match(line) or _METHOD.match(line) for line in after)


def _tells_about_it(line: str) -> bool:
    """Whether a line above the list is talk about the dish: a whole sentence, of nothing with an amount."""
    return line.endswith((".", "!")) and len(line.split()) > 5 and not (_COUNTED.match(line) or _is_step(line))


def with_their_amounts(raw: list[str]) -> list[str]:
    """Lines of which an amount stands alone, as the cells of a table come, put together with what it is of.

    >>> with_their_amounts(["300 g", "rice", "1 l", "stock", "salt"])
    ['300 g rice', '1 l stock', 'salt']
    """
    found: list[str] = []
    for line in raw:
        if found and _AMOUNT_ALONE.match(found[-1]) and not _COUNTED.match(line):
            found[-1] += f" {line}"
        else:
            found.append(line)
    return found


def densest_run(raw: list[str]) -> tuple[int, int] | None:
    """Where the lines that begin with a number stand closest together: (first, behind the last); None for no such list.

    >>> densest_run(["Home", "Log in", "Fennel bake", "2 fennel bulbs", "salt", "200 ml cream", "50 g hard cheese", "Bake it."])
    (3, 7)
    """
    best: tuple[int, int] | None = None
    most, first, last, count = LEAST_RUN - 1, -1, -1, 0
    for at, line in enumerate(raw):
        if _is_sentence(line):
            first = -1
        if not (_COUNTED.match(line) and len(line) < 120 and not looks_like_yield(line) and not _NUMBERED.match(line)):
            continue
        if first < 0 or at - last > _MOST_BETWEEN + 1:
            first, count = at, 0
        last, count = at, count + 1
        if count > most:
            most, best = count, (first, last + 1)
    return best


def _is_step(line: str) -> bool:
    if _ends_like_one(line) and does_something(line):
        return True
    if _NUMBERED.match(line) and (len(line) > 40 or _VERBS.match(_NUMBERED.sub("", line))):
        return True
    if _AMOUNT.match(line):
        return False
    return (bool(_VERBS.match(line)) and (len(line) > 45 or line.endswith("."))) or (
        len(line) > 60 and line.endswith(".")
    )


def _is_sentence(line: str) -> bool:
    """Whether a line tells something to do to something: no amount, a full stop, and words of a step in it.

    >>> [_is_sentence(line) for line in ("Grate the beetroot.", "Oil for frying.", "Salt and pepper, to taste.", "2 eggs, in the shell.")]
    [True, False, False, False]
    """
    return _ends_like_one(line) and bool(pattern("words_of_a_step").search(line))


def _ends_like_one(line: str) -> bool:
    """Whether a line without an amount ends as sentences do, and not with what an ingredient is for."""
    return (
        line.endswith(".")
        and len(line.split()) > 2
        and not (_AMOUNT.match(line) or pattern("purpose_at_the_end").search(line))
    )


def does_something(line: str) -> bool:
    """Whether a sentence begins with something a cook does, and not with what was done to a food: "Grate the beetroot." """
    first = line.split()[0]
    return not first.lower().endswith("ed") and bool(operations_in(first))


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
