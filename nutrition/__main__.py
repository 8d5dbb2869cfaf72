"""The command line: parse, analyze, foods. No database, no Django. Bad input: exit 2, one line on stderr."""

import argparse
import json
import math
import sys
from pathlib import Path

from .analysis import Analysis, analyze
from .cautions import cautions_for
from .composition import foods
from .gates import MEAL_SHARES, Target, Verdict, gates_for, judge
from .lines import clean, is_heading
from .matching import matcher
from .nutrients import BY_KEY, KEYS
from .plans import PLANS, Facts, choose, targets_for
from .recipe import Line, Recipe, read_line, read_recipe
from .sources import SourceProblem, from_bytes


class Problem(Exception):
    """Said on one line of stderr; exit 2."""


def line_json(line: Line) -> dict:
    grams = None if line.grams is None else round(line.grams, 2)
    return {"text": line.text, "food": line.description, "grams": grams, "how": line.how, "sure": line.sure}


def finite(number: float, places: int = 3) -> float | None:
    return round(float(number), places) if math.isfinite(number) else None


def per_serving_json(analysis: Analysis) -> dict:
    """`at_most` null: no bound can be given, because a line has no food or no weight."""
    return {
        key: {
            "amount": finite(analysis.amount(key)),
            "at_most": finite(analysis.interval(key)[1]),
            "unknown_lines": [position + 1 for position in analysis.unknown_lines(key)],
        }
        for key in KEYS
    }


def gate_json(verdict: Verdict) -> dict:
    gate = verdict.gate
    return {
        "nutrient": gate.nutrient,
        "min": finite(gate.low.limit) if gate.low else None,
        "max": finite(gate.high.limit) if gate.high else None,
        "amount": finite(verdict.amount),
        "verdict": verdict.state,
        "source": gate.source,
    }


def parse_target(text: str) -> Target:
    for sign in ("<=", ">="):
        if sign in text:
            key, limit = (part.strip() for part in text.split(sign, 1))
            try:
                number = float(limit)
                sides = {"maximum": number} if sign == "<=" else {"minimum": number}
                return Target(key, scope="serving", source="given on the command line", **sides)
            except ValueError as problem:
                raise Problem(f"--target {text!r}: {problem}") from None
    raise Problem(f"--target {text!r}: expected KEY<=NUMBER or KEY>=NUMBER, as in 'sodium_mg<=600'")


def parse_school(text: str) -> tuple[str, str]:
    key, equals, value = text.partition("=")
    known = sorted({name for plan in PLANS.values() for name in plan.SCHOOLS})
    if not equals or key not in known:
        raise Problem(f"--school {text!r}: expected KEY=VALUE with KEY one of {', '.join(known)}")
    return key, value


def read(path: str, serves: float | None) -> Recipe:
    try:
        source = from_bytes(Path(path).read_bytes())
        if serves is None and source.serves is None:
            raise Problem(f"{path}: how many servings it makes is not said; add --serves N")
        return read_recipe(source, serves)
    except OSError as problem:
        raise Problem(f"{path}: {problem.strerror or 'cannot be read'}; give the path of a recipe file") from None
    except SourceProblem as problem:
        raise Problem(f"{path}: {problem}") from None


def targets_of(args) -> list[Target]:
    targets = []
    try:
        facts = Facts(args.weight_kg, args.energy_kcal, tuple(args.diet))
        schools = dict(parse_school(text) for text in args.school)
        for key in args.diet:
            choose(key, schools)
            targets += targets_for(key, facts, schools)
    except ValueError as problem:
        raise Problem(f"--diet: {problem}") from None
    return targets + [parse_target(text) for text in args.target]


def run_parse(args) -> None:
    for text in sys.stdin.read().splitlines():
        if not clean(text) or is_heading(text):
            continue
        line = read_line(text)
        if args.json:
            print(json.dumps(line_json(line), ensure_ascii=False))
        else:
            grams = "?" if line.grams is None else f"{line.grams:.0f} g"
            print(f"{line.sure:7}{grams:>9}  {line.description or '-'}  <  {line.text}")


