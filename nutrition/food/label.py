"""A label as printed, in the US or the EU form, brought to 100 g: every figure an interval as wide as its rounding.

What a label does not print is unknown, never zero. Rounding and its sources:
tables/label_fields.tsv. What law lets a label be wrong by (20 %, 21 CFR 101.9(g)(5))
is another matter: the label margin of the sheet adds it.
"""

import functools
import math
import re
from collections.abc import Mapping
from dataclasses import dataclass

from nutrition.food.nutrients import BY_KEY, INDEX
from nutrition.food.own import OwnFood
from nutrition.food.table import foods
from nutrition.food.units import NUMBER, number_of
from nutrition.notes import Note, Problem, note
from nutrition.tables import pattern, read_table

US, EU = "us", "eu"
#: What an ingredient list is searched for: additive_… of patterns.tsv.
ADDITIVES = ("phosphate", "potassium", "polyol", "aspartame")
KJ_A_KCAL, SODIUM_IN_SALT = 4.184, 400.0
#: Potassium in potassium chloride (39.10 of 74.55 by weight), mg a gram; and the phosphorus that phosphates may add to 100 g: 0.5 % of
#: the weight (9 CFR 424.21(c), from memory), under a third of it phosphorus.
POTASSIUM_IN_CHLORIDE_MG, PHOSPHATES_ADD_MG = 524.5, 160.0
#: Energy may differ from 4/9/4 by this share, or so many kcal, before it is asked about; a figure from the food it stands for
#: by as much as the law lets a label be wrong.
ENERGY_WITHIN, ENERGY_WITHIN_KCAL, LIKE_WITHIN = 0.2, 20.0, 0.2


@dataclass(frozen=True, slots=True)
class Field:
    """One row of label_fields.tsv. `steps`: (up to, step); `zero_hides`: the most behind a printed 0; `most`: in 100 g."""

    key: str
    name: str
    is_part: bool
    is_needed: bool
    steps: tuple[tuple[float, float], ...]
    zero_hides: float
    most: float

    @property
    def unit(self) -> str:
        return self.key.rpartition("_")[2].replace("kj", "kJ")

    def step_at(self, figure: float) -> float:
        """The step a figure of this size is printed in.

        >>> sodium, salt = fields(US)["sodium_mg"], fields(EU)["salt_g"]
        >>> sodium.step_at(135), sodium.step_at(480), salt.step_at(0.4)
        (5.0, 10.0, 0.01)
        """
        return next(step for up_to, step in self.steps if figure < up_to)


def _steps(typed: str) -> tuple[tuple[float, float], ...]:
    *below, last = typed.split()
    pairs = [(float(up_to), float(step)) for up_to, step in (each.split(":") for each in below)]
    return (*pairs, (math.inf, float(last)))


@functools.cache
def fields(form: str) -> dict[str, Field]:
    """The fields of a form of label in the order they are printed; empty for a form that is none."""
    return {
        row["field"]: Field(
            row.text("field"),
            row["name"],
            row.yes("part"),
            row.yes("needed"),
            row.as_("steps", _steps, "up to:step, and at last a step"),
            row.number("zero_hides"),
            row.number("most"),
        )
        for row in read_table("label_fields.tsv")
        if row["form"] == form
    }


