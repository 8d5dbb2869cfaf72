"""The web server's entry. The food table and the line reader are loaded before workers fork."""

import gc
import itertools
import os

from django.core.signals import request_finished
from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "opengate.settings.production")
application = get_wsgi_application()

from nutrition.reading import lines, matching  # noqa: E402

matching.matcher()
lines.warm()
gc.freeze()  # what was just loaded lives as long as the process: no need to walk it again and again


_answers = itertools.count(1)
#: After so many answers, what outlived its own (another was at work beside it) is looked through too.
_ALL_EVERY = 64


def _clear(**_):
    """What a page was made of hangs together in circles (a template's context holds itself), which only the collector takes apart.
    After every answer that is half a millisecond; left to pile up, every twentieth table waited for 70."""
    gc.collect(2 if next(_answers) % _ALL_EVERY == 0 else 1)


gc.set_threshold(50_000, 10, 10)
request_finished.connect(_clear)
