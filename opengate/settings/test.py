"""For ./test: plain static files, a fast password hasher, no lock-out."""

from .base import *  # noqa: F403

SECRET_KEY = "only for tests"  # noqa: S105
DEBUG = False
ALLOWED_HOSTS = ["*"]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
}
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
AXES_ENABLED = False
ERRANDS_AT_ONCE = True
TEST_RUNNER = "tests.runner.Runner"
MIDDLEWARE = [name for name in MIDDLEWARE if "whitenoise" not in name]  # nothing is collected in a test
