"""The command line: parse, analyze, swaps, way-through, foods. No database, no Django. Bad input: exit 2, one line on stderr."""

import argparse
import json
import math
import sys
from dataclasses import replace
from pathlib import Path

from rapidfuzz import process

from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.dish.naming import description_of
from nutrition.food.contents import ALLERGENS, CONTAINS
from nutrition.food.nutrients import BY_KEY, KEYS
from nutrition.food.table import foods
from nutrition.giving.writing import write
from nutrition.limits.eater import Eater
from nutrition.limits.gates import MEAL_SHARES, Target
from nutrition.limits.plans import CIRCUMSTANCES, PLANS, Facts, choose, plan_label, targets_for
from nutrition.limits.tallies import neutral
from nutrition.notes import Problem
from nutrition.reading.lines import clean, is_heading
from nutrition.reading.matching import search_foods
from nutrition.reading.recipe import read_line, read_recipe
from nutrition.sheet.analysis import Analysis
from nutrition.sheet.claims import Claim
from nutrition.sheet.counting import Count, count
from nutrition.sheet.examine import Sheet, examine
from nutrition.sheet.verdicts import Verdict
from nutrition.swaps.offers import Offer, Workbench, dislikes_of, effect_words, offers_for
from nutrition.swaps.way_through import Wish, ways_for


class Refused(Exception):
    """Said on one line of stderr, naming the option and the mend; exit 2."""


def line_json(line: Line) -> dict:
    grams = None if line.grams is None else round(line.grams, 2)
    return {"text": line.text, "food": description_of(line) or None, "grams": grams, "how": line.how, "sure": line.sure}


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
                raise Refused(f"--target {text!r}: {problem}") from None
    raise Refused(f"--target {text!r}: expected KEY<=NUMBER or KEY>=NUMBER, as in 'sodium_mg<=600'")


def parse_school(text: str, diets: list[str]) -> tuple[str, str]:
    """KEY=VALUE, or PLAN.KEY=VALUE for one plan alone; the value must be one that some chosen plan knows."""
    key, equals, value = text.partition("=")
    plan, _, name = key.rpartition(".")
    holders = [k for k in diets if name in PLANS[k].schools and plan in ("", k)]
    if not equals or not holders:
        known = sorted({name for k in diets for name in PLANS[k].schools}) or ["none: add --diet KEY first"]
        nearest = ", ".join(match for match, _, _ in process.extract(name, known, limit=3))
        raise Refused(f"--school {text!r}: expected KEY=VALUE; the nearest settings of these plans are {nearest}")
    if not any(value in PLANS[k].schools[name].options for k in holders):
        options = dict.fromkeys(option for k in holders for option in PLANS[k].schools[name].options)
        raise Refused(f"--school {text!r}: {name} can be {', '.join(options)}")
    return key, value


def settings_of(key: str, wanted: list[tuple[str, str]]) -> dict[str, str]:
    """One plan's settings: what is wanted of it, its defaults for the rest."""
    schools = PLANS[key].schools
    own = {
        name: value
        for full, value in wanted
        for plan, _, name in [full.rpartition(".")]
        if plan in ("", key) and name in schools and value in schools[name].options
    }
    return choose(key, own)


def eater_of(args) -> Eater:
    """Whoever the options describe."""
    try:
        diets = list(dict.fromkeys(args.diet))
        for key in diets:
            choose(key, {})
        unknown = [c for c in args.circumstance if c not in CIRCUMSTANCES]
        if unknown:
            raise Problem("limits.no_such_circumstance", key=unknown[0], all=", ".join(CIRCUMSTANCES))
        facts = Facts(args.weight_kg, args.energy_kcal, tuple(diets), tuple(args.circumstance))
        wanted = [parse_school(text, diets) for text in args.school]
        plans = {key: settings_of(key, wanted) for key in diets}
        targets = [target for key in diets for target in targets_for(key, facts, plans[key])]
    except ValueError as problem:
        raise Refused(f"{_option_of(problem)}: {problem}") from None
    return Eater(facts, plans, (*targets, *map(parse_target, args.target)))