@dataclass(frozen=True, slots=True)
class Label:
    """What is printed. `printed`: field of label_fields.tsv -> figure for `per_g` grams (a serving, or 100 g in the EU).

    `ingredients`: the list as printed; `may_contain`: the line of traces. `stands_for`: id of the food of the table it
    takes the place of, for what kind of food it is. `serving`: the words of the serving, for what a cup of it weighs. Raises Problem with the field's name in `values["field"]`.
    """

    name: str
    form: str
    per_g: float
    printed: Mapping[str, float]
    ingredients: str = ""
    may_contain: str = ""
    stands_for: str = ""
    source: str = "label"
    serving: str = ""

    def __post_init__(self) -> None:
        if not fields(self.form):
            raise Problem("food.label_form", form=self.form)
        if not 0 < self.per_g <= 5_000:
            raise Problem("food.label_serving", field="per_g")
        for field in fields(self.form).values():
            if field.is_needed and field.key not in self.printed:
                raise Problem("food.label_needs", field=field.key)
        if self.form == EU and not {"energy_kj", "energy_kcal"} & self.printed.keys():
            raise Problem("food.label_needs", field="energy_kcal")
        for key, figure in self.printed.items():
            self._check(key, figure)
        self._check_parts()

    def _check(self, key: str, figure: float) -> None:
        field = fields(self.form).get(key)
        if field is None:
            raise Problem("food.label_field", field=key)
        if not figure >= 0:
            raise Problem("food.label_below_zero", field=key, figure=figure)
        if self.per_100g(figure) > field.most * 1.02 + self.per_100g(field.step_at(figure)):
            raise Problem("food.label_too_much", field=key, figure=figure, per_g=self.per_g)

    def _check_parts(self) -> None:
        of = self.printed.get
        rounding = 1.0 if self.form == US else 0.2
        for part, whole in (
            ("saturated_fat_g", "fat_g"),
            ("sugars_g", "carbohydrate_g"),
            ("added_sugars_g", "sugars_g"),
        ):
            if part in self.printed and whole in self.printed and self.printed[part] > self.printed[whole] + rounding:
                raise Problem(
                    "food.label_part", field=part, whole=whole, part=self.printed[part], of=self.printed[whole]
                )
        total = of("fat_g", 0.0) + of("carbohydrate_g", 0.0) + of("protein_g", 0.0) + of("salt_g", 0.0)
        total += of("fiber_g", 0.0) if self.form == EU else 0.0
        if total > self.per_g * 1.02 + 3 * rounding:
            raise Problem("food.label_parts_exceed", field="per_g", total=total, per_g=self.per_g)

    def per_100g(self, figure: float) -> float:
        return 100 * figure / self.per_g

    def span(self, key: str) -> tuple[float, float, float]:
        """Least, likely and most behind a printed figure, per 100 g."""
        figure, field = self.printed[key], fields(self.form)[key]
        half = field.step_at(figure) / 2
        least, most = (max(figure - half, 0.0), figure + half) if figure else (0.0, field.zero_hides)
        return self.per_100g(least), self.per_100g(figure), self.per_100g(most)

    @property
    def spans(self) -> dict[str, tuple[float, float, float]]:
        """Nutrient of the table -> least, likely, most in 100 g. In the EU fiber stands outside the carbohydrate."""
        found = {key: self.span(key) for key in self.printed if key in BY_KEY}
        if "salt_g" in self.printed:
            low, likely, high = self.span("salt_g")
            found["sodium_mg"] = low * SODIUM_IN_SALT, likely * SODIUM_IN_SALT, high * SODIUM_IN_SALT
        if "energy_kj" in self.printed and "energy_kcal" not in found:
            low, likely, high = self.span("energy_kj")
            found["energy_kcal"] = low / KJ_A_KCAL, likely / KJ_A_KCAL, high / KJ_A_KCAL
        if self.form == EU:
            # Without fiber the whole carbohydrate is not known: it is what is printed, and as much fiber as its kind may have.
            fiber = found.get("fiber_g", (0.0, 0.0, self._most_fiber()))
            found["carbohydrate_g"] = tuple(a + b for a, b in zip(found["carbohydrate_g"], fiber, strict=True))  # type: ignore[assignment]
        return found

    def _most_fiber(self) -> float:
        if not self.stands_for:
            return 30.0
        return float(foods().at_most_per_100g[foods().by_id(self.stands_for).row, INDEX["fiber_g"]])

    def as_food(self, food_id: str) -> OwnFood:
        """The food it makes, under an id of the practice's ("own:…")."""
        spans = self.spans
        category = foods().by_id(self.stands_for).category if self.stands_for else ""
        return OwnFood(
            food_id,
            self.name,
            category,
            self.source,
            per_100g={key: likely for key, (_, likely, _) in spans.items()},
            spans={key: (low, high) for key, (low, _, high) in spans.items()},
            ingredients=self.ingredients,
            may_contain=self.may_contain,
            measures=measure_of(self.serving),
            beyond=self.beyond,
        )

    @property
    def questions(self) -> tuple[Note, ...]:
        """What is worth a second look: energy beside 4/9/4, figures beside those of the food it stands for."""
        spans = self.spans
        asked: list[Note] = []

        def of(key: str) -> float:
            return spans.get(key, (0.0, 0.0, 0.0))[1]

        by_parts = (
            4 * of("protein_g") + 4 * max(of("carbohydrate_g") - of("fiber_g"), 0) + 2 * of("fiber_g") + 9 * of("fat_g")
        )
        energy = of("energy_kcal")
        sweetened = pattern("additive_polyol").search(self.ingredients) or pattern("spirits").search(self.ingredients)
        if abs(energy - by_parts) > max(ENERGY_WITHIN * energy, ENERGY_WITHIN_KCAL) and not sweetened:
            asked.append(note("food.label_energy", energy=energy, by_parts=by_parts))
        if self.stands_for and foods().has_id(self.stands_for):
            usual = foods().by_id(self.stands_for)
            for key in ("fat_g", "carbohydrate_g", "protein_g", "sodium_mg"):
                value = float(foods().per_100g[usual.row, INDEX[key]])
                if key not in spans or math.isnan(value):
                    continue
                low, likely, high = spans[key]
                beyond = max(low - value, value - high, 0.0)
                if beyond > LIKE_WITHIN * max(value, likely) and beyond > (1.0 if key.endswith("_g") else 40.0):
                    asked.append(note("food.label_unlike", nutrient=key, label=likely, usual=value, food=usual.id))
        return tuple(asked)

    @property
    def beyond(self) -> dict[str, float]:
        """What the additives of its list may add to 100 g beyond what its kind holds, of what is not printed.

        A list falls by weight: potassium salt behind the salt is no more than the salt, anywhere else it may be anything.
        """
        kinds, found = {kind for kind, _ in self.additives}, {}
        if "phosphate" in kinds and "phosphorus_mg" not in self.printed:
            found["phosphorus_mg"] = PHOSPHATES_ADD_MG
        if "potassium" in kinds and "potassium_mg" not in self.printed:
            before = self.ingredients[: pattern("additive_potassium").search(self.ingredients).start()]  # type: ignore[union-attr]
            sodium = self.spans.get("sodium_mg", (0.0, 0.0, math.inf))[2]
            salt_g = sodium / SODIUM_IN_SALT if pattern("plain_salt").search(before) else 100.0
            found["potassium_mg"] = min(salt_g, 100.0) * POTASSIUM_IN_CHLORIDE_MG
        return found

    @property
    def additives(self) -> tuple[tuple[str, str], ...]:
        """What the list names that limits hang on: (kind, the word as printed). Kinds: phosphate, potassium, polyol, aspartame."""
        return tuple(
            (kind, " ".join(found[0].split()))
            for kind in ADDITIVES
            for found in pattern(f"additive_{kind}").finditer(self.ingredients)
        )


