"""methods.txt as values: dishes with their methods as a careful cook reads them."""

import re
from dataclasses import dataclass, field
from pathlib import Path

from nutrition.dish.dish import Dish
from nutrition.reading.recipe import read_line


@dataclass
class GoldStep:
    """Lines are positions from 0. `adds`: (words, tags); `leaves`: (line, how, least, most)."""

    text: str
    uses: frozenset = frozenset()
    ops: tuple = ()
    adds: tuple = ()
    leaves: tuple = ()


@dataclass
class Gold:
    title: str
    kitchen: str
    serves: float
    which: str
    lines: list = field(default_factory=list)
    steps: list = field(default_factory=list)
    raw: frozenset = frozenset()
    unnamed: frozenset = frozenset()
    products: dict = field(default_factory=dict)

    @property
    def dish(self):
        own = tuple(read_line(text, self.serves) for text in self.lines)
        return Dish(self.title, self.serves, own, tuple(step.text for step in self.steps))


def _numbers(text):
    return frozenset(int(each) - 1 for each in text.split())


def _adds(text):
    found = []
    for each in filter(None, (part.strip() for part in text.split(";"))):
        words, _, tags = each.partition(" [")
        found.append((words, tuple(tags.rstrip("]").split())))
    return tuple(found)


def _leaves(text):
    found = []
    for each in filter(None, (part.strip() for part in text.split(";"))):
        line, how, span = each.split()
        least, most = span.split("..")
        found.append((int(line) - 1, how, float(least), float(most)))
    return tuple(found)


def gold(which=""):
    """Every dish of a set, or of all."""
    found = []
    for row in Path(__file__).with_name("methods.txt").read_text(encoding="utf-8").splitlines():
        if row.startswith("= "):
            title, kitchen, serves, own = row[2:].split(" | ")
            found.append(Gold(title, kitchen, float(serves), own))
        elif row.startswith("- "):
            found[-1].lines.append(row[2:])
        elif row.startswith("* "):
            found[-1].steps.append(GoldStep(row[2:]))
        elif row.startswith("  "):
            said = dict(part.strip().partition(":")[::2] for part in row.strip().split(" | "))
            step = found[-1].steps[-1]
            step.uses, step.ops = _numbers(said["uses"]), tuple(said["ops"].split())
            step.adds, step.leaves = _adds(said.get("adds", "")), _leaves(said.get("leaves", ""))
        elif match := re.match(r"(raw|unnamed):(.*)", row):
            setattr(found[-1], match[1], _numbers(match[2]))
        elif row.startswith("products:"):
            pairs = (part.split(" = ") for part in row.removeprefix("products:").split(";"))
            found[-1].products = {name.strip(): _numbers(lines) for name, lines in pairs}
    return [each for each in found if which in ("", each.which)]
