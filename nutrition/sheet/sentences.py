"""What the sheet says: why a claim holds or does not."""

from collections.abc import Callable, Sequence

from nutrition.food.nutrients import BY_KEY
from nutrition.food.tags import TAGS


def _asked(sign: str) -> Callable[[str, float, str, float], str]:
    def sentence(nutrient: str, amount: float, basis: str, limit: float) -> str:
        it = BY_KEY[nutrient]
        return f"{it.label.lower()} {amount:,.3g} {it.unit} {basis}, {sign} {limit:g} is asked"

    return sentence


def _share_asked(sign: str) -> Callable[[str, float, float], str]:
    def sentence(nutrient: str, likely: float, share: float) -> str:
        return f"{BY_KEY[nutrient].label.lower()} is {likely:.0%} of the energy, {sign} {share:.0%} is asked"

    return sentence


def _amount_of(nutrient: str, amount: float, limit: float) -> str:
    it = BY_KEY[nutrient]
    return f"{it.label.lower()} {it.show(amount)} of {it.show(limit)}"


def _not_the_total(nutrient: str, amount: float) -> str:
    it = BY_KEY[nutrient]
    return f"it says nothing of the total: a serving holds {it.show(amount)} {it.label.lower()}"


def _and(words: list[str]) -> str:
    return " and ".join(", ".join(words).rsplit(", ", 1))


def _doubt(nutrients: tuple[str, ...], tags: tuple[str, ...]) -> str:
    """ "decides sodium and potassium, and whether it holds milk"."""
    holds = _and([TAGS[tag].lower() for tag in tags]) if len(tags) <= MOST_TAGS else "allergens"
    decided = [_and([BY_KEY[key].label.lower() for key in nutrients])] if nutrients else []
    decided += [f"whether it holds {holds}"] if tags else []
    return f"decides {', and '.join(decided)}" if decided else "changes nothing here"


#: Beyond so many allergens in doubt they are not listed one by one.
MOST_TAGS = 3


def _gates_then(opens: Sequence[str], shuts: Sequence[str], leaves: Sequence[str]) -> str:
    parts = (("opens", opens), ("shuts", shuts), ("cannot tell", leaves))
    return "; ".join(f"{does} {', '.join(BY_KEY[key].label.lower() for key in keys)}" for does, keys in parts if keys)


SENTENCES = {
    "gates_then": _gates_then,
    "how_much_eaten": "a step leaves some of it behind: how much of it is eaten?",
    "doubt": _doubt,
    "at_least_is_asked": _asked("at least"),
    "less_than_is_asked": _asked("less than"),
    "at_most_is_asked": _asked("at most"),
    "energy_at_least": _share_asked("at least"),
    "energy_at_most": _share_asked("at most"),
    "per_50_g": "per 50 g too, because the serving is 30 g or less",
    "nothing_listed": "nothing listed found; the labels decide",
    "found": lambda tag, verdict, lines: f"{TAGS[tag]}: {verdict} ({', '.join(lines)})",
    "amount_of": _amount_of,
    "bring_it": lambda lines: f"{', '.join(lines)} bring it",
    "reminder_of": lambda lines, text: f"{', '.join(lines)}: {text}",
    "not_the_total": _not_the_total,
}
