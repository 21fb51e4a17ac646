"""Settings. What differs between machines comes from the environment; docs/running.md lists it."""

import os
from pathlib import Path

import dj_database_url
from csp.constants import NONCE, SELF

from cadrin.config.keys import SEALING, SECRET, STANDINS, kept_key

VERSION = "0.1.0"
ROOT = Path(__file__).resolve().parent.parent.parent
VAR = Path(os.environ.get("CADRIN_VAR", ROOT / "var"))
IMAGES = VAR / "images"
WEB_DIST = ROOT / "web" / "dist"

DEBUG = os.environ.get("CADRIN_DEBUG", "0") == "1"
ALLOWED_HOSTS = os.environ.get("CADRIN_HOSTS", "localhost,127.0.0.1,[::1]").split(",")
HTTPS = os.environ.get("CADRIN_HTTPS", "0") == "1"
"""Served over TLS, by a proxy in front: cookies and addresses then go nowhere else."""
SLOW_MS = float(os.environ["CADRIN_SLOW_MS"]) if os.environ.get("CADRIN_SLOW_MS") else None
"""Requests that take this long or longer are logged with what they spent it on."""
# figures for whoever watches the machine, at /metrics
TELLS_METRICS = os.environ.get("CADRIN_METRICS") == "1"
BEHIND_A_PROXY = HTTPS or os.environ.get("CADRIN_PROXY", "0") == "1"


# made by `manage.py prepare`; whatever serves or works refuses to start without them
SECRET_KEY = os.environ.get("CADRIN_SECRET_KEY") or kept_key(VAR, SECRET)
HAS_SECRET_KEY = bool(SECRET_KEY)  # the framework raises where one that is empty is only looked at
# without a mail server nothing is mailed
EMAIL_HOST = os.environ.get("CADRIN_MAIL_HOST", "")
EMAIL_PORT = int(os.environ.get("CADRIN_MAIL_PORT", "25"))
EMAIL_USE_TLS = os.environ.get("CADRIN_MAIL_TLS") == "1"
EMAIL_TIMEOUT = 10
DEFAULT_FROM_EMAIL = os.environ.get("CADRIN_MAIL_FROM", "badging@localhost")
SEALING_KEYS = [
    key.strip()
    for key in (os.environ.get("CADRIN_SEALING_KEYS") or kept_key(VAR, SEALING)).split(",")
    if key.strip()
]
"""What secrets in the database are encrypted with: the first seals, all of them open."""

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "rest_framework",
    "drf_spectacular",
    "drf_spectacular_sidecar",
    "csp",
    "cadrin.outbox",
    "cadrin.operators",
    "cadrin.journal",
    "cadrin.people",
    "cadrin.photos",
    "cadrin.credentials",
    "cadrin.sites",
    "cadrin.biometrics",
    "cadrin.access",
    "cadrin.activity",
    "cadrin.enrolment",
    "cadrin.delivery",
    "cadrin.register",
    "cadrin.intake",
    "cadrin.bulk",
    "cadrin.questions",
    "cadrin.reviews",
    "cadrin.desk",
    "cadrin.bench",
    "cadrin.worker",
    "cadrin.accounts",
    "cadrin.api",
    "cadrin.demo",
]
MIDDLEWARE = [
    "cadrin.config.slow.SlowRequests",
    "cadrin.config.answers.PrivateAnswers",
    "cadrin.config.answers.OneSlash",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "cadrin.config.urls"
APPEND_SLASH = False  # a redirect would lose what was sent; see answers.OneSlash
WSGI_APPLICATION = "cadrin.config.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        # index.html is rendered so that each answer's CSP nonce is in it
        "DIRS": [WEB_DIST, ROOT / "cadrin/config/templates"],
        "APP_DIRS": True,
        "OPTIONS": {"context_processors": ["django.template.context_processors.request"]},
    }
]

# foreign_keys=ON is set by the framework on every connection
SQLITE_PRAGMAS = (
    "PRAGMA journal_mode=WAL;"
    "PRAGMA synchronous=NORMAL;"
    "PRAGMA secure_delete=FAST;"  # what was erased is overwritten, not only left out
    "PRAGMA temp_store=MEMORY;"
    "PRAGMA cache_size=-4000;"  # each thread has one: what is read comes through the map
    "PRAGMA mmap_size=1073741824;"
    "PRAGMA journal_size_limit=67108864;"
    # the worker brings the log to its place beside those who write; a commit only where none does
    "PRAGMA wal_autocheckpoint=16000;"
)
DATABASE = os.environ.get("CADRIN_DATABASE", str(VAR / "cadrin.sqlite3"))
"""A file; or the address of a PostgreSQL server, on which several servers and workers may work."""
IS_SHARED = DATABASE.startswith(("postgres://", "postgresql://"))
if IS_SHARED:
    DATABASES = {
        "default": {
            **dj_database_url.parse(
                DATABASE,
                engine="cadrin.config.postgresql",
                conn_max_age=None,
                conn_health_checks=True,  # a server that was started again is met by no request
            ),
            "TEST": {"NAME": os.environ.get("CADRIN_TEST_DATABASE", "cadrin_test")},
        }
    }
    # what one process keeps in memory the others would not know: who looks at whom, how often
    # somebody tried to sign in; and sessions are read from the database each time
    CACHES = {
        "default": {
            "BACKEND": "django.core.cache.backends.db.DatabaseCache",
            "LOCATION": "shared_cache",
        },
        "sessions": {"BACKEND": "django.core.cache.backends.dummy.DummyCache"},
    }
    SESSION_CACHE_ALIAS = "sessions"
