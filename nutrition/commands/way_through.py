"""way-through: the least change that opens every gate."""

import argparse
import json
from dataclasses import replace
from pathlib import Path

from nutrition.commands.answers import Refused, finite, gate_json, to_json
from nutrition.commands.asked import position_of, workbench_of
from nutrition.giving.writing import write
from nutrition.swaps.telling import told as told_steps
from nutrition.swaps.told import Told, told
from nutrition.swaps.way_through import Wish, ways_for


def told_json(said: Told) -> dict[str, object]:
    return {
        "do_differently": [{"food": food, "do": do} for food, do in said.do],
        "to_buy": list(said.to_buy),
        "labels": [{"line": each.line, "holds": each.what, "look_for": each.look_for} for each in said.labels],
        "mind": list(said.mind),
        "taste": list(said.taste),
        "minutes": said.minutes,
    }


def run(args: argparse.Namespace) -> None:
    bench, recipe = workbench_of(args)
    if not bench.gates and not bench.kept_out:
        raise Refused("way-through: there is no limit to meet; add --diet KEY or --target 'sodium_mg<=600'")
    if not 1 <= args.ways <= 5:
        raise Refused(f"--ways {args.ways}: 1 to 5 are expected")
    pinned = frozenset(position_of(number, recipe, "--pin") for number in args.pin)
    wish = Wish(pinned=pinned, ways=args.ways, never=(args.never,), nothing_new=args.nothing_new, one_pot=args.one_pot)
    outcome = ways_for(bench, wish)
    if args.write and outcome.solved:
        way = outcome.ways[0]
        data = write(told_steps(bench.dish, replace(recipe, lines=way.lines, serves=way.serves)))
        try:
            Path(args.write).write_text(json.dumps(data, ensure_ascii=False, indent=1), encoding="utf-8")
        except OSError as problem:
            raise Refused(f"--write {args.write}: {problem.strerror}; give a path that can be written") from None
    with_it = [
        told(bench, w.lines, w.serves, [(str(c.text), c.do) for c in w.changes if c.do], w.minutes)
        for w in outcome.ways
    ]
    result = {
        "solved": outcome.solved,
        "ways": [
            {
                "changes": [
                    {
                        "line": c.line + 1 if 0 <= c.line < len(recipe.lines) else None,
                        "kind": c.kind,
                        "text": str(c.text),
                        "why": str(c.why) if c.why else "",
                        "to": to_json(c.to),
                    }
                    for c in way.changes
                ],
                "gates": [gate_json(verdict) for verdict in way.verdicts],
                **told_json(said),
            }
            for way, said in zip(outcome.ways, with_it, strict=True)
        ],
        "conflict": None
        if outcome.solved
        else [
            {
                "nutrient": m.nutrient,
                "side": m.side,
                "limit": finite(m.limit),
                "nearest": finite(m.nearest),
                "source": str(m.source),
            }
            for m in outcome.conflict
        ],
        "note": str(outcome.note),
        "open_steps": [str(each) for each in outcome.open_steps],
    }
    if args.json:
        print(json.dumps(result, ensure_ascii=False, indent=1))
        return
    for number, (way, said) in enumerate(zip(outcome.ways, with_it, strict=True), 1):
        print(f"Way {number}")
        for change in way.changes:
            print(f"  {change.text}{f' ({change.why})' if change.why else ''}")
        for food, do in said.do:
            print(f"  do differently, {food.lower()}: {do}")
        if said.taste or said.minutes:
            work = f"about {said.minutes} minutes more" if said.minutes else ""
            print(f"  taste and work: {', '.join(filter(None, (*said.taste, work)))}")
        if said.to_buy:
            print(f"  to buy: {', '.join(said.to_buy)}")
        for each in said.labels:
            print(f"  read the label of {each.line} for {each.what}{f' ({each.look_for})' if each.look_for else ''}")
        for text in said.mind:
            print(f"  mind: {text}")
    for words in filter(None, (outcome.note, *outcome.open_steps)):
        print(words)