#: "½ cup (125 g)", "2 slices (56g)", "30 g", "1 bottle 330 ml".
_GRAMS = re.compile(r"(\d+(?:[.,]\d+)?)\s*(g|grams?|ml|kg|oz)\b", re.I)
_IN_GRAMS = {"g": 1.0, "gram": 1.0, "grams": 1.0, "ml": 1.0, "kg": 1000.0, "oz": 28.0}


def grams_of_serving(words: str) -> float:
    """The weight of a serving as a label says it; label ounces are 28 g, a milliliter counts as a gram. Raises Problem.

    >>> grams_of_serving("½ cup (125 g)"), grams_of_serving("100 g")
    (125.0, 100.0)
    """
    found = _GRAMS.findall(words) or ([(words.strip(), "g")] if re.fullmatch(r"\s*\d+(?:[.,]\d+)?\s*", words) else [])
    if not found:
        raise Problem("food.label_serving", field="per_g")
    figure, unit = next((pair for pair in found if pair[1].lower() in ("g", "gram", "grams")), found[0])
    return float(figure.strip().replace(",", ".")) * _IN_GRAMS[unit.lower()]


_MEASURE = re.compile(rf"({NUMBER})\s*(cups?|tbsp|tablespoons?|tsp|teaspoons?|slices?|pieces?)\b", re.I)
_UNITS = {"tablespoon": "tbsp", "teaspoon": "tsp", "piece": "each"}


def measure_of(serving: str) -> dict[str, float]:
    """What one household measure weighs, where the serving says both.

    >>> measure_of("½ cup (125 g)"), measure_of("2 slices (56g)"), measure_of("100 g")
    ({'cup': 250.0}, {'slice': 28.0}, {})
    """
    found, grams = _MEASURE.search(serving), _GRAMS.search(serving)
    if not found or not grams:
        return {}
    unit = found[2].lower().rstrip("s") if found[2].lower() not in ("tbsp", "tsp") else found[2].lower()
    count = number_of(found[1])
    return {_UNITS.get(unit, unit): grams_of_serving(serving) / count} if count else {}