#: Code of what cannot be -> the option it came by.
_OPTIONS = {
    "limits.body_weight": "--weight-kg",
    "limits.energy": "--energy-kcal",
    "limits.no_such_circumstance": "--circumstance",
}


def _option_of(problem: ValueError) -> str:
    return _OPTIONS.get(problem.code, "--diet") if isinstance(problem, Problem) else "--diet"


def read(path: str, serves: float | None) -> Dish:
    if serves is not None and not 0 < serves <= 1000:
        raise Refused(f"--serves {serves:g}: a number of servings above 0 is expected")
    try:
        dish = read_recipe(Path(path).read_bytes(), serves)
    except OSError as problem:
        raise Refused(f"{path}: {problem.strerror or 'cannot be read'}; give the path of a recipe file") from None
    except Problem as problem:
        raise Refused(f"{path}: {problem}") from None
    if not dish.serves:
        raise Refused(f"{path}: how many servings it makes is not said; add --serves N")
    return dish


def claim_json(claim: Claim) -> dict:
    lines = [position + 1 for position in claim.lines]
    return {"claim": claim.words, "holds": claim.holds, "lines": lines, "why": claim.why, "source": claim.source}


def exchange_json(counted: Count) -> dict:
    return {
        "amount": finite(counted.units),
        "exact": finite(counted.exact),
        "at_most": finite(counted.most_units),
        "arithmetic": counted.arithmetic,
        "source": counted.tally.source,
    }


def allergens_json(sheet: Sheet) -> list[dict]:
    return [
        {
            "allergen": finding.tag,
            "verdict": "contains" if finding.verdict == CONTAINS else "check label",
            "lines": [position + 1 for position in finding.lines],
            "look_for": list(finding.look_for),
        }
        for finding in sheet.allergens
    ]


def notes_of(sheet: Sheet, eater: Eater) -> list[str]:
    """What a reader must know besides the figures: conflicts, what is avoided, what was not found."""
    notes = [f"to settle: {conflict.words}" for conflict in eater.conflicts()]
    notes += [f"{item.label} ({plan_label(item.owners[0][0])}): {item.words}" for item in sheet.avoided]
    found = {finding.tag for finding in sheet.allergens}
    rest = [label.lower() for tag, label in ALLERGENS.items() if tag not in found]
    return notes + ([f"nothing listed found of {', '.join(rest)}; the labels decide"] if rest else [])


def run_parse(args) -> None:
    for text in sys.stdin.read().splitlines():
        if not clean(text) or is_heading(text):
            continue
        line = read_line(text)
        if args.json:
            print(json.dumps(line_json(line), ensure_ascii=False))
        else:
            grams = "?" if line.grams is None else f"{line.grams:.0f} g"
            print(f"{line.sure:7}{grams:>9}  {description_of(line) or '-'}  <  {line.text}")


def run_analyze(args) -> None:
    eater = eater_of(args)
    recipe = read(args.path, args.serves)
    sheet = examine(recipe, eater, args.meal)
    analysis, verdicts = sheet.analysis, sheet.verdicts
    counts = {counted.tally.key: counted for counted in sheet.counts}
    for tally in neutral():
        counts.setdefault(tally.key, count(tally, recipe.lines, analysis))
    result = {
        "title": recipe.title,
        "serves": recipe.serves,
        "lines": [line_json(line) for line in recipe.lines],
        "per_serving": per_serving_json(analysis),
        "gates": [gate_json(verdict) for verdict in verdicts],
        "allergens": allergens_json(sheet),
        "cautions": [
            {"text": c.text, "source": c.source, "lines": [position + 1 for position in c.lines]}
            for c in sheet.cautions
        ],
        "claims": [claim_json(claim) for claim in sheet.claims],
        "exchanges": {key: exchange_json(counted) for key, counted in counts.items()},
        "notes": [*recipe.notes, *notes_of(sheet, eater)],
    }
    if args.json:
        print(json.dumps(result, ensure_ascii=False, indent=1))
        return
    print(
        f"{recipe.title or 'Untitled'}, serves {recipe.serves:g}, one serving {analysis.serving_grams:.0f} g as weighed in"
    )
    for line in recipe.lines:
        grams = "   no weight" if line.grams is None else f"{line.grams:10.0f} g"
        print(f"{grams}  {line.sure:7}{description_of(line) or 'no food found'}  <  {line.text}")
    for verdict in verdicts:
        nutrient = BY_KEY[verdict.gate.nutrient]
        print(f"{verdict.state:7}{nutrient.label}: {nutrient.show(verdict.amount)} against {verdict.gate.source}")
    for finding in result["allergens"]:
        print(f"{finding['verdict']}: {finding['allergen']}, lines {', '.join(map(str, finding['lines']))}")
    for claim in result["claims"]:
        standing = {True: "holds", False: "does not hold", None: "can't tell"}[claim["holds"]]
        print(f"claim “{claim['claim']}”: {standing}: {claim['why']}")
    for caution in result["cautions"]:
        print(f"caution: {caution['text']} ({caution['source']})")
    for note in result["notes"]:
        print(f"note: {note}")


