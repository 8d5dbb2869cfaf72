"""Whether a dish is a sweet or a savory one."""

import numpy as np

from nutrition.sheet.analysis import analyze_lines
from nutrition.swaps.offers import Workbench

#: A dish is sweet when so much of it is sugar.
SWEET_DISH = 0.05
#: Jobs of what is taken by the spoon; what is thinned in the rule is not thinned once more.
SEASONS = ("salty", "savory")


def taste_of(bench: Workbench) -> str:
    """ "sweet" or "savory": by what is sugar in the dish, its own or added, and by whether anything in it seasons."""
    weighed = [at for at, line in enumerate(bench.lines) if line.is_weighed]
    grams = np.array([bench.lines[at].span.likely for at in weighed])
    weight = float(grams.sum()) or 1.0
    added = sum(bench.lines[at].span.likely for at in weighed if bench.jobs_of(at)[:1] == ("sweet",))
    if added / weight >= SWEET_DISH:
        return "sweet"
    seasons = any(job in SEASONS for at in weighed for job in bench.jobs_of(at)[:1])
    own = analyze_lines(bench.lines, 1).amount("sugars_g") / weight
    return "sweet" if own >= SWEET_DISH and not seasons else "savory"
