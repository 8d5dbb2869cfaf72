"""Everything ./test runs. On CI, hypothesis tries the same cases every time; at a desk it looks for new ones."""

import os

from hypothesis import settings

settings.register_profile("desk", deadline=None)
settings.register_profile("ci", deadline=None, derandomize=True)
settings.load_profile("ci" if os.environ.get("CI") else "desk")