def run_foods(args) -> None:
    words = " ".join(args.words)
    found = search_foods(words, 15)
    if not found:
        raise Refused(f"foods: nothing in the table is like {words!r}; try one plain word, as in 'oats'")
    for food in found:
        print(f"{food.description}\t{food.category}\t{food.source}")


def workbench_of(args) -> tuple[Workbench, Dish]:
    """The dish and the eater of the swaps and way-through commands."""
    eater = eater_of(args)
    recipe = read(args.path, args.serves)
    return Workbench(recipe, eater, args.meal, dislikes_of(args.dislikes)), recipe


def position_of(number: int, recipe: Dish, option: str) -> int:
    if not 1 <= number <= len(recipe.lines):
        raise Refused(f"{option} {number}: the recipe has lines 1 to {len(recipe.lines)}, headings not counted")
    return number - 1


def to_json(to) -> list[dict]:
    return [{"food": foods().by_id(food_id).description, "grams": round(grams, 2)} for food_id, grams in to]


def offer_json(offer: Offer) -> dict:
    return {
        "id": offer.id,
        "kind": offer.kind,
        "text": str(offer.text),
        "to": to_json(offer.to),
        "job": offer.job,
        "household": offer.household,
        "effects": {
            effect.nutrient: {
                "before": finite(effect.before.amount),
                "after": finite(effect.after.amount),
                "verdict": effect.after.state,
            }
            for effect in offer.effects
        },
        "allergens_added": list(offer.allergens_added),
        "allergens_removed": list(offer.allergens_removed),
        "warnings": list(map(str, offer.warnings)),
        "method": list(map(str, offer.method)),
        "source": offer.source,
    }


def run_swaps(args) -> None:
    bench, recipe = workbench_of(args)
    found = offers_for(bench, position_of(args.line, recipe, "--line"))
    result = {
        "line": line_json(recipe.lines[args.line - 1]),
        "jobs": list(found.jobs),
        "offers": [offer_json(offer) for offer in found.offers],
        "none_because": str(found.none_because) or None,
    }
    if args.json:
        print(json.dumps(result, ensure_ascii=False, indent=1))
        return
    print(f"{recipe.lines[args.line - 1].text}: {', '.join(found.jobs) or 'no job known'}")
    for offer in found.offers:
        print(f"- {offer.text}" + "".join(f"; {effect_words(effect)}" for effect in offer.effects))
        for words in (*offer.method, *offer.warnings):
            print(f"    {words}")
    if found.none_because:
        print(found.none_because)


