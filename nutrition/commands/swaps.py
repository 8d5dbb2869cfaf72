"""swaps: what could take over one line, with effects."""

import argparse
import json

from nutrition.commands.answers import finite, line_json, to_json
from nutrition.commands.asked import position_of, workbench_of
from nutrition.swaps.offers import Offer, effect_words, offers_for


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


def run(args: argparse.Namespace) -> None:
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
