"""How many a recipe serves, in whatever words and wherever they stand."""

import re
from collections.abc import Sequence

from nutrition.food.units import NUMBER, number_of

#: How much of a line is looked at to tell what kind of line it is.
HEAD = 200
_SERVES = re.compile(
    rf"\b(?:serves|servings?|yields?|makes|portions?|feeds|for)\b[^\d½⅓⅔¼¾]{{0,15}}({NUMBER})(?:\s*(?:-|–|to"
    rf"|or)\s*({NUMBER}))?( dozen)?"
    rf"|({NUMBER})(?:\s*(?:-|–|to|or)\s*({NUMBER}))?( dozen)?\s*(?:servings?|portions?|people|persons)\b",
    re.I,
)
_BARE_COUNT = re.compile(rf"^\s*({NUMBER})(?:\s*(?:-|–|to|or)\s*({NUMBER}))?( dozen)?\b", re.I)
#: Pieces a yield is told in: how many make a portion is still to be said.
_PIECES = re.compile(
    rf"({NUMBER})(?:\s*(?:-|–|to|or)\s*({NUMBER}))?\s+(?:\w+ ){{0,2}}"
    r"(squares|bars|slices|pieces|cookies|biscuits|rolls|buns|muffins|scones|balls|patties|fritters|pancakes|cakes|wedges|skewers|kebabs|dumplings|pieces|parcels|rounds|crackers|tarts|tartlets|flatbreads|burgers|sausages|meatballs|croquettes|empanadas|samosas|wraps|pockets|bites|truffles|puffs|sticks)\b",
    re.I,
)
#: What a dish comes as that nobody eats alone.
_WHOLE = re.compile(
    r"^\W*(?:yields?|makes)\W+((?:1|one|an?) (?:\w+ ){0,2}(?:jar|loaf|bottle|cake|tin|tart|pie|batch|terrine|liter|litre|l|tray|pot|bowl|pan))\b(?!s)",
    re.I,
)
#: "Serves 6" inside a title or a step.
_INSIDE = re.compile(
    rf"\b(?:serves|feeds|serving|enough for|divide (?:it |them )?(?:among|between|into)) ({NUMBER})\b(?: (?:people|bowls|plates|portions))?",
    re.I,
)


def serves_of(text: str) -> tuple[float | None, str]:
    """Number of servings in words like "Serves 4 to 6", with a note when it had to be chosen.

    >>> serves_of("Serves 6"), serves_of("Makes 12 rolls")[0], serves_of("about an hour")
    ((6.0, ''), 12.0, (None, ''))
    >>> [serves_of(text)[0] for text in ("7.5 servings", "Serves 2½", "Serves 1 1/2", "Makes 2 dozen")]
    [7.5, 2.5, 1.5, 24.0]
    """
    text = text[:HEAD]
    if whole := _WHOLE.match(text):
        return None, f"“{text.strip()[:60]}”: how many portions is {whole[1].lower()}?"
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


def pieces_of(text: str) -> str:
    """What is to be asked of a yield told in pieces; empty for one told in servings.

    >>> pieces_of("Makes 15 to 18 squares")
    'the recipe makes 15 to 18 squares: how many of them are one portion?'
    >>> pieces_of("Serves 4")
    ''
    """
    found = _PIECES.search(text[:HEAD])
    if not found:
        return ""
    count = f"{found[1]} to {found[2]}" if found[2] else found[1]
    return f"the recipe makes {count} {found[3].lower()}: how many of them are one portion?"


#: "A serving is 2 skewers and 2 tbsp of dip", "Serving size: 3 fritters".
_PORTION = re.compile(
    rf"^(?:(?:a|one|each|1|per) (?:serving|portion)(?: size)?|(?:serving|portion) size)\b[\s:=]*(?:is|are|equals|of)?[\s:=]*({NUMBER})\s+(?:\w+ ){{0,2}}?(\w+?)s?\b",
    re.I,
)


def says_portion(line: str) -> bool:
    """Whether a line says what one portion is."""
    return bool(_PORTION.match(line[:HEAD]))


def portion_of(text: str, lines: Sequence[str]) -> tuple[float | None, str]:
    """Servings of a yield told in pieces, where one of the lines says how many are a portion; of a range the fewer count.

    >>> portion_of("Makes 12 skewers", ["400 g halloumi", "A serving is 2 skewers and 2 tbsp of dip"])
    (6.0, '“A serving is 2 skewers and 2 tbsp of dip”, and 12 skewers are made: counted as 6 servings')
    >>> portion_of("Makes 12 skewers", ["A serving is 2 tbsp of dip"])
    (None, '')
    """
    made = re.search(rf"({NUMBER})(?:\s*(?:-|–|to|or)\s*{NUMBER})?\s+(?:\w+ ){{0,2}}?(\w+)", text[:HEAD])
    for line in lines:
        portion = _PORTION.match(line[:HEAD])
        if made and portion and portion[2].lower() in made[0].lower():
            count, each = number_of(made[1]), number_of(portion[1])
            if each and 0 < count / each <= 500:
                servings = count / each
                return (
                    servings,
                    f"“{line.strip()[:90]}”, and {count:g} {portion[2].lower()}s are made: counted as {servings:g} servings",
                )
    return None, ""


def serves_inside(title: str, steps: Sequence[str]) -> tuple[float | None, str, str]:
    """Servings named in the title or in a step; the title without them; and where they were found.

    >>> serves_inside("Lentil pot (serves 6)", ())
    (6.0, 'Lentil pot', '“serves 6” was found in the title')
    """
    for text, place in ((title, "the title"), *((step, "a step") for step in steps)):
        if found := _INSIDE.search(text[:5_000]):
            serves = serves_of(f"serves {found[1]}")[0]
            if serves:
                plain = (
                    re.sub(r"[\s,–-]*[(\[]?" + re.escape(found[0]) + r"[)\]]?", "", title).strip()
                    if text is title
                    else title
                )
                return serves, plain or title, f"“{found[0]}” was found in {place}"
    return None, title, ""


def looks_like_yield(line: str) -> bool:
    line = line[:HEAD].lstrip("([ ")
    start = re.match(r"^(?:recipe )?(?:serves|servings?|yields?|makes|portions?|feeds|for \d)", line, re.I)
    counted = rf"^{NUMBER}(?:\s*(?:-|–|to)\s*{NUMBER})?\s*(?:servings?|portions?|people)\b"
    return bool(start or re.match(counted, line, re.I))