def run_way_through(args) -> None:
    bench, recipe = workbench_of(args)
    if not bench.gates and not bench.kept_out:
        raise Refused("way-through: there is no limit to meet; add --diet KEY or --target 'sodium_mg<=600'")
    if not 1 <= args.ways <= 5:
        raise Refused(f"--ways {args.ways}: 1 to 5 are expected")
    pinned = frozenset(position_of(number, recipe, "--pin") for number in args.pin)
    outcome = ways_for(bench, Wish(pinned=pinned, ways=args.ways))
    if args.write and outcome.solved:
        way = outcome.ways[0]
        data = write(replace(recipe, lines=way.lines, serves=way.serves))
        try:
            Path(args.write).write_text(json.dumps(data, ensure_ascii=False, indent=1), encoding="utf-8")
        except OSError as problem:
            raise Refused(f"--write {args.write}: {problem.strerror}; give a path that can be written") from None
    result = {
        "solved": outcome.solved,
        "ways": [
            {
                "changes": [
                    {"line": c.line + 1 if 0 <= c.line < len(recipe.lines) else None, "kind": c.kind, "text": str(c.text), "to": to_json(c.to)}
                    for c in way.changes
                ],
                "gates": [gate_json(verdict) for verdict in way.verdicts],
            }
            for way in outcome.ways
        ],
        "conflict": None if outcome.solved else [
            {"nutrient": m.nutrient, "side": m.side, "limit": finite(m.limit), "nearest": finite(m.nearest), "source": m.source}
            for m in outcome.conflict
        ],
        "note": str(outcome.note),
    }  # fmt: skip
    if args.json:
        print(json.dumps(result, ensure_ascii=False, indent=1))
        return
    for number, way in enumerate(outcome.ways, 1):
        print(f"Way {number}")
        for change in way.changes:
            print(f"  {change.text}")
    if outcome.note:
        print(outcome.note)


class Parser(argparse.ArgumentParser):
    def error(self, message):
        raise Refused(f"{self.prog}: {message}")


def add_eater(command: argparse.ArgumentParser) -> None:
    """The recipe, and the options that say who eats."""
    command.add_argument("path")
    command.add_argument("--json", action="store_true")
    command.add_argument("--serves", type=float)
    command.add_argument("--diet", action="append", default=[], metavar="KEY", help=", ".join(PLANS))
    command.add_argument("--target", action="append", default=[], metavar="KEY<=N")
    command.add_argument("--meal", choices=list(MEAL_SHARES), default="dinner")
    command.add_argument("--weight-kg", type=float)
    command.add_argument("--energy-kcal", type=float)
    command.add_argument("--school", action="append", default=[], metavar="KEY=VALUE")
    command.add_argument("--circumstance", action="append", default=[], metavar="KEY", help=", ".join(CIRCUMSTANCES))


def parser() -> Parser:
    root = Parser(prog="nutrition", description="Read, weigh and judge recipes.")
    commands = root.add_subparsers(required=True, parser_class=Parser)
    parse = commands.add_parser("parse", help="ingredient lines on standard input")
    parse.add_argument("--json", action="store_true")
    parse.set_defaults(run=run_parse)
    analyze_ = commands.add_parser("analyze", help="a recipe file: JSON-LD, saved page or plain text")
    add_eater(analyze_)
    analyze_.set_defaults(run=run_analyze)
    swaps_ = commands.add_parser("swaps", help="what could take over a line, with effects")
    add_eater(swaps_)
    swaps_.add_argument("--line", type=int, required=True, metavar="N")
    swaps_.add_argument("--dislikes", default="", metavar="WORDS")
    swaps_.set_defaults(run=run_swaps)
    way = commands.add_parser("way-through", help="the least change that opens every gate")
    add_eater(way)
    way.add_argument("--pin", type=int, action="append", default=[], metavar="N")
    way.add_argument("--ways", type=int, default=3, metavar="K")
    way.add_argument("--write", metavar="OUT.json")
    way.add_argument("--dislikes", default="", metavar="WORDS")
    way.set_defaults(run=run_way_through)
    foods_ = commands.add_parser("foods", help="look a food up")
    foods_.add_argument("words", nargs="+")
    foods_.set_defaults(run=run_foods)
    return root


def main(arguments: list[str] | None = None) -> int:
    try:
        args = parser().parse_args(arguments)
        args.run(args)
    except (Refused, Problem) as problem:
        print(" ".join(str(problem).split()), file=sys.stderr)
        return 2
    return 0


if __name__ == "__main__":
    sys.exit(main())
