#!/usr/bin/env python3
"""What a cook would feel of the first way through everyday dishes: absurdities counted, false noes, and time.

    .venv/bin/python benchmarks/felt.py [--show WORDS]

Cases: felt_cases.tsv. An absurdity is what no cook would do; the list is that of the checks below.
"""

import sys
import time
from collections import Counter
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
from nutrition.food.nutrients import INDEX  # noqa: E402
from nutrition.food.table import foods  # noqa: E402
from nutrition.limits.eater import Eater  # noqa: E402
from nutrition.limits.plans import Facts, choose, targets_for  # noqa: E402
from nutrition.reading.page import from_text  # noqa: E402
from nutrition.reading.recipe import read_recipe  # noqa: E402
from nutrition.swaps.offers import Workbench  # noqa: E402
from nutrition.swaps.sides import BESIDE  # noqa: E402
from nutrition.swaps.telling import steps_now  # noqa: E402
from nutrition.swaps.way_through import Wish, ways_for  # noqa: E402


def cases():
    """(dish, eater, meal, what it is called) of every case."""
    lines = (Path(__file__).parent / "felt_cases.tsv").read_text(encoding="utf-8").splitlines()
    header, *rows = [line.split("\t") for line in lines if line and not line.startswith("#")]
    for row in (dict(zip(header, each, strict=True)) for each in rows):
        text = [
            row["title"],
            f"Serves {row['serves']}",
            *row["lines"].split(" | "),
            "Method",
            *row["steps"].split(" | "),
        ]
        dish = read_recipe(from_text("\n".join(text)))
        for diet in row["diets"].split(" | "):
            plans = dict(plan_of(words.strip()) for words in diet.split("&"))
            facts = Facts(70, 2000, tuple(plans), age_years=50)
            targets = (target for key, plan in plans.items() for target in targets_for(key, facts, plan))
            eater = Eater(facts, plans, tuple(targets))
            yield dish, eater, row["meal"], f"{row['title']} · {diet}"


def judged():
    """Case -> (score, reason), as its makers judged its first way last; felt_scores.tsv."""
    rows = (Path(__file__).parent / "felt_scores.tsv").read_text(encoding="utf-8").splitlines()
    rows = [row.split("\t") for row in rows if not row.startswith(("#", "case\t"))]
    return {name: (float(score), reason) for name, score, reason in rows}


def plan_of(words):
    """The key and the settings of a plan as written: kidney:potassium=3000+protein=kdigo."""
    key, *settings = words.split("+")
    key, _, setting = key.rpartition(":") if "=" in key else (key, "", "")
    return key, choose(key, dict(s.split("=") for s in (setting, *settings) if s))


def salt_g(lines):
    return sum(
        line.span.likely * foods().known[foods().by_id(line.food_id).row, INDEX["sodium_mg"]]
        for line in lines
        if line.food_id
    )


def absurdities(bench, way):
    """What no cook would do, each named once a way."""
    found = []
    written = bench.lines
    total = sum(line.span.likely for line in written)
    is_said = any(change.kind == "serving" for change in way.changes)
    if not is_said and sum(line.span.likely for line in way.lines) / way.serves < 0.92 * total / bench.serves:
        found.append("plate smaller by more than 8 %, and not said")
    if salt_g(way.lines) / way.serves < 0.2 * salt_g(written) / bench.serves:
        found.append("salt cut by more than 80 %")
    for change in way.changes:
        if change.kind in ("less", "more") and 0 <= change.line < len(written) and change.new:
            was, now = written[change.line].span.likely, change.new[0].span.likely
            ratio = now / was if was else 1
            if 0.85 < ratio < 1.15:
                found.append("a line changed by less than 15 %")
            if ratio > 1.75:
                found.append("a line multiplied by more than 1.75")
            if ratio < 0.6 and bench.jobs_of(change.line)[:1] == ("protein",) and was > 0.15 * total:
                found.append("the main protein cut by more than 40 %")
            if ratio < 0.85 and "stock" in written[change.line].text:
                found.append("stock to less than 85 %")
        if change.kind == "swap" and not any(line.advice for line in change.new):
            found.append("a swap without what to do differently")
        if change.line >= len(written) and any(line.heading != BESIDE for line in change.new):
            found.append("a side put into the pot")
    if len(way.changes) > 8:
        found.append("more than 8 changes")
    heaviest = max(range(len(written)), key=lambda i: written[i].span.likely)
    if any(c.line == heaviest and c.kind == "drop" for c in way.changes):
        found.append("the biggest part gone")
    gone = [
        (written[c.line], c.new[0].text if c.new else "")
        for c in way.changes
        if c.kind in ("swap", "drop") and 0 <= c.line < len(written)
    ]
    names = [line.text.lower().split(",")[0].split()[-1] for line, _ in gone]
    for step in steps_now(bench.dish.steps, gone):
        text = (step.proposed or step.text).lower()
        if any(name in text and not any(name in line.text.lower() for line in way.lines) for name in names):
            found.append("a step names what is gone")
            break
    return found


def main():
    show = sys.argv[2] if len(sys.argv) > 2 and sys.argv[1] == "--show" else None
    scores = judged()
    counted, none, spent, changes, count = Counter(), [], [], [], 0
    for dish, eater, meal, name in cases():
        if show is not None and show.lower() not in name.lower():
            continue
        count += 1
        bench = Workbench(dish, eater, meal)
        started = time.process_time()
        outcome = ways_for(bench, Wish(ways=1))
        if not outcome.solved:
            outcome = ways_for(bench, Wish(ways=1, certain=False))
        spent.append(time.process_time() - started)
        if not outcome.solved:
            none.append(f"{name}: {outcome.note}")
            continue
        way = outcome.ways[0]
        seen = absurdities(bench, way)
        counted.update(seen)
        changes.append(len(way.changes))
        if show is not None:
            print(f"\n{name}  [{way.cost:.2f}]  {'; '.join(seen)}  judged {scores.get(name, ('not yet',))[0]}")
            for change in way.changes:
                print(f"   {change.text}")
    print(f"\n{count} cases, {len(none)} without a way, {sum(changes) / max(len(changes), 1):.1f} changes a way, "
          f"CPU {sum(spent) / max(len(spent), 1):.2f} s a case, at most {max(spent, default=0):.2f} s")  # fmt: skip
    for what, times in counted.most_common():
        print(f"{times:4} {what}")
    for each in none:
        print(f"  no way: {each}")
    marks = [score for score, _ in scores.values()]
    print(f"judged: mean {sum(marks) / len(marks):.1f} of 10, least {min(marks):g}, {len(marks)} cases")


if __name__ == "__main__":
    main()