else:
    DATABASES = {
        "default": {
            "ENGINE": "cadrin.config.sqlite",
            "NAME": DATABASE,
            "CONN_MAX_AGE": None,  # a connection for each of the server's threads, kept
            "OPTIONS": {
                "transaction_mode": "IMMEDIATE",
                "timeout": 10,
                "init_command": SQLITE_PRAGMAS,
            },
            # a file, so that each thread of a test's server has a connection of its own
            "TEST": {"NAME": VAR / "test.sqlite3"},
        }
    }
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTH_USER_MODEL = "operators.Operator"
PASSWORD_HASHERS = ["django.contrib.auth.hashers.Argon2PasswordHasher"]
AUTH_PASSWORD_VALIDATORS = [
    {
        "NAME": "django.contrib.auth.password_validation.MinimumLengthValidator",
        "OPTIONS": {"min_length": 12},
    },
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
]
AUTHENTICATION_BACKENDS = ["cadrin.operators.backend.OperatorBackend"]
PASSWORD_RESET_TIMEOUT = 24 * 3600  # how long a link to set a password is good for

# the session of a signed-in operator is read from memory, and from the database after a restart
SESSION_ENGINE = "cadrin.operators.sessions"
SESSION_COOKIE_AGE = 12 * 3600
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_NAME = "__Host-sessionid" if HTTPS else "sessionid"
SESSION_IDLE_MINUTES = int(os.environ.get("CADRIN_IDLE_MINUTES", "30"))
"""How long a session goes on with nobody at the page."""
if HTTPS:
    SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = True
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
    # for how long browsers ask for this host by TLS alone, and whether for all hosts below it too:
    # neither can be taken back before it is over
    SECURE_HSTS_SECONDS = int(os.environ.get("CADRIN_HSTS_SECONDS", "0"))
    SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = (
        os.environ.get("CADRIN_HSTS_SUBDOMAINS", "0") == "1"
    )
    # what lies below this host is not Cadrin's to bind
    SILENCED_SYSTEM_CHECKS = ["security.W005", "security.W021"]
    CSRF_TRUSTED_ORIGINS = [f"https://{host}" for host in ALLOWED_HOSTS]

LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_TZ = True

STATIC_URL = "static/"
# files are served straight from web/dist, found once at start: a fresh build cannot meet an old
# copy of itself
WHITENOISE_USE_FINDERS = True
STATICFILES_DIRS = [WEB_DIST] if WEB_DIST.exists() else []
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/static/assets/.+-[A-Za-z0-9_-]{8}\."

