"""parse: ingredient lines on standard input, one answer a line."""

import argparse
import json
import sys

from nutrition.commands.answers import finite, line_json
from nutrition.dish.line import Line
from nutrition.dish.naming import description_of
from nutrition.food.nutrients import INDEX
from nutrition.reading.deciding import DECIDES
from nutrition.reading.lines import clean, is_heading
from nutrition.reading.recipe import read_line
from nutrition.sheet.analysis import weighed


def set_json(line: Line) -> dict:
    """How many foods the words allow, and the least and most of what decides that so much of them may hold; None where nobody can say how much."""
    least, most = (side[0] for side in weighed([line]).spans(1))
    kinds = {line.food_id, *line.others} if line.food_id and line.sure == "check" else {line.food_id}
    holds = {key: [finite(least[INDEX[key]]), finite(most[INDEX[key]])] for key in DECIDES}
    return {"foods": len(kinds) if line.food_id else 0, "holds": holds}


def run(args: argparse.Namespace) -> None:
    for text in sys.stdin.read().splitlines():
        if not clean(text) or is_heading(text):
            continue
        line = read_line(text)
        if args.json:
            print(json.dumps(line_json(line) | {"set": set_json(line)}, ensure_ascii=False))
        else:
            grams = "?" if line.grams is None else f"{line.grams:.0f} g"
            print(f"{line.sure:7}{grams:>9}  {description_of(line) or '-'}  <  {line.text}")
