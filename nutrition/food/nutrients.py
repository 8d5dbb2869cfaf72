"""The registry of nutrients: one row each, in the order of every array in the core.

Keys carry their unit (`sodium_mg`). INFOODS tagnames: FAO/INFOODS Food Component Identifiers
(from memory). Daily values: 21 CFR 101.9(c)(8)(iv) and (c)(9), adults and children of 4 years
and more, as amended in 2016 (from memory).

>>> BY_KEY["sodium_mg"].label
'Sodium'
>>> INDEX["energy_kcal"]
0
"""

from dataclasses import dataclass

#: The unit of what is counted against one sitting: 1 is what one sitting may hold.
SITTING = "× a sitting"


@dataclass(frozen=True, slots=True)
class Nutrient:
    """One nutrient. `tag` is the INFOODS tagname, `daily_value` in the nutrient's own unit or None."""

    key: str
    label: str
    unit: str
    tag: str
    daily_value: float | None

    def show(self, amount: float) -> str:
        """Round for the eye: 1 under 100, then 5, then 10; grams to a half under 10.

        >>> BY_KEY["sodium_mg"].show(1237.2)
        '1,240 mg'
        >>> BY_KEY["protein_g"].show(7.24)
        '7.0 g'
        """
        return f"{rounded(amount, self.unit)} {self.unit}"


def rounded(amount: float, unit: str) -> str:
    """The number as the screens print it, without its unit. Amounts above zero never print as 0.

    >>> rounded(0.02, "g"), rounded(42.4, "mg"), rounded(423, "mg"), rounded(8.8, "g")
    ('<0.1', '42', '425', '9.0')
    """
    size = abs(amount)
    if unit == SITTING:
        step, places = (0.01, 2) if size < 2 else (0.1, 1)
    elif unit == "g" and size < 10:
        step, places = (0.1, 1) if size < 5 else (0.5, 1)
    elif size < 100:
        step, places = (0.1, 1) if size < 2 and unit != "kcal" else (1, 0)
    else:
        step, places = (5, 0) if size < 1000 else (10, 0)
    if 0 < size <= step / 2:
        return f"<{step:g}"
    text = f"{round(amount / step) * step:,.{places}f}"
    return "0" if float(text.replace(",", "")) == 0 else text


_ROWS = """
energy_kcal       | Energy        | kcal | ENERC  |
protein_g         | Protein       | g    | PROCNT | 50
fat_g             | Fat           | g    | FAT    | 78
saturated_fat_g   | Saturated fat | g    | FASAT  | 20
carbohydrate_g    | Carbohydrate  | g    | CHOCDF | 275
fiber_g           | Fiber         | g    | FIBTG  | 28
sugars_g          | Sugars        | g    | SUGAR  |
added_sugars_g    | Added sugars  | g    | SUGAD  | 50
cholesterol_mg    | Cholesterol   | mg   | CHOLE  | 300
sodium_mg         | Sodium        | mg   | NA     | 2300
potassium_mg      | Potassium     | mg   | K      | 4700
phosphorus_mg     | Phosphorus    | mg   | P      | 1250
calcium_mg        | Calcium       | mg   | CA     | 1300
iron_mg           | Iron          | mg   | FE     | 18
magnesium_mg      | Magnesium     | mg   | MG     | 420
zinc_mg           | Zinc          | mg   | ZN     | 11
copper_mg         | Copper        | mg   | CU     | 0.9
selenium_ug       | Selenium      | µg   | SE     | 55
vitamin_a_ug      | Vitamin A     | µg   | VITA_RAE | 900
vitamin_c_mg      | Vitamin C     | mg   | VITC   | 90
vitamin_d_ug      | Vitamin D     | µg   | VITD   | 20
vitamin_k_ug      | Vitamin K     | µg   | VITK1  | 120
vitamin_b6_mg     | Vitamin B6    | mg   | VITB6A | 1.7
folate_ug         | Folate        | µg   | FOL    | 400
vitamin_b12_ug    | Vitamin B12   | µg   | VITB12 | 2.4
"""


#: Worked out from the measured ones and from tables of their own, by derived.py; built by tools/build_derived.py.
#: `× a sitting`: how many times the amount that may bring complaints in one sitting (fodmap.tsv).
_DERIVED_ROWS = """
monounsaturated_fat_g    | Monounsaturated fat                | g       | FAMS     |
polyunsaturated_fat_g    | Polyunsaturated fat                | g       | FAPU     |
omega3_g                 | Omega-3                            | g       | FAPUN3   |
omega6_g                 | Omega-6                            | g       | FAPUN6   |
trans_fat_g              | Trans fat                          | g       | FATRN    |
polyols_g                | Polyols                            | g       | POLYL    |
erythritol_g             | Erythritol                         | g       |          |
allulose_g               | Allulose                           | g       |          |
available_carbohydrate_g | Carbohydrate less fiber            | g       | CHOAVLDF |
net_carbohydrate_g       | Net carbohydrate                   | g       |          |
absorbed_phosphorus_mg   | Phosphorus as absorbed             | mg      |          |
phenylalanine_mg         | Phenylalanine, estimated           | mg      | PHE      |
lactose_g                | Lactose                            | g       | LACS     |
alcohol_g                | Alcohol                            | g       | ALC      |
counted_protein_g        | Protein that counts                | g       |          |
water_g                  | Water                              | g       | WATER    |
fluid_ml                 | Fluid                              | ml      |          |
oligosaccharide_load     | Fructans and GOS                   | × a sitting |      |
fructose_load            | Fructose above glucose             | × a sitting |      |
sorbitol_load            | Sorbitol                           | × a sitting |      |
mannitol_load            | Mannitol                           | × a sitting |      |
"""


def _parse(row: str) -> Nutrient:
    key, label, unit, tag, daily_value = (cell.strip() for cell in row.split("|"))
    return Nutrient(key, label, unit, tag, float(daily_value) if daily_value else None)


MEASURED: tuple[Nutrient, ...] = tuple(_parse(row) for row in _ROWS.strip().splitlines())
DERIVED: tuple[Nutrient, ...] = tuple(_parse(row) for row in _DERIVED_ROWS.strip().splitlines())
NUTRIENTS = MEASURED + DERIVED
KEYS: tuple[str, ...] = tuple(nutrient.key for nutrient in NUTRIENTS)
BY_KEY: dict[str, Nutrient] = {nutrient.key: nutrient for nutrient in NUTRIENTS}
MEASURED_KEYS = tuple(nutrient.key for nutrient in MEASURED)
DERIVED_KEYS = tuple(nutrient.key for nutrient in DERIVED)
INDEX: dict[str, int] = {key: position for position, key in enumerate(KEYS)}
#: The ten the commonest ingredients must have complete.
CORE_KEYS = (
    "energy_kcal",
    "protein_g",
    "fat_g",
    "saturated_fat_g",
    "carbohydrate_g",
    "fiber_g",
    "sugars_g",
    "sodium_mg",
    "potassium_mg",
    "phosphorus_mg",
)
