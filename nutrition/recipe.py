"""A recipe as the core sees it: parts with lines, each line a food and grams as an interval."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace

from .composition import foods
from .lines import ParsedLine, clean, is_heading, kitchen_of, parse
from .matching import SURENESS, cook_name, matcher
from .promises import broken_promise
from .weights import weigh


def is_wide(low: float, high: float) -> bool:
    """Whether a span of grams is worth an "about": wider than 2 % of its most.

    >>> is_wide(199, 201), is_wide(180, 220)
    (False, True)
    """
    return high - low > 0.02 * max(high, 1.0)


@dataclass(frozen=True, slots=True)
class Line:
    """One ingredient line as understood.

    `food_id` None: no food. `grams` None: no weight; then `low` and `high` mean nothing. The weights are
    for the whole recipe. `sure`: sure, likely or check; `ask` is what the words leave open. `is_edited`:
    food or weight were changed by hand since the words were read, so `text` may not be printed as the amount.
    `words_hold`: False once another food took this line's place; then only the food speaks of allergens.
    `advice`: what to do differently since another food took its place.
    `state`: what the kitchen does to it, a key of cooking.METHODS; empty for nothing.
    `is_of_a_kind`: what is open is only which of `food_id` and `others` it is, or what it weighs, never another food.
    """

    text: str
    food_id: str | None
    low: float
    grams: float | None
    high: float
    how: str
    sure: str
    rule: str = ""
    why: str = ""
    ask: str = ""
    others: tuple[str, ...] = ()
    part: str = ""
    is_edited: bool = False
    words_hold: bool = True
    state: str = ""
    advice: str = ""
    is_of_a_kind: bool = False

    @property
    def description(self) -> str | None:
        return foods().by_id(self.food_id).description if self.food_id else None

    @property
    def text_stands(self) -> bool:
        """Whether its words may be printed for it: neither its food nor its weight was changed since they were read."""
        return self.words_hold and (not self.is_edited or self.food_id is None)

    @property
    def is_food_open(self) -> bool:
        """Whether somebody must still say which food it is."""
        return self.sure == "check" and bool(self.ask or self.others or not self.food_id)

    @property
    def sure_of_food(self) -> str:
        """How sure its food is whatever it weighs; likely where the two cannot be told apart."""
        return "check" if self.is_food_open else "sure" if self.sure == "sure" else "likely"

    @property
    def name(self) -> str:
        """What a cook calls its food; the line's own words when it has none."""
        return cook_name(self.food_id) if self.food_id else self.text

    @property
    def is_vague(self) -> bool:
        """Whether its weight is known only to a span."""
        return self.grams is not None and is_wide(self.low, self.high)

    @property
    def is_weighed(self) -> bool:
        return self.food_id is not None and self.grams is not None


@dataclass(frozen=True, slots=True)
class RecipeText:
    """A recipe as found: headings still stand among the lines. `notes` say what was assumed in reading.

    `exact`: the lines as they were counted, when the recipe was written by writing.py; then nothing is read anew.
    """

    title: str
    serves: float | None
    lines: tuple[str, ...]
    steps: tuple[str, ...] = ()
    serving_grams: float | None = None
    notes: tuple[str, ...] = ()
    language: str = "en"
    exact: tuple[Line, ...] = ()


@dataclass(frozen=True, slots=True)
class Recipe:
    """A recipe as understood."""

    title: str
    serves: float
    lines: tuple[Line, ...]
    steps: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()

    def scaled(self, factor: float) -> "Recipe":
        """`factor` times the amounts for `factor` times the servings."""
        lines = tuple(
            replace(
                line,
                low=line.low * factor,
                high=line.high * factor,
                grams=None if line.grams is None else line.grams * factor,
            )
            for line in self.lines
        )
        return replace(self, serves=self.serves * factor, lines=lines)


def worst(*sureness: str) -> str:
    """The least sure of several.

    >>> worst("sure", "check", "likely")
    'check'
    """
    return max(sureness, key=SURENESS.index)


_OR = " or "
#: Bought with bone or shell as often as without; the table counts the edible part.
_BONE_OR_SHELL = re.compile(
    r"^Mollusks, (mussel|clam|oyster)[^,]*,.*raw|^Crustaceans, lobster|^Chicken, (drumstick|wing|thigh|breast), meat and skin|"
    r"^Chicken, broilers or fryers, meat and skin|^Turkey, whole, meat and skin|^Duck, .*meat and skin|spareribs|"
    r"^Lamb, domestic|ham, shank"
)
_MIXED = re.compile(
    r"\b(mixed|combined|blended|made up|dissolved|whisked|with)\b.*\b(cube|powder|granules|stock|bouillon|salt|paste|sugar|honey)\b"
)
_EGG_AND_PART = re.compile(
    r"\beggs?\b.*(?:,|\band\b|\bplus\b|\+|&)\s*(?:\d+|an?|one|two|three)\s+(?:extra |more |additional |large )?(?:egg )?(?:yolk|white)s?\b"
)
_NO_BONE = re.compile(r"boneless|boned|deboned|fillet|shelled|meat only|diced|cubed|minced", re.I)


