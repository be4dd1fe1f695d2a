"""Settings of the application; what differs between machines comes from AESTIVA_* variables, DATABASE_URL, EMAIL_URL."""

from __future__ import annotations

import os
import secrets
import sys
from datetime import timedelta
from pathlib import Path
from typing import Any

import environ

from aestiva import disk

BASE_DIR = Path(__file__).resolve().parent.parent
DATA_DIR = disk.prepare(Path(os.environ.get("AESTIVA_DATA", BASE_DIR / "data")))
env = environ.Env()
DEMO = os.environ.get("AESTIVA_DEMO") == "1"
DEBUG = os.environ.get("AESTIVA_DEBUG") == "1"


def _secret() -> str:
    """The secret key, made on this machine at the first start and readable by its owner alone."""
    path = DATA_DIR / "secret.key"
    try:
        if not path.exists() or not path.read_text().strip():
            handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
            with os.fdopen(handle, "w") as file:
                file.write(secrets.token_urlsafe(50))
        return path.read_text().strip()
    except OSError as error:
        sys.exit(
            f"Aestiva cannot keep its secret key in {path}: {error.strerror}. Name another folder with AESTIVA_DATA."
        )


SECRET_KEY = os.environ.get("AESTIVA_SECRET") or _secret()
HTTPS = os.environ.get("AESTIVA_HTTPS") == "1"
# the address that codes on labels lead to; empty: the one that the page was asked under
SITE_URL = os.environ.get("AESTIVA_URL", "").rstrip("/")
ALLOWED_HOSTS = os.environ.get("AESTIVA_HOSTS", "localhost,127.0.0.1,[::1]").split(",")
# proxies whose word on visitor, scheme and host is believed: addresses or networks
PROXIES = [p.strip() for p in os.environ.get("AESTIVA_PROXIES", "").split(",") if p.strip()]
CSRF_TRUSTED_ORIGINS = [o for o in os.environ.get("AESTIVA_ORIGINS", "").split(",") if o]
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = HTTPS
SESSION_COOKIE_HTTPONLY = True
SESSION_ENGINE = "aestiva.accounts.sessions"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "whitenoise.runserver_nostatic",
    "django.contrib.staticfiles",
    "axes",
    "crispy_forms",
    "crispy_bootstrap5",
    "django_htmx",
    "django_tasks",
    "django_tasks_db",
    "aestiva.frame",
    "aestiva.accounts",
    "aestiva.gardens",
    "aestiva.season",
    "aestiva.place",
    "aestiva.beds",
    "aestiva.seeds",
    "aestiva.course",
    "aestiva.plan",
    "aestiva.bench",
    "aestiva.emergence",
    "aestiva.light",
    "aestiva.care",
    "aestiva.hardening",
    "aestiva.plantingout",
    "aestiva.today",
    "demo",
]

MIDDLEWARE = [
    "aestiva.frame.middleware.Proxies",
    "aestiva.frame.middleware.HeadWithoutBody",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "aestiva.frame.middleware.Sound",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "aestiva.frame.middleware.UploadLimit",
    "django_htmx.middleware.HtmxMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]

ROOT_URLCONF = "aestiva.urls"
WSGI_APPLICATION = "aestiva.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "aestiva.gardens.context.frame",
            ],
            "builtins": ["aestiva.frame.templatetags.aestiva", "aestiva.gardens.templatetags.journal"],
        },
    }
]

_FILE = DATA_DIR / ("demo.sqlite3" if DEMO else "aestiva.sqlite3")
_DATABASE: dict[str, Any] = env.db_url("DATABASE_URL", default=f"sqlite:///{_FILE}")
if _DATABASE["ENGINE"].endswith("sqlite3"):
    # FULL: what was acknowledged outlives a power cut, at the price of one wait for the disk a change
    _DATABASE["OPTIONS"] = {
        "transaction_mode": "IMMEDIATE",
        "timeout": 10,
        "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
    }
    if os.environ.get("AESTIVA_COLLECTED") == "1":
        # a server keeps its connections: where none is open the next one must make files, which a full disk refuses
        _DATABASE["CONN_MAX_AGE"] = None
