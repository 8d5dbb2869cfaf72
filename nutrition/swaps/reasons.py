"""Why each change of a way is there: what would not be open without it, and what it asks of the cook."""

from collections.abc import Sequence
from dataclasses import replace
from math import isfinite

from nutrition.dish.line import Line
from nutrition.dish.naming import description_of
from nutrition.food.nutrients import BY_KEY
from nutrition.food.tags import TAGS
from nutrition.notes import NOTHING, Note, note
from nutrition.sheet.analysis import analyze_lines
from nutrition.sheet.verdicts import OPEN, Verdict, judge
from nutrition.swaps.changes import Change, dish_after
from nutrition.swaps.offers import Workbench, badness
from nutrition.swaps.rules import rules_for


def with_reasons(bench: Workbench, changes: Sequence[Change], serves: float) -> tuple[Change, ...]:
    """The changes of a way, each with why it is there. Each is held against the dish with all of the others."""
    return tuple(
        replace(
            change,
            why=note(
                "swaps.why",
                why=_why(bench, change, [c for c in changes if c is not change], serves),
                tasted=_tasted(bench, change),
            ),
        )
        for change in changes
    )


def _tasted(bench: Workbench, change: Change) -> Note:
    """What the practice's own tastings said of the same swap."""
    if change.kind not in ("swap", "drop") or not 0 <= change.line < len(bench.lines):
        return NOTHING
    shift = bench.tasted(bench.lines[change.line].food_id, change.new)
    return note("swaps.tasted_well") if shift > 0 else note("swaps.tasted_badly") if shift < 0 else NOTHING


def _why(bench: Workbench, change: Change, others: Sequence[Change], serves: float) -> Note:
    without = dish_after(bench, others)
    back = [TAGS[tag].lower() for tag in bench.kept_out_of(without)]
    if back:
        return note("swaps.why_kept_out", tags=", ".join(back))
    shut = [v for v in judge(bench.gates, analyze_lines(without, serves)) if v.state != OPEN]
    if not shut:
        return note("swaps.why_room") if change.line < len(bench.lines) else note("swaps.why_plate")
    worst = max(shut, key=badness)
    return note("swaps.why_gate", **_missed(worst), others=len(shut) - 1)


def _missed(verdict: Verdict) -> dict[str, str]:
    """What a gate would hold, and its post, in words. Where only what may be there is past the post, it is that which is
    said: the likely amount would look as if it were within."""
    nutrient, gate = BY_KEY[verdict.gate.nutrient], verdict.gate
    if gate.high and verdict.at_most > gate.high.limit:
        post, is_likely, may_be = (
            f"at most {nutrient.show(gate.high.limit)}",
            verdict.amount > gate.high.limit,
            verdict.at_most,
        )
    else:
        limit = gate.low.limit if gate.low else 0.0
        post, is_likely, may_be = f"at least {nutrient.show(limit)}", verdict.amount < limit, verdict.at_least
    if is_likely:
        amount = nutrient.show(verdict.amount)
    else:
        amount = f"may be {nutrient.show(may_be)}" if isfinite(may_be) else "cannot be told"
    return {"nutrient": nutrient.label.lower(), "amount": amount, "post": post}


def advice_for_amount(line: Line, factor: float, kind: str) -> str:
    """What a cook does differently with less or more of it, as the rules say; "" where none says."""
    if line.food_id is None or abs(factor - 1) < 0.01:
        return ""
    asked = [
        rule
        for rule in rules_for(description_of(line), kind)
        if rule.factor and (rule.factor < 1) == (factor < 1) and rule.do_differently
    ]
    return min(asked, key=lambda rule: abs((rule.factor or 1) - factor)).do_differently if asked else ""


def advice_for_dropping(line: Line, kind: str) -> str:
    """What a cook does differently without it."""
    said = [r.do_differently for r in rules_for(description_of(line), kind) if r.factor == 0 and r.do_differently]
    return said[0] if said else ""
