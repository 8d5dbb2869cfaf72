"""Settings every environment shares."""

import os
from pathlib import Path

import dj_database_url
from csp.constants import NONE, SELF

BASE_DIR = Path(__file__).resolve().parent.parent.parent

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "django.contrib.postgres",
    "django_htmx",
    "allauth",
    "allauth.account",
    "allauth.mfa",
    "axes",
    "csp",
    "pgtrigger",
    "pghistory",
    "ui",
    "accounts",
    "records",
    "procrastinate.contrib.django",
    "errands",
    "people",
    "pantry",
    "recipes",
    "bench",
    "kitchen",
    "handouts",
    "meals",
    "diary",
    "today",
    "office",
    "demo",
]

MIDDLEWARE = [
    "opengate.middleware.RequestNumberMiddleware",
    "opengate.health.MetricsMiddleware",
    "opengate.middleware.LengthMiddleware",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "opengate.middleware.NullCharacterMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "allauth.account.middleware.AccountMiddleware",
    "accounts.middleware.IdleMiddleware",
    "accounts.middleware.SignedInMiddleware",
    "accounts.middleware.PracticeMiddleware",
    "accounts.middleware.SecondFactorMiddleware",
    "records.middleware.ActingMiddleware",
    "axes.middleware.AxesMiddleware",
]

ROOT_URLCONF = "opengate.urls"
WSGI_APPLICATION = "opengate.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [BASE_DIR / "templates"],
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
            ],
            "builtins": ["ui.templatetags.ui", "ui.templatetags.fields"],
        },
    }
]

DATABASES = {"default": dj_database_url.config(env="DATABASE_URL", conn_max_age=60)}
# With PgBouncer in transaction mode: OPEN_GATE_POOLED=1 (docs/growing.md).
if os.environ.get("OPEN_GATE_POOLED", "") == "1":
    DATABASES["default"]["DISABLE_SERVER_SIDE_CURSORS"] = True
    DATABASES["default"]["CONN_MAX_AGE"] = 0
elif DATABASES["default"]:
    # Compiling a query to machine code took 0.8 s of the 0.9 that Today's cards took at 10,000 dishes. PgBouncer takes no such wish:
    # there, ALTER ROLE ... SET jit = off.
    wishes = DATABASES["default"].setdefault("OPTIONS", {})
    wishes["options"] = f"{wishes.get('options', '')} -c jit=off".strip()
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "accounts.User"
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "allauth.account.auth_backends.AuthenticationBackend",
]
PASSWORD_HASHERS = [
    "django.contrib.auth.hashers.Argon2PasswordHasher",
    "django.contrib.auth.hashers.PBKDF2PasswordHasher",
]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}"}
    for name in ("UserAttributeSimilarityValidator", "CommonPasswordValidator")
] + [
    {
        "NAME": "django.contrib.auth.password_validation.MinimumLengthValidator",
        "OPTIONS": {"min_length": 12},
    }
]
LOGIN_URL = "account_login"
LOGIN_REDIRECT_URL = "today"
ACCOUNT_LOGIN_METHODS = {"email"}
ACCOUNT_SIGNUP_FIELDS = ["email*", "password1*", "password2*"]
ACCOUNT_USER_MODEL_USERNAME_FIELD = None
ACCOUNT_EMAIL_VERIFICATION = "none"
ACCOUNT_ADAPTER = "accounts.adapter.PracticeAccountAdapter"
# axes counts wrong passwords by account and address; a wall for a whole address would shut out a clinic behind one proxy.
ACCOUNT_RATE_LIMITS = {"login": "300/m/ip", "login_failed": "30/5m/key"}
ACCOUNT_FORMS = {"login": "accounts.forms.SignInForm"}
ACCOUNT_SESSION_REMEMBER = True
MFA_SUPPORTED_TYPES = ["totp", "recovery_codes"]
MFA_TOTP_ISSUER = "Open Gate"
MFA_ADAPTER = "accounts.adapter.SealedFactors"
ACCOUNT_LOGOUT_REDIRECT_URL = "account_login"
AXES_FAILURE_LIMIT = 10
AXES_COOLOFF_TIME = 0.25
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_USERNAME_FORM_FIELD = "login"
AXES_USERNAME_CALLABLE = "accounts.adapter.guessed_email"
AXES_RESET_ON_SUCCESS = True

#: Networks of the proxies in front of the server; what they say of the client's address is believed.
TRUSTED_PROXIES = [each for each in os.environ.get("OPEN_GATE_TRUSTED_PROXIES", "").split(",") if each]

#: What Prometheus shows to read the figures at /health/metrics/; empty: there are none to read.
METRICS_TOKEN = os.environ.get("OPEN_GATE_METRICS_TOKEN", "")

#: A job that is done leaves its errand behind, and not itself.
PROCRASTINATE_WORKER_DEFAULTS = {"delete_jobs": "successful"}
#: Long work is left to a worker (manage.py procrastinate worker); True: done within the request that asks for it.
ERRANDS_AT_ONCE = os.environ.get("OPEN_GATE_ERRANDS_AT_ONCE", "") == "1"

LANGUAGE_CODE = "en-us"
TIME_ZONE = os.environ.get("OPEN_GATE_TIME_ZONE", "UTC")
USE_I18N = False
USE_TZ = True

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {
        "discreet": {"()": "opengate.logs.Discreet", "format": "%(asctime)s %(levelname)s %(name)s []: %(message)s"},
        "json": {"()": "opengate.logs.DiscreetJson"},
    },
    "handlers": {
        "console": {
            "class": "logging.StreamHandler",
            "formatter": "json" if os.environ.get("OPEN_GATE_LOG") == "json" else "discreet",
        }
    },
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {"django": {"handlers": ["console"], "level": "WARNING", "propagate": False}},
}

STATIC_URL = "static/"
STATIC_ROOT = BASE_DIR / ".data" / "static"
STATICFILES_DIRS = [BASE_DIR / "static"]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedManifestStaticFilesStorage"},
}

# A pasted recipe is small; a saved page may hold a few megabytes.
DATA_UPLOAD_MAX_MEMORY_SIZE = 6_000_000
FILE_UPLOAD_MAX_MEMORY_SIZE = 6_000_000
DATA_UPLOAD_MAX_NUMBER_FIELDS = 1500
DATA_UPLOAD_MAX_NUMBER_FILES = 2

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "img-src": [SELF, "data:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
        "base-uri": [NONE],
    }
}
X_FRAME_OPTIONS = "DENY"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SECURE_REFERRER_POLICY = "same-origin"
MESSAGE_STORAGE = "django.contrib.messages.storage.session.SessionStorage"
EMAIL_BACKEND = "django.core.mail.backends.console.EmailBackend"

#: The kitchen scale, named as pyserial names a port; empty for none. The stand-in may be loaded from the page.
SCALE_URL = os.environ.get("OPEN_GATE_SCALE", "")
SCALE_IS_STANDIN = os.environ.get("OPEN_GATE_SCALE_IS_STANDIN", "") == "1"
