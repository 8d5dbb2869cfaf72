"""A label as printed, in the US or the EU form, brought to 100 g: every figure an interval as wide as its rounding.

What a label does not print is unknown, never zero. Rounding and its sources:
tables/label_fields.tsv. What law lets a label be wrong by (20 %, 21 CFR 101.9(g)(5))
is another matter: the label margin of the sheet adds it.
"""

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass

from nutrition.food.additives import additives_in, where_first
from nutrition.food.label_forms import AU, EU, IN, INSIDE, OPEN, OUTSIDE, US, Below, Form, fields, forms
from nutrition.food.nutrients import BY_KEY, INDEX
from nutrition.food.own import OwnFood
from nutrition.food.table import foods
from nutrition.food.units import NUMBER, number_of
from nutrition.notes import Note, Problem, note
from nutrition.tables import pattern

__all__ = [
    "AS_PREPARED",
    "AS_SOLD",
    "AU",
    "BASES",
    "DRAINED",
    "EU",
    "IN",
    "US",
    "Below",
    "Label",
    "fields",
    "forms",
    "grams_of_serving",
    "measure_of",
]
#: What the figures are of.
AS_SOLD, AS_PREPARED, DRAINED = BASES = ("as sold", "as prepared", "drained")
KJ_A_KCAL, SODIUM_IN_SALT = 4.184, 400.0
#: Potassium in potassium chloride (39.10 of 74.55 by weight), mg a gram; and the phosphorus that phosphates may add to 100 g: 0.5 % of
#: the weight (9 CFR 424.21(c), from memory), under a third of it phosphorus.
POTASSIUM_IN_CHLORIDE_MG, PHOSPHATES_ADD_MG = 524.5, 160.0
#: Energy may differ from 4/9/4 by this share, or so many kcal, before it is asked about; a figure from the food it stands for
#: by as much as the law lets a label be wrong; kilojoules from kilocalories by what factors and rounding make of them.
ENERGY_WITHIN, ENERGY_WITHIN_KCAL, LIKE_WITHIN = 0.2, 20.0, 0.2
KJ_WITHIN, KJ_WITHIN_KCAL = 0.05, 6.0


