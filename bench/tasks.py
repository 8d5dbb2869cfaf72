"""Long work of the bench: looking for ways through."""

from math import isfinite

from errands.run import errand
from nutrition.swaps.way_through import ways_for
from nutrition.swaps.wish import Wish
from people.regimen import regimen_of

from . import actions
from .lessons import learned
from .models import Try
from .ways import held_to, stages_of, workbench_of


@errand("way")
def look_for_ways(asked):
    """Ways for a try as it stands now: their numbers, or which limits cannot meet. Args: try, shares,
    is_likely; never, nothing_new, one_pot."""
    attempt = Try.objects.select_related("bench__recipe", "bench__person").get(pk=asked.args["try"])
    eater = regimen_of(attempt.bench.person, attempt.bench.role).eater
    workbench = workbench_of(attempt.bench, actions.standing_edit(attempt).dish, eater, learned())
    if not (workbench.gates or workbench.kept_out):
        return None
    shares = {at: asked.args["shares"].get(line.key, 0.0) for at, line in enumerate(workbench.lines)}
    wish = Wish(
        pinned=frozenset(at for at, share in shares.items() if share == 1),
        at_least={at: share for at, share in shares.items() if 0 < share < 1},
        ways=5,
        certain=not asked.args["is_likely"],
        never=(asked.args.get("never", ""),),
        nothing_new=asked.args.get("nothing_new", False),
        one_pot=asked.args.get("one_pot", False),
    )
    outcome = ways_for(workbench, wish)
    kept = actions.keep_ways(attempt, [stages_of(workbench, way) for way in outcome.ways], held_to(workbench))
    return {
        "ways": [row.pk for row in kept],
        "is_through": any(not way.changes for way in outcome.ways),
        "note": " ".join(str(each) for each in (outcome.note, *outcome.open_steps) if each),
        "conflict": [
            {"nutrient": m.nutrient, "side": m.side, "limit": m.limit, "nearest": m.nearest if isfinite(m.nearest) else None,
             "source": str(m.source)}
            for m in outcome.conflict
        ],
    }  # fmt: skip