def run_analyze(args) -> None:
    if args.serves is not None and not 0 < args.serves <= 1000:
        raise Problem(f"--serves {args.serves:g}: a number of servings above 0 is expected")
    targets = targets_of(args)
    recipe = read(args.path, args.serves)
    analysis = analyze(recipe.lines, recipe.serves)
    verdicts = judge(gates_for(targets, args.meal), analysis)
    limited = {v.gate.nutrient for v in verdicts if v.gate.high}
    result = {
        "title": recipe.title,
        "serves": recipe.serves,
        "lines": [line_json(line) for line in recipe.lines],
        "per_serving": per_serving_json(analysis),
        "gates": [gate_json(verdict) for verdict in verdicts],
        "allergens": [],
        "cautions": [{"text": c.text, "source": c.source} for c in cautions_for(recipe.lines, args.diet, limited)],
        "notes": [*recipe.notes, "allergens are not examined by this version: read every label"],
    }
    if args.json:
        print(json.dumps(result, ensure_ascii=False, indent=1))
        return
    print(
        f"{recipe.title or 'Untitled'}, serves {recipe.serves:g}, one serving {analysis.serving_grams:.0f} g as weighed in"
    )
    for line in recipe.lines:
        grams = "   no weight" if line.grams is None else f"{line.grams:10.0f} g"
        print(f"{grams}  {line.sure:7}{line.description or 'no food found'}  <  {line.text}")
    for verdict in verdicts:
        nutrient = BY_KEY[verdict.gate.nutrient]
        print(f"{verdict.state:7}{nutrient.label}: {nutrient.show(verdict.amount)} against {verdict.gate.source}")
    for caution in result["cautions"]:
        print(f"caution: {caution['text']} ({caution['source']})")


def run_foods(args) -> None:
    words = " ".join(args.words)
    rows = matcher().search(words, 15)
    if not rows:
        raise Problem(f"foods: nothing in the table is like {words!r}; try one plain word, as in 'oats'")
    for row in rows:
        food = foods().food(row)
        print(f"{food.description}\t{food.category}\t{food.source}")


class Parser(argparse.ArgumentParser):
    def error(self, message):
        raise Problem(f"{self.prog}: {message}")


def parser() -> Parser:
    root = Parser(prog="nutrition", description="Read, weigh and judge recipes.")
    commands = root.add_subparsers(required=True, parser_class=Parser)
    parse = commands.add_parser("parse", help="ingredient lines on standard input")
    parse.add_argument("--json", action="store_true")
    parse.set_defaults(run=run_parse)
    analyze_ = commands.add_parser("analyze", help="a recipe file: JSON-LD, saved page or plain text")
    analyze_.add_argument("path")
    analyze_.add_argument("--json", action="store_true")
    analyze_.add_argument("--serves", type=float)
    analyze_.add_argument("--diet", action="append", default=[], metavar="KEY", help=", ".join(PLANS))
    analyze_.add_argument("--target", action="append", default=[], metavar="KEY<=N")
    analyze_.add_argument("--meal", choices=list(MEAL_SHARES), default="dinner")
    analyze_.add_argument("--weight-kg", type=float)
    analyze_.add_argument("--energy-kcal", type=float)
    analyze_.add_argument("--school", action="append", default=[], metavar="KEY=VALUE")
    analyze_.set_defaults(run=run_analyze)
    foods_ = commands.add_parser("foods", help="look a food up")
    foods_.add_argument("words", nargs="+")
    foods_.set_defaults(run=run_foods)
    return root


def main(arguments: list[str] | None = None) -> int:
    try:
        args = parser().parse_args(arguments)
        args.run(args)
    except Problem as problem:
        print(" ".join(str(problem).split()), file=sys.stderr)
        return 2
    return 0


if __name__ == "__main__":
    sys.exit(main())
