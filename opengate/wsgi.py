"""The web server's entry. The food table and the line reader are loaded before workers fork."""

import gc
import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "opengate.settings.production")
application = get_wsgi_application()

from nutrition.reading import lines, matching  # noqa: E402

matching.matcher()
lines.warm()
gc.freeze()  # what was just loaded lives as long as the process: no need to walk it again and again