@dataclass(frozen=True, slots=True)
class Label:
    """What is printed. `printed`: field of label_fields.tsv -> figure for `per_g` grams (a serving, or 100 g in the EU).

    `ingredients`: the list as printed; `may_contain`: the line of traces. `stands_for`: id of the food of the table it
    takes the place of, for what kind of food it is. `serving`: the words of the serving, for what a cup of it weighs.
    `basis`: one of BASES, "" where nobody said. Raises Problem with the field's name in `values["field"]`.
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
    basis: str = ""

    def __post_init__(self) -> None:
        if self.form not in forms():
            raise Problem("food.label_form", form=self.form, names=" · ".join(form.name for form in forms().values()))
        if not 0 < self.per_g <= 5_000:
            raise Problem("food.label_serving", field="per_g")
        for field in fields(self.form).values():
            if field.is_needed and field.key not in self.printed:
                raise Problem("food.label_needs", field=field.key)
        if not {"energy_kj", "energy_kcal"} & self.printed.keys():
            raise Problem("food.label_needs", field="energy_kcal")
        for key, figure in self.printed.items():
            self._check(key, figure)
        self._check_parts()
        if not self.basis and (said := pattern("label_basis").search(f"{self.name}; {self.serving}")):
            raise Problem("food.label_basis", field="basis", words=said[0])

    @property
    def _form(self) -> Form:
        return forms()[self.form]

    def _check(self, key: str, figure: float) -> None:
        field = fields(self.form).get(key)
        if field is None:
            raise Problem("food.label_field", field=key)
        if not figure >= 0:
            raise Problem("food.label_below_zero", field=key, figure=figure)
        if self.per_100g(figure) > field.most * 1.02 + self.per_100g(field.step_at(figure)):
            raise Problem("food.label_too_much", field=key, figure=figure, per_g=self.per_g)

    def _check_parts(self) -> None:
        of, rounding = self.printed.get, self._form.rounding
        pairs = [
            ("saturated_fat_g", "fat_g"),
            ("sugars_g", "carbohydrate_g"),
            ("added_sugars_g", "sugars_g"),
            ("polyols_g", "carbohydrate_g"),
        ]
        pairs += [(key, "fat_g") for key in ("trans_fat_g", "monounsaturated_fat_g", "polyunsaturated_fat_g")]
        pairs += [("omega3_g", "polyunsaturated_fat_g")]
        pairs += [("fiber_g", "carbohydrate_g")] if self._form.fiber == INSIDE else []
        for part, whole in pairs:
            if part in self.printed and whole in self.printed and self.printed[part] > self.printed[whole] + rounding:
                raise Problem(
                    "food.label_part", field=part, whole=whole, part=self.printed[part], of=self.printed[whole]
                )
        acids = sum(of(key, 0.0) for key in ("saturated_fat_g", "monounsaturated_fat_g", "polyunsaturated_fat_g"))
        if acids > of("fat_g", 0.0) + 2 * rounding:
            raise Problem("food.label_part", field="fat_g", whole="fat_g", part=acids, of=of("fat_g", 0.0))
        total = of("fat_g", 0.0) + of("carbohydrate_g", 0.0) + of("protein_g", 0.0) + of("salt_g", 0.0)
        total += of("fiber_g", 0.0) if self._form.fiber == OUTSIDE else 0.0
        if total > self.per_g * 1.02 + 3 * rounding:
            raise Problem("food.label_parts_exceed", field="per_g", total=total, per_g=self.per_g)

    def per_100g(self, figure: float) -> float:
        return 100 * figure / self.per_g

    def span(self, key: str) -> tuple[float, float, float]:
        """Least, likely and most behind a printed figure, per 100 g."""
        least, likely, most = fields(self.form)[key].span(self.printed[key])
        return self.per_100g(least), self.per_100g(likely), self.per_100g(most)

    @property
    def spans(self) -> dict[str, tuple[float, float, float]]:
        """Nutrient of the table -> least, likely, most in 100 g. In the EU fiber stands outside the carbohydrate; where the
        law leaves it to the maker, it may be either."""
        found = {key: self.span(key) for key in self.printed if key in BY_KEY}
        if "salt_g" in self.printed:
            low, likely, high = self.span("salt_g")
            found["sodium_mg"] = low * SODIUM_IN_SALT, likely * SODIUM_IN_SALT, high * SODIUM_IN_SALT
        if "energy_kj" in self.printed and "energy_kcal" not in found:
            low, likely, high = self.span("energy_kj")
            found["energy_kcal"] = low / KJ_A_KCAL, likely / KJ_A_KCAL, high / KJ_A_KCAL
        if self._form.fiber == OPEN:
            low, likely, high = found["carbohydrate_g"]
            found["carbohydrate_g"] = (low, likely, high + found.get("fiber_g", (0.0, 0.0, self._most_fiber()))[2])
        if self._form.fiber == OUTSIDE:
            # Without fiber the whole carbohydrate is not known: it is what is printed, and as much fiber as its kind may have.
            fiber = found.get("fiber_g", (0.0, 0.0, self._most_fiber()))
            found["carbohydrate_g"] = tuple(a + b for a, b in zip(found["carbohydrate_g"], fiber, strict=True))  # type: ignore[assignment]
        return found | self._erythritol(found)

    def _erythritol(self, found: dict[str, tuple[float, float, float]]) -> dict[str, tuple[float, float, float]]:
        """How much of the printed polyols is erythritol: all of it where the list names no other, else not known."""
        named = {word for kind, word in additives_in(self.ingredients) if kind == "polyol"}
        if "polyols_g" not in found or not named:
            return {}
        is_it = {word for word in named if "erythritol" in word}
        return (
            {"erythritol_g": found["polyols_g"]}
            if is_it == named
            else {}
            if is_it
            else {"erythritol_g": (0.0, 0.0, 0.0)}
        )

    def _most_fiber(self) -> float:
        if not self.stands_for:
            return 30.0
        return float(foods().at_most_per_100g[foods().by_id(self.stands_for).row, INDEX["fiber_g"]])

    def as_food(self, food_id: str) -> OwnFood:
        """The food it makes, under an id of the practice's ("own:…")."""
        spans = self.spans
        category = foods().by_id(self.stands_for).category if self.stands_for else ""
        is_named = not self.basis or self.basis == AS_SOLD or self.basis.removeprefix("as ") in self.name.lower()
        return OwnFood(
            food_id,
            self.name if is_named else f"{self.name}, {self.basis}",
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

        if {"energy_kj", "energy_kcal"} <= self.printed.keys():
            kcal, by_kj = self.printed["energy_kcal"], self.printed["energy_kj"] / KJ_A_KCAL
            if abs(kcal - by_kj) > max(KJ_WITHIN * kcal, KJ_WITHIN_KCAL):
                asked.append(note("food.label_kilojoules", kcal=kcal, kj=self.printed["energy_kj"], by_kj=by_kj))
        asked += self._zeros()
        by_parts = (
            4 * of("protein_g") + 4 * max(of("carbohydrate_g") - of("fiber_g"), 0) + 2 * of("fiber_g") + 9 * of("fat_g")
        )
        energy = of("energy_kcal")
        sweetened = "polyol" in dict(self.additives) or pattern("spirits").search(self.ingredients)
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

    def _zeros(self) -> list[Note]:
        """A printed 0 beside its ingredient: law lets little be none, and a figure may have slipped by a line."""
        zeros = {key for key, figure in self.printed.items() if not figure}
        pairs = (
            ("sodium_mg", "plain_salt"),
            ("salt_g", "plain_salt"),
            ("sugars_g", "sugars_in_list"),
            ("fat_g", "oils_in_list"),
        )
        return [
            note("food.label_zero", field=key, words=found[0].lower())
            for key, words in pairs
            if key in zeros and (found := pattern(words).search(self.ingredients))
        ]

    @property
    def beyond(self) -> dict[str, float]:
        """What the additives of its list may add to 100 g beyond what its kind holds, of what is not printed.

        A list falls by weight: potassium salt behind the salt is no more than the salt, anywhere else it may be anything that
        fat, carbohydrate, protein and salt leave of 100 g.
        """
        kinds, found = {kind for kind, _ in self.additives}, {}
        if "phosphate" in kinds and "phosphorus_mg" not in self.printed:
            found["phosphorus_mg"] = PHOSPHATES_ADD_MG
        if "potassium" in kinds and "potassium_mg" not in self.printed:
            spans = self.spans
            sodium = spans.get("sodium_mg", (0.0, 0.0, math.inf))
            salt_g = (
                sodium[2] / SODIUM_IN_SALT
                if pattern("plain_salt").search(where_first(self.ingredients, "potassium"))
                else 100.0
            )
            rest = sum(spans.get(key, (0.0,))[0] for key in ("fat_g", "carbohydrate_g", "protein_g"))
            found["potassium_mg"] = (
                min(salt_g, max(100.0 - rest - sodium[0] / SODIUM_IN_SALT, 0.0)) * POTASSIUM_IN_CHLORIDE_MG
            )
        return found

    @property
    def additives(self) -> tuple[tuple[str, str], ...]:
        """What the list names that limits hang on: (kind, the words). Kinds: those of food/additives.py."""
        return additives_in(self.ingredients)


#: "½ cup (125 g)", "2 slices (56g)", "30 g", "1 bottle 330 ml", "8 fl oz".
_AMOUNT = re.compile(r"(\d+(?:[.,]\d+)?)\s*(fl\.?\s?oz|g|grams?|ml|cl|l|lit(?:er|re)s?|kg|oz)\b", re.I)
_IN_GRAMS = {"g": 1.0, "gram": 1.0, "grams": 1.0, "kg": 1000.0, "oz": 28.0}
_IN_ML = {"ml": 1.0, "cl": 10.0, "l": 1000.0, "liter": 1000.0, "litre": 1000.0, "liters": 1000.0, "litres": 1000.0}


def grams_of_serving(words: str, g_per_ml: float = 1.0, floz_ml: float = 30.0) -> float:
    """The weight of a serving as a label says it; label ounces are 28 g. A weight counts before a volume. Raises Problem.

    `g_per_ml`: what a milliliter of it weighs, where only a volume is printed; `floz_ml`: the label's fluid ounce.

    >>> grams_of_serving("½ cup (125 g)"), grams_of_serving("100 g"), grams_of_serving("8 fl oz"), grams_of_serving("100 ml", 0.92)
    (125.0, 100.0, 240.0, 92.0)
    """
    found = [
        (float(figure.replace(",", ".")), re.sub(r"[.\s]", "", unit.lower())) for figure, unit in _AMOUNT.findall(words)
    ]
    if not found and re.fullmatch(r"\s*\d+(?:[.,]\d+)?\s*", words):
        found = [(float(words.strip().replace(",", ".")), "g")]
    if not found:
        raise Problem("food.label_serving", field="per_g")
    by_weight = [figure * _IN_GRAMS[unit] for unit in _IN_GRAMS for figure, said in found if said == unit]
    return by_weight[0] if by_weight else _ml(found, floz_ml) * g_per_ml


def _ml(found: list[tuple[float, str]], floz_ml: float) -> float:
    """The volume that is printed; milliliters before ounces."""
    return next(
        (figure * _IN_ML[unit] for figure, unit in found if unit in _IN_ML),
        next((figure * floz_ml for figure, _ in found), 0.0),
    )


def is_by_volume(words: str) -> bool:
    """Whether a serving is printed as a volume only, so that its weight hangs on what a milliliter weighs.

    >>> is_by_volume("100 ml"), is_by_volume("1 cup (240 ml) 248 g"), is_by_volume("8 fl oz")
    (True, False, True)
    """
    units = {re.sub(r"[.\s]", "", unit.lower()) for _, unit in _AMOUNT.findall(words)}
    return bool(units) and not units & _IN_GRAMS.keys()


_MEASURE = re.compile(
    rf"({NUMBER})\s*(cups?|tbsp|tablespoons?|tsp|teaspoons?|slices?|pieces?|scoops?|sachets?|bars?|biscuits?|crackers?|cubes?)\b",
    re.I,
)
_UNITS = {"tablespoon": "tbsp", "teaspoon": "tsp", "piece": "each"}


def measure_of(serving: str) -> dict[str, float]:
    """What one household measure weighs, where the serving says both.

    >>> measure_of("½ cup (125 g)"), measure_of("2 slices (56g)"), measure_of("100 g")
    ({'cup': 250.0}, {'slice': 28.0}, {})
    """
    found, grams = _MEASURE.search(serving), _AMOUNT.search(serving)
    if not found or not grams:
        return {}
    unit = found[2].lower().rstrip("s") if found[2].lower() not in ("tbsp", "tsp") else found[2].lower()
    count = number_of(found[1])
    return {_UNITS.get(unit, unit): grams_of_serving(serving) / count} if count else {}