_DATABASE["TEST"] = {"NAME": os.environ.get("AESTIVA_TEST_DB")}
DATABASES = {"default": _DATABASE}
# shared by all who serve: a folder, since a database cache would write inside a GET
CACHES: dict[str, Any] = {
    "default": {
        "BACKEND": "aestiva.frame.cache.FolderCache",
        "LOCATION": DATA_DIR / "cache",
        "OPTIONS": {"MAX_ENTRIES": 2000},
    }
}
TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "accounts.User"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
LOGIN_URL = "login"
LOGIN_REDIRECT_URL = "home"
LOGOUT_REDIRECT_URL = "home"
AXES_FAILURE_LIMIT = 6
AXES_COOLOFF_TIME = timedelta(minutes=15)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_LOCKOUT_TEMPLATE = "accounts/locked.html"
AXES_USERNAME_FORM_FIELD = "username"
AXES_USERNAME_CALLABLE = "aestiva.accounts.models.name_tried"
AXES_VERBOSE = False
AXES_HANDLER = "aestiva.accounts.axes.Handler"
AXES_DISABLE_ACCESS_LOG = True  # nobody reads it
vars().update(env.email_url("EMAIL_URL", default="consolemail://"))  # EMAIL_BACKEND, EMAIL_HOST, …
SENDS_MAIL = not globals()["EMAIL_BACKEND"].endswith(("console.EmailBackend", "dummy.EmailBackend"))
DEFAULT_FROM_EMAIL = os.environ.get("AESTIVA_MAIL_FROM", "aestiva@localhost")
PASSWORD_RESET_TIMEOUT = int(timedelta(days=3).total_seconds())

LANGUAGE_CODE = "en-gb"
USE_I18N = False
USE_TZ = True
TIME_ZONE = "UTC"

STATIC_URL = "static/"
STATIC_ROOT = DATA_DIR / "static"
disk.guarded(lambda: STATIC_ROOT.mkdir(exist_ok=True))
# the server collects static files when it starts, compressed and under names with their hash, which may be kept for
# ever; everything else finds them where they lie
_COLLECTED = os.environ.get("AESTIVA_COLLECTED") == "1"
WHITENOISE_USE_FINDERS = not _COLLECTED
_STATIC = "CompressedManifestStaticFilesStorage" if _COLLECTED else "CompressedStaticFilesStorage"
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": f"whitenoise.storage.{_STATIC}"},
}
WHITENOISE_MAX_AGE = 3600
CRISPY_ALLOWED_TEMPLATE_PACKS = CRISPY_TEMPLATE_PACK = "bootstrap5"

UPLOAD_LIMIT = 32 * 1024 * 1024
DATA_UPLOAD_MAX_MEMORY_SIZE = 2 * 1024 * 1024
FILE_UPLOAD_MAX_MEMORY_SIZE = 4 * 1024 * 1024

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": ["'self'"],
        "img-src": ["'self'", "data:"],
        "object-src": ["'none'"],
        "base-uri": ["'self'"],
        "form-action": ["'self'"],
        "frame-ancestors": ["'none'"],
        "report-uri": ["/csp-report/"],
    }
}
CSRF_FAILURE_VIEW = "aestiva.frame.views.csrf_failure"
MESSAGE_STORAGE = "django.contrib.messages.storage.fallback.FallbackStorage"  # no GET writes a session
TESTING = "test" in sys.argv
_QUIET = "CRITICAL" if TESTING else "WARNING"  # tests provoke refusals on purpose
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "loggers": {
        "django": {"handlers": ["console"], "level": "WARNING"},
        "axes": {"level": "ERROR"},
        "aestiva.season": {"handlers": ["console"], "level": _QUIET},
        "django.request": {"level": _QUIET},
        "django.security": {"level": _QUIET},
    },
}

if TESTING:  # quick hashes, and nothing kept from one process for another
    TEST_RUNNER = "tools.runner.Runner"
    PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    CACHES["default"] = {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"}
    TASKS["default"]["BACKEND"] = "django_tasks.backends.immediate.ImmediateBackend"
