"""Everything ./test runs. On CI, hypothesis tries the same cases every time; at a desk it looks for new ones.

What is asked of thousands of cases is asked of a sample; OPEN_GATE_FULL=1 asks it of all of them.
"""

import os
import random
from collections.abc import Sequence
from typing import TypeVar

from hypothesis import settings

settings.register_profile("desk", deadline=None)
settings.register_profile("ci", deadline=None, derandomize=True)
settings.load_profile("ci" if os.environ.get("CI") else "desk")

IS_FULL = bool(os.environ.get("OPEN_GATE_FULL"))
Case = TypeVar("Case")


def sampled(cases: Sequence[Case], count: int) -> list[Case]:
    """So many of the cases, the same every time, in their order; all of them where everything is asked."""
    if IS_FULL or len(cases) <= count:
        return list(cases)
    chosen = random.Random(len(cases)).sample(range(len(cases)), count)
    return [cases[at] for at in sorted(chosen)]
