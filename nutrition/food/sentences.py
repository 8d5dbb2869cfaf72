"""What the foods room says."""

from nutrition.food.nutrients import BY_KEY


def field_name(key: str) -> str:
    """A field of a label as it is called on a screen.

    >>> field_name("salt_g"), field_name("sodium_mg")
    ('salt', 'sodium')
    """
    if key in BY_KEY:
        return BY_KEY[key].label.lower()
    return {"salt_g": "salt", "energy_kj": "energy in kJ", "per_g": "the serving"}.get(key, key)


def _too_much(field: str, figure: float, per_g: float) -> str:
    unit = "kcal" if field == "energy_kcal" else "kJ" if field == "energy_kj" else field.rpartition("_")[2]
    return (
        f"{figure:,g} {unit} of {field_name(field)} in {per_g:g} g was read, which no food holds. "
        f"Look at the unit: is it meant in {'mg' if unit == 'g' else 'g' if unit == 'mg' else 'another unit'}?"
    )


def _unlike(nutrient: str, label: float, usual: float, food: str) -> str:
    from nutrition.food.names import cook_name

    it = BY_KEY[nutrient]
    return f"in 100 g the label has {it.show(label)} {it.label.lower()}, {cook_name(food)} has {it.show(usual)}: is it right?"


SENTENCES = {
    "traces": "the label says there may be traces",
    "label_form": "“{form}” is no form of label; one of these is expected: {names}.",
    "label_figure": lambda field, printed: (
        f"“{printed}” for {field_name(field)} is no figure. Type it as printed: 12, 0.5, <1 or trace; empty where nothing is printed."
    ),
    "label_negative": lambda field, printed: f"{printed} {field_name(field)} cannot be. Type it as printed, from 0 up.",
    "label_basis": lambda words, field: (
        f"“{words}” was read: are the figures of it as sold, as prepared, or drained? Say it beside the serving, so that a line of the dry packet is not weighed as the made-up dish."
    ),
    "label_density": lambda field: (
        "The figures are for a volume. What do 100 ml of it weigh? Milk 103 g, oil 92 g, syrup 132 g; or say which food of the table it stands for."
    ),
    "label_kilojoules": "{kj:g} kJ are {by_kj:,.0f} kcal, and {kcal:g} kcal are printed: is one mistyped?",
    "label_zero": lambda field, words: (
        f"{field_name(field)} is 0, and the list names {words}: is it the right line of the label?"
    ),
    "label_claim": lambda words, why: f"it calls itself “{words}”, and that does not hold: {why}",
    "label_claim_open": lambda words, why: (
        f"it calls itself “{words}”, and that cannot be told from what is typed: {why}"
    ),
    "label_serving": "How many grams the figures are for was not understood. Type it as printed, as in ½ cup (125 g), or 100 g.",
    "label_needs": lambda field: f"The label’s {field_name(field)} is missing: type it as printed, 0 included.",
    "label_field": lambda field: f"{field_name(field).capitalize()} is not on this form of label.",
    "label_below_zero": lambda field, figure: (
        f"{figure:g} for {field_name(field)} is below zero. Type it as printed, from 0 up."
    ),
    "label_too_much": _too_much,
    "label_part": lambda field, whole, part, of: (
        f"{field_name(field).capitalize()} ({part:g} g) is more than {field_name(whole)} ({of:g} g), of which it is a part. Look again at both."
    ),
    "label_parts_exceed": lambda total, per_g, field: (
        f"Fat, carbohydrate and protein come to {total:g} g, more than the {per_g:g} g they are for. Is the serving right?"
    ),
    "label_energy": "the label says {energy:,.0f} kcal in 100 g, its parts come to {by_parts:,.0f}: is a figure mistyped?",
    "label_unlike": _unlike,
    "look_for": "{text}",
    "on_the_us_list": "{text}",
    "says_free": "it calls itself free of this: the label must say so",
    "coat": "what its coat is made of",
}
