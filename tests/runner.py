"""Django's runner, and the plain closing line that any machine can read."""

import json
import os
from pathlib import Path

from django.test.runner import DiscoverRunner


class Runner(DiscoverRunner):
    """Prints "N passed, N failed" after Django's own summary; with TEST_TALLY set, of all runs that share that file."""

    def suite_result(self, suite, result, **kwargs):
        failed = super().suite_result(suite, result, **kwargs)
        passed = result.testsRun - failed - len(result.skipped)
        if tally := os.environ.get("TEST_TALLY"):
            kept = Path(tally)
            before = json.loads(kept.read_text()) if kept.exists() else [0, 0]
            kept.write_text(json.dumps([passed + before[0], failed + before[1]]))
            print(f"\n{passed + before[0]} passed, {failed + before[1]} failed")
        else:
            print(f"\n{passed} passed, {failed} failed")
        return failed