def read_line(
    text: str,
    serves: float | None = None,
    *,
    part: str = "",
    kitchen: str = "",
    aliases: Mapping[str, str] | None = None,
) -> Line:
    """Parse, match and weigh one line. `aliases`: a practice's own names, normalized words -> food id.

    Amounts "to taste" are stated per serving and need `serves`; without it the weight stays unknown.

    >>> line = read_line("250 g unsalted butter")
    >>> line.description, line.grams, line.how, line.sure
    ('Butter, without salt', 250.0, 'weight', 'sure')
    """
    parsed = parse(text, kitchen)
    name, hints, ask = _food_words(parsed)
    is_of_a_kind = not ask
    match = matcher().match(name, hints, aliases)
    if match.row < 0:
        others = tuple(foods().ids[row] for row in match.others)
        return Line(text, None, 0.0, None, 0.0, "none", "check", why=match.why, ask=match.ask, others=others, part=part)
    if parsed.minus:
        ask = "a minus sign stands before the amount: read as a bullet point"
    if parsed.comment == "unread":
        ask = ask or "the amount could not be read: type it as in 2 tbsp"
    food, others = foods().food(match.row), match.others
    promised = broken_promise(clean(text), food, match.name)
    if promised:
        ask = ask or match.ask or f"“{promised}” was read, and {cook_name(food.id)} is not: which food is it?"
        others = tuple(dict.fromkeys((*others, *matcher().search(f"{promised} {name}", 3))))
        is_of_a_kind = False
    weight = weigh(parsed, food)
    low, grams, high = weight.low, weight.grams, weight.high
    if weight.how == "weight" and _BONE_OR_SHELL.search(food.description) and not _NO_BONE.search(text):
        ask = ask or "weighed with bone or shell? only the edible part counts: type its weight"
    if weight.per_serving and grams is not None:
        if serves is None:
            low, grams, high = 0.0, None, 0.0
            ask = ask or "the amount goes by serving: how many servings are there?"
        else:
            low, grams, high = low * serves, grams * serves, high * serves
    return Line(
        text=text,
        food_id=food.id,
        low=low,
        grams=grams,
        high=high,
        how=weight.how,
        sure=worst(match.sure, weight.sure, "check" if ask else "sure"),
        rule=weight.rule,
        why=match.why,
        ask=ask or match.ask,
        others=tuple(foods().ids[row] for row in others if row != match.row),
        part=part,
        is_of_a_kind=is_of_a_kind and (match.is_of_a_kind or match.sure != "check"),
    )


def _food_words(parsed: ParsedLine) -> tuple[str, str, str]:
    """The words that name the food, the words that may refine it, and a question when two are named."""
    units = " ".join(a.unit for a in parsed.amounts if a.unit in ("can", "tin", "jar"))
    hints = f"{parsed.preparation} {parsed.comment} {units} {parsed.text}"
    if not parsed.names:
        return "", hints, ""
    name, ask = parsed.names[0], ""
    lowered = parsed.text.lower()
    first = parsed.names[0].lower()
    if first in ("salt", "sea salt", "kosher salt") and "pepper" in lowered:
        return name, "", "salt and pepper stand on one line: only the salt is counted"
    if len(parsed.names) > 1 and _OR in lowered:
        ask = f"which one: {_OR.join(parsed.names[:3])}?"
    elif len(parsed.names) > 1:
        ask = f"several foods on one line: only “{name}” is counted; write each on its own line"
    if first in ("pepper", "peppers") and parsed.amounts and parsed.amounts[0].unit == "each":
        return "bell pepper", hints, ask or "a sweet pepper? of which color?"
    if parsed.amounts and parsed.amounts[0].unit == "cube" and re.search(r"stock|bouillon|broth", first):
        name, first = f"{name} cube", f"{first} cube"
    whole = len(parsed.amounts) == 1 and parsed.amounts[0].unit not in ("ml", "g")
    if whole and re.search(r"\bplus (?:\d|an? |one |two )", lowered):
        ask = ask or "what stands after “plus” is not counted: write it on its own line"
    if _MIXED.search(lowered) and first.split()[-1:] == ["water"]:
        ask = ask or "what is mixed into the water is not counted: write it on its own line"
    for fruit in ("lemon", "lime", "orange"):
        if fruit in first and "juice" not in first and "zest" not in first:
            if "zest" in lowered and "juice" in lowered:
                return name, hints, f"juice and zest: counted as a whole {fruit}"
            if "juice" in lowered:
                return f"{fruit} juice", hints, ask
            if "zest" in lowered or "rind" in lowered or "peel" in lowered.replace("peeled", ""):
                return f"{fruit} zest", hints, ask
    if _EGG_AND_PART.search(lowered):
        return "egg", "", ask or "whole eggs and yolks or whites on one line: only the whole eggs are counted"
    if "egg" in first.split() or "eggs" in first.split():
        if "white" in lowered and "yolk" not in lowered:
            return "egg white", hints, ask
        if "yolk" in lowered and "white" not in lowered and "plus" not in lowered:
            return "egg yolk", hints, ask
    return name, hints, ask


def read_recipe(
    source: RecipeText,
    serves: float | None = None,
    *,
    aliases: Mapping[str, str] | None = None,
) -> Recipe:
    """Read every line. Raises ValueError when the number of servings is neither given nor in the source."""
    serves = serves or source.serves
    if not serves or serves <= 0:
        raise ValueError("how many servings the recipe makes is not known")
    if source.exact:
        same = Recipe(source.title, source.serves or serves, source.exact, source.steps, source.notes)
        return replace(same, serves=serves)
    kitchen = kitchen_of(" ".join(source.lines))
    lines, part = [], ""
    for text in source.lines:
        if is_heading(text):
            part = clean(text).rstrip(":")
        elif clean(text):
            lines.append(read_line(text, serves, part=part, kitchen=kitchen, aliases=aliases))
    return Recipe(source.title, serves, tuple(lines), source.steps, source.notes)