REST_FRAMEWORK = {
    "DEFAULT_SCHEMA_CLASS": "cadrin.config.openapi.Schema",
    "DEFAULT_RENDERER_CLASSES": ["cadrin.operators.rest.rendering.FastJSONRenderer"],
    "DEFAULT_PARSER_CLASSES": ["cadrin.operators.rest.parsing.BoundedJSONParser"],
    "DEFAULT_AUTHENTICATION_CLASSES": [
        "cadrin.operators.rest.authentication.Token",
        "cadrin.operators.rest.authentication.Session",
    ],
    # fail closed: a view that names no permission is for nobody
    "DEFAULT_PERMISSION_CLASSES": ["cadrin.operators.rest.permissions.NamesItsPermission"],
    "DEFAULT_THROTTLE_RATES": {"sign_in": "30/min"},
    "NUM_PROXIES": 1 if BEHIND_A_PROXY else 0,
    "EXCEPTION_HANDLER": "cadrin.operators.rest.problems.problem_response",
    "TEST_REQUEST_DEFAULT_FORMAT": "json",
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Cadrin",
    "VERSION": VERSION,
    "SERVE_INCLUDE_SCHEMA": False,
    "ENUM_GENERATE_CHOICE_DESCRIPTION": False,
    "SWAGGER_UI_DIST": "SIDECAR",
    "SWAGGER_UI_FAVICON_HREF": "SIDECAR",
    "PREPROCESSING_HOOKS": ["cadrin.config.openapi.of_the_screen"],
    "COMPONENT_SPLIT_REQUEST": True,
    "ENUM_ADD_EXPLICIT_BLANK_NULL_CHOICE": False,
    "ENUM_NAME_OVERRIDES": {
        "Factor": "cadrin.activity.rest.shapes.FACTORS",
        "BiometricFactor": "cadrin.biometrics.rest.shapes.BIOMETRIC_FACTORS",
        "FindingEnum": "cadrin.biometrics.rest.shapes.FINDINGS",
        "FingerAdvice": "cadrin.biometrics.rest.shapes.ADVICE",
        "Finger": "cadrin.biometrics.rest.shapes.FINGERS",
        "HowGiven": "cadrin.biometrics.rest.shapes.HOW_GIVEN",
        "HowShown": "cadrin.bench.rest.shapes.HOW_SHOWN",
        "HowLaid": "cadrin.bench.rest.shapes.HOW_LAID",
        "InterfaceLanguage": "cadrin.accounts.commands.operators.LANGUAGES",
        "NumberSign": "cadrin.desk.rest.detective.SIGNS",
        "JournalAct": "cadrin.desk.journal.ACTS",
        "PermissionsEnum": "cadrin.accounts.rest.shapes.PERMISSIONS",
        "Standing": "cadrin.core.validity.Standing",
        "Ordered": "cadrin.sites.rest.door_acts.KINDS",
        "Lock": "cadrin.bench.rest.shapes.LOCKS",
        "Happening": "cadrin.activity.rest.shapes.HAPPENINGS",
        "BulkAct": "cadrin.core.bulk.BulkAct",
        "LeftAlone": "cadrin.core.bulk.LeftAlone",
        "BulkState": "cadrin.bulk.models.BulkState",
        "FieldType": "cadrin.core.people.custom_fields.FieldType",
        "DisplayRule": "cadrin.core.people.names.DisplayRule",
        "MayBeRequired": "cadrin.core.people.details.MAY_BE_REQUIRED",
        "IntakeState": "cadrin.intake.rest.shapes.STATES",
        "IntakeFileKind": "cadrin.intake.rest.shapes.FILE_KINDS",
        "IntakeRowState": "cadrin.intake.rest.shapes.ROW_STATES",
        "Sureness": "cadrin.intake.rest.shapes.SURENESS",
        "State": "cadrin.delivery.rest.shapes.STATES",
        "CardStatus": "cadrin.activity.rest.shapes.CARD_STATUSES",
        "Reason": "cadrin.activity.rest.shapes.REASONS",
        "Gap": "cadrin.delivery.rest.shapes.GAPS",
        "RecordState": "cadrin.delivery.rest.shapes.DELIVERY_STATES",
    },
    "POSTPROCESSING_HOOKS": [
        "drf_spectacular.hooks.postprocess_schema_enums",
        "cadrin.config.openapi.answers_are_whole",
    ],
}
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "script-src": [SELF],
        "style-src": [SELF, NONCE],
        "img-src": [SELF, "data:", "blob:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "frame-ancestors": ["'none'"],
        "base-uri": [SELF],
        "form-action": [SELF],
    }
}
SECURE_CONTENT_TYPE_NOSNIFF = True
X_FRAME_OPTIONS = "DENY"
CSRF_FAILURE_VIEW = "cadrin.config.page.no_token"

# where the stand-ins listen, and the key by which their test bench knows Cadrin; without them there
# is none
STANDINS_URL = os.environ.get("CADRIN_STANDINS", "")
STANDINS_KEY = kept_key(VAR, STANDINS)

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {
        "plain": {"format": "{asctime} {levelname} {name}: {message}", "style": "{"},
        "json": {
            "()": "pythonjsonlogger.json.JsonFormatter",
            "format": "{asctime} {levelname} {name} {message}",
            "style": "{",
        },
    },
    "handlers": {
        "console": {
            "class": "logging.StreamHandler",
            "formatter": os.environ.get("CADRIN_LOG_FORMAT", "plain"),
        }
    },
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {
        "django": {"handlers": ["console"], "level": "WARNING", "propagate": False},
        # a refused request is the screen's matter, not the log's
        "django.request": {"handlers": ["console"], "level": "ERROR", "propagate": False},
        "django.security.csrf": {"handlers": ["console"], "level": "ERROR", "propagate": False},
        "cadrin": {
            "handlers": ["console"],
            "level": os.environ.get("CADRIN_LOG_LEVEL", "INFO"),
            "propagate": False,
        },
    },
}
TEST_RUNNER = "cadrin.config.runner.Runner"
