"""The command line: parse, analyze, swaps, way-through, meal, plan, foods. No database, no Django. Bad input: exit 2, one line
on stderr.

Each command stands in nutrition/commands/ and is loaded when it is asked for: reading a line needs no solver.
"""

import importlib
import os
import sys

from nutrition.commands.answers import Refused
from nutrition.commands.options import Parser, add_dish, add_meal, add_plan
from nutrition.notes import Problem


def parser() -> Parser:
    root = Parser(prog="nutrition", description="Read, weigh and judge recipes.")
    commands = root.add_subparsers(required=True, parser_class=Parser)
    parse = commands.add_parser("parse", help="ingredient lines on standard input")
    parse.add_argument("--json", action="store_true")
    parse.set_defaults(command="parse")
    analyze_ = commands.add_parser("analyze", help="a recipe file: JSON-LD, saved page or plain text")
    add_dish(analyze_)
    analyze_.set_defaults(command="analyze")
    swaps_ = commands.add_parser("swaps", help="what could take over a line, with effects")
    add_dish(swaps_)
    swaps_.add_argument("--line", type=int, required=True, metavar="N")
    swaps_.set_defaults(command="swaps")
    way = commands.add_parser("way-through", help="the least change that opens every gate")
    add_dish(way)
    way.add_argument("--pin", type=int, action="append", default=[], metavar="N")
    way.add_argument("--ways", type=int, default=3, metavar="K")
    way.add_argument("--write", metavar="OUT.json")
    way.add_argument("--never", default="", metavar="WORDS", help="foods that do not come in")
    way.add_argument("--nothing-new", action="store_true", help="nothing that is not in the dish already")
    way.add_argument("--one-pot", action="store_true", help="nothing beside the dish")
    way.set_defaults(command="way_through")
    meal_ = commands.add_parser("meal", help="several dishes before one eater or several")
    add_meal(meal_)
    meal_.set_defaults(command="meal")
    plan_ = commands.add_parser("plan", help="days filled from recipes and plain foods, within every limit")
    add_plan(plan_)
    plan_.set_defaults(command="plan")
    foods_ = commands.add_parser("foods", help="look a food up")
    foods_.add_argument("words", nargs="+")
    foods_.set_defaults(command="foods")
    return root


def main(arguments: list[str] | None = None) -> int:
    try:
        args = parser().parse_args(arguments)
        importlib.import_module(f"nutrition.commands.{args.command}").run(args)
    except (Refused, Problem) as problem:
        print(" ".join(str(problem).split()), file=sys.stderr)
        return 2
    return 0


def keep_standard_output_for_answers() -> None:
    """What the libraries underneath print by themselves goes to standard error: a script reads the answers only."""
    answers = os.dup(sys.stdout.fileno())
    os.dup2(sys.stderr.fileno(), sys.stdout.fileno())
    sys.stdout = open(answers, "w", encoding=sys.stdout.encoding, errors=sys.stdout.errors)  # noqa: SIM115 - kept open


if __name__ == "__main__":
    keep_standard_output_for_answers()
    sys.exit(main())
