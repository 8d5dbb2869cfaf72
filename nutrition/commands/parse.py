"""parse: ingredient lines on standard input, one answer a line."""

import argparse
import json
import sys

from nutrition.commands.answers import line_json
from nutrition.dish.naming import description_of
from nutrition.reading.lines import clean, is_heading
from nutrition.reading.recipe import read_line


def run(args: argparse.Namespace) -> None:
    for text in sys.stdin.read().splitlines():
        if not clean(text) or is_heading(text):
            continue
        line = read_line(text)
        if args.json:
            print(json.dumps(line_json(line), ensure_ascii=False))
        else:
            grams = "?" if line.grams is None else f"{line.grams:.0f} g"
            print(f"{line.sure:7}{grams:>9}  {description_of(line) or '-'}  <  {line.text}")
