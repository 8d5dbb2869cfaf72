"""One machine, loopback only: what ./start serves."""

import secrets

from .base import *  # noqa: F403
from .base import BASE_DIR

_key = BASE_DIR / ".data" / "secret_key"
if not _key.exists():
    _key.parent.mkdir(exist_ok=True)
    _key.touch(mode=0o600)
    _key.write_text(secrets.token_urlsafe(50))
SECRET_KEY = _key.read_text()
DEBUG = False
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]
SILENCED_SYSTEM_CHECKS = ["axes.W003"]
# No compression on loopback: it would only make ./start slower.
STORAGES["staticfiles"] = {"BACKEND": "django.contrib.staticfiles.storage.ManifestStaticFilesStorage"}
# Letters (a lost password) lie in a folder as files.
EMAIL_BACKEND = "django.core.mail.backends.filebased.EmailBackend"
EMAIL_FILE_PATH = BASE_DIR / ".data" / "letters"
