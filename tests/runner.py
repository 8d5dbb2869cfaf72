"""Django's runner, and the plain closing line that any machine can read."""

from django.test.runner import DiscoverRunner


class Runner(DiscoverRunner):
    """Prints "N passed, N failed" after Django's own summary."""

    def suite_result(self, suite, result, **kwargs):
        failed = super().suite_result(suite, result, **kwargs)
        print(f"\n{result.testsRun - failed - len(result.skipped)} passed, {failed} failed")
        return failed
