"""Settings. Everything that differs between demo, tests and a workshop comes from BARODEX_… in the environment."""

import os
import secrets
from pathlib import Path

from csp.constants import NONCE, NONE, SELF

ROOT = Path(__file__).resolve().parents[3]
VAR = Path(os.environ.get("BARODEX_VAR", ROOT / "var"))
VAR.mkdir(parents=True, exist_ok=True)
WEB_DIST = Path(os.environ.get("BARODEX_WEB_DIST", ROOT / "web" / "dist"))
DEMO = os.environ.get("BARODEX_DEMO") == "1"
DEBUG = False


def _secret_key() -> str:
    """A key of this installation, made at the first start and kept beside the database."""
    path = VAR / "secret-key"
    if not path.exists():
        handle = os.open(path, os.O_WRONLY | os.O_CREAT, 0o600)
        with os.fdopen(handle, "w") as file:
            file.write(secrets.token_urlsafe(60))
    return path.read_text()


SECRET_KEY = os.environ.get("BARODEX_SECRET_KEY") or _secret_key()
ALLOWED_HOSTS = os.environ.get("BARODEX_HOSTS", "127.0.0.1,localhost").split(",")
CSRF_TRUSTED_ORIGINS = [o for o in os.environ.get("BARODEX_ORIGINS", "").split(",") if o]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "rest_framework",
    "drf_spectacular",
    "axes",
    "csp",
    "barodex.memory",
    "barodex.accounts",
    "barodex.workshop",
    "barodex.shelf",
    "barodex.fleet",
    "barodex.book",
    "barodex.plan",
    "barodex.bay",
    "barodex.devices",
    "barodex.papers",
    "barodex.files",
    "barodex.demo",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
    "barodex.config.once.once",
]
CSRF_FAILURE_VIEW = "barodex.http.problems.csrf_failure"
ROOT_URLCONF = "barodex.config.urls"
WSGI_APPLICATION = "barodex.config.wsgi.application"
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "DIRS": [], "APP_DIRS": False, "OPTIONS": {}}]

_database = VAR / os.environ.get("BARODEX_DB", "barodex.sqlite3")
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": _database,
        "CONN_MAX_AGE": None,
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
        "TEST": {"NAME": VAR / "test.sqlite3"},
    }
}
# The mail stand-in: an outbox folder. BARODEX_MAIL_HOST names a real server.
EMAIL_HOST = os.environ.get("BARODEX_MAIL_HOST", "")
EMAIL_BACKEND = f"django.core.mail.backends.{'smtp' if EMAIL_HOST else 'filebased'}.EmailBackend"
EMAIL_FILE_PATH = VAR / "outbox"
DEFAULT_FROM_EMAIL = "barodex@localhost"

DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "accounts.Person"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
PASSWORD_HASHERS = ["django.contrib.auth.hashers.Argon2PasswordHasher"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = 0.25  # hours
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False
SILENCED_SYSTEM_CHECKS = ["axes.W006"]
PASSWORD_RESET_TIMEOUT = 60 * 60 * 24 * 7  # of a one-time link, s
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_HTTPONLY = True
CSRF_COOKIE_HTTPONLY = True
SESSION_COOKIE_AGE = 60 * 60 * 24 * 14
if os.environ.get("BARODEX_HTTPS") == "1":
    SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = True
    SECURE_HSTS_SECONDS = 31_536_000
X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "same-origin"
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF, NONCE],
        "img-src": [SELF, "data:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "base-uri": [NONE],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}

REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": ["barodex.http.authentication.Session"],
    "DEFAULT_PERMISSION_CLASSES": ["barodex.http.permissions.Nobody"],
    "DEFAULT_RENDERER_CLASSES": ["barodex.http.renderers.Json"],
    "DEFAULT_PARSER_CLASSES": ["barodex.http.parsers.Json"],
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "barodex.http.problems.handle",
    "UNAUTHENTICATED_USER": None,
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Barodex",
    "DESCRIPTION": "The oil book of a driveline technician. Amounts are in the unit that the name carries (_ml, _km, _nm, _c).",
    "VERSION": "1",
    "POSTPROCESSING_HOOKS": ["barodex.http.schema.answers_are_whole"],
    "SERVE_INCLUDE_SCHEMA": False,
    "COMPONENT_SPLIT_REQUEST": True,
}
DATA_UPLOAD_MAX_MEMORY_SIZE = 4 * 1024 * 1024

LANGUAGE_CODE = "en-gb"
TIME_ZONE = os.environ.get("BARODEX_TIME_ZONE", "Europe/London")
USE_I18N = False
USE_TZ = True

STATIC_URL = "/static/"
if WEB_DIST.is_dir():
    WHITENOISE_ROOT = WEB_DIST
WHITENOISE_USE_FINDERS = False
WHITENOISE_AUTOREFRESH = False
WHITENOISE_MAX_AGE = 3600


def WHITENOISE_IMMUTABLE_FILE_TEST(path: str, url: str) -> bool:
    """Hashed by the build: may be kept for ever."""
    return url.startswith("/assets/")


LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {"axes": {"level": "ERROR"}, "django.request": {"level": "ERROR"}},
}
