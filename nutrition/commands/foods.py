"""foods: look a food up."""

import argparse

from nutrition.commands.answers import Refused
from nutrition.reading.matching import search_foods


def run(args: argparse.Namespace) -> None:
    words = " ".join(args.words)
    found = search_foods(words, 15)
    if not found:
        raise Refused(f"foods: nothing in the table is like {words!r}; try one plain word, as in 'oats'")
    for food in found:
        print(f"{food.description}\t{food.category}\t{food.source}")
