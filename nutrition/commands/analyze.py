"""analyze: one serving of a recipe file, against whoever eats it."""

import argparse
import json

from nutrition.commands.answers import finding_json, finite, gate_json, line_json, listed, per_serving_json
from nutrition.commands.asked import eater_of, read
from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.dish.method import Leaves
from nutrition.dish.naming import description_of
from nutrition.food.nutrients import BY_KEY
from nutrition.food.tags import ALLERGENS, CONTAINS
from nutrition.limits.eater import Eater
from nutrition.limits.plans import plan_label
from nutrition.limits.tallies import neutral
from nutrition.notes import note
from nutrition.reading.method import read_method
from nutrition.sheet.claims import Claim
from nutrition.sheet.counting import Count, count
from nutrition.sheet.doubts import Doubt
from nutrition.sheet.examine import Sheet, examine


def claim_json(claim: Claim, dish: Dish) -> dict:
    lines = listed(dish, claim.lines)
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
            "lines": listed(sheet.dish, finding.lines),
            "look_for": list(finding.look_for),
        }
        for finding in sheet.allergens
    ]


def step_words(line: Line) -> str:
    """What a step adds, as a note."""
    return str(note("reading.unlisted", step=line.step, words=line.text))


def doubt_json(doubt: Doubt, dish: Dish) -> dict:
    line = dish.lines[doubt.position]
    return {
        "line": None if line.step else doubt.position + 1,
        "step": line.step or None,
        "ask": str(doubt.ask),
        "decides": [*doubt.nutrients, *doubt.tags],
        "words": str(doubt.words),
    }


def method_json(dish: Dish) -> dict:
    """What is done with the lines, numbered from 1 as everywhere on the command line."""
    method = read_method(dish)
    return {
        "steps": [
            {
                "uses": [{"line": use.line + 1, "how": use.how, "share": use.share} for use in step.uses],
                "adds": [{"words": each.words, "tags": list(each.tags)} for each in step.adds],
                "operations": list(step.operations),
                "leaves": [left_json(left) for left in step.leaves],
                "appliance": step.appliance,
                "heats": step.heats,
                "seconds": [list(each) for each in step.seconds],
                "where": [time.where for time in step.times],
                "oven_c": step.oven_c,
                "inside_c": step.inside_c,
                "pieces_mm": list(step.pieces_mm),
                "vessels": list(step.vessels),
            }
            for step in method.steps
        ],
        "poured_off": [left_json(left) for left in method.poured_off],
        "raw": [at + 1 for at in method.raw],
        "unnamed": [at + 1 for at in method.unnamed],
        "products": {name: [at + 1 for at in lines] for name, lines in method.products},
    }


def left_json(left: Leaves) -> dict:
    """What is left behind of a line, with the share of it that is eaten, least and most."""
    return {
        "line": left.line + 1,
        "how": left.how,
        "eaten": list(left.eaten),
        "likely": left.likely,
        "share": left.share,
    }


def notes_of(sheet: Sheet, eater: Eater) -> list[str]:
    """What a reader must know besides the figures: conflicts, what is avoided, what was not found."""
    notes = [f"to settle: {conflict.words}" for conflict in eater.conflicts()]
    notes += [f"{item.label} ({plan_label(item.owners[0][0])}): {item.words}" for item in sheet.avoided]
    free = eater.not_limited()
    notes += [f"{BY_KEY[each.nutrient].label} ({plan_label(key)}): {each.words}" for key, each in free]
    found = {finding.tag for finding in sheet.allergens}
    rest = [label.lower() for tag, label in ALLERGENS.items() if tag not in found]
    return notes + ([f"nothing listed found of {', '.join(rest)}; the labels decide"] if rest else [])


def run(args: argparse.Namespace) -> None:
    eater = eater_of(args)
    recipe = read(args.path, args.serves)
    sheet = examine(recipe, eater, args.meal)
    added = [line for line in sheet.dish.lines if line.step]
    analysis, verdicts = sheet.analysis, sheet.verdicts
    counts = {counted.tally.key: counted for counted in sheet.counts}
    for tally in neutral():
        counts.setdefault(tally.key, count(tally, sheet.dish.lines, analysis))
    result = {
        "title": recipe.title,
        "serves": recipe.serves,
        "lines": [line_json(line) for line in recipe.lines],
        "per_serving": per_serving_json(analysis, sheet.dish),
        "gates": [gate_json(verdict) for verdict in verdicts],
        "allergens": allergens_json(sheet),
        "doubts": [doubt_json(doubt, sheet.dish) for doubt in sheet.doubts],
        "cautions": [
            {"text": c.text, "source": c.source, "lines": listed(sheet.dish, c.lines)} for c in sheet.cautions
        ],
        "state": sheet.state,
        "findings": [finding_json(each, sheet.dish) for each in sheet.findings],
        "claims": [claim_json(claim, sheet.dish) for claim in sheet.claims],
        "method": method_json(recipe),
        "exchanges": {key: exchange_json(counted) for key, counted in counts.items()},
        "notes": [*recipe.notes, *(step_words(line) for line in added), *notes_of(sheet, eater)],
    }
    if args.json:
        print(json.dumps(result, ensure_ascii=False, indent=1))
        return
    print(
        f"{recipe.title or 'Untitled'}, serves {recipe.serves:g}, one serving {analysis.serving_grams:.0f} g "
        f"as weighed in"
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
    for words in result["notes"]:
        print(f"note: {words}")
