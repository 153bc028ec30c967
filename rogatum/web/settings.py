"""Settings, read once from the environment: every variable is listed in `docs/guide.md`."""

from __future__ import annotations

import os
from pathlib import Path

from csp.constants import NONE, SELF, UNSAFE_INLINE

# What this program writes is its user's alone, whatever the shell says that started it.
os.umask(0o077)

ROOT = Path(__file__).resolve().parent.parent.parent
DATA = Path(os.environ.get("ROGATUM_DATA") or ROOT / "var").resolve()
DEMO = os.environ.get("ROGATUM_DEMO") == "1"
HTTPS = os.environ.get("ROGATUM_HTTPS") == "1"
FRONTEND = ROOT / "frontend" / "dist"
MEDIA_STORE = DATA / "media"
SOURCE_STORE = DATA / "sources"
HANDOFF_STORE = DATA / "handoffs"
OFFER_STORE = DATA / "offers"
# What lasts as long as a piece of work, and which workers live.
SCRATCH = DATA / "scratch"
WORKER_FOLDER = DATA / "workers"
LARGEST_UPLOAD = 2048 * 1024 * 1024


DEBUG = False
# Without one, the key of the data folder is taken when the program starts (`starting.py`).
OWN_SECRET_KEY = os.environ.get("ROGATUM_SECRET_KEY") or ""
SECRET_KEY = OWN_SECRET_KEY
ALLOWED_HOSTS = (os.environ.get("ROGATUM_HOSTS") or "127.0.0.1,localhost,[::1]").split(",")
# The address of a proxy in front, whose word on who asks, by which host and how is then taken; nobody else's is.
TRUSTED_PROXY = os.environ.get("ROGATUM_PROXY") or ""
ROOT_URLCONF = "rogatum.web.urls"
WSGI_APPLICATION = "rogatum.web.wsgi.application"
USE_TZ = True
TIME_ZONE = "UTC"
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "csp",
    "rogatum.web.accounts",
    "rogatum.web.courses",
    "rogatum.web.jobs",
    "rogatum.web.undoing",
    "rogatum.web.pools",
    "rogatum.web.sources",
    "rogatum.web.quizzes",
    "rogatum.web.receivers",
    "rogatum.web.handoffs",
    "rogatum.web.sharing",
    "rogatum.web.keeping",
    "rogatum.web",
]
MIDDLEWARE = [
    "rogatum.web.database.holders.name_request",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "rogatum.web.pacing.pace",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "DIRS": [], "APP_DIRS": False}]

DATABASES = {
    "default": {
        "ENGINE": "rogatum.web.database",
        "NAME": DATA / "rogatum.sqlite3",
        "TEST": {"NAME": ":memory:"},
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL; PRAGMA foreign_keys=ON; PRAGMA cache_size=-65536;",
        },
    }
}
# Transactions that keep others from writing for longer, in seconds, are told of in the log.
LOCK_TOLD = float(os.environ.get("ROGATUM_LOCK_TOLD") or 1.0)
# Jobs run in the worker; with ROGATUM_JOBS=immediate in the process that asks, as the demo loader does.
JOBS_IMMEDIATE = os.environ.get("ROGATUM_JOBS") == "immediate"

_VALIDATION = "django.contrib.auth.password_validation"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"{_VALIDATION}.MinimumLengthValidator", "OPTIONS": {"min_length": 12}},
    {"NAME": f"{_VALIDATION}.UserAttributeSimilarityValidator"},
    {"NAME": f"{_VALIDATION}.CommonPasswordValidator"},
    {"NAME": f"{_VALIDATION}.NumericPasswordValidator"},
]
# The prefix binds a cookie to this host and to HTTPS, so that no other site of the domain can set it.
SESSION_COOKIE_NAME = "__Host-rogatum" if HTTPS else "rogatum"
SESSION_COOKIE_AGE = 7 * 24 * 3600
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = HTTPS
CSRF_COOKIE_SECURE = HTTPS
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "rogatum.web.errors.csrf_failure"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
SECURE_HSTS_SECONDS = 31_536_000 if HTTPS else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = HTTPS
SECURE_HSTS_PRELOAD = HTTPS
SECURE_SSL_REDIRECT = HTTPS
SECURE_CROSS_ORIGIN_OPENER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
# Scripts only from here, none inline. Styles may be inline: formulas and the components' positions are set so.
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "script-src": [SELF],
        "style-src": [SELF, UNSAFE_INLINE],
        "img-src": [SELF, "data:", "blob:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "media-src": [SELF],
        "object-src": [NONE],
        "base-uri": [SELF],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}

STATIC_URL = "/static/"
WHITENOISE_ROOT = FRONTEND if FRONTEND.exists() else None
WHITENOISE_INDEX_FILE = False
# The build names files by what they hold, so a browser may keep them for ever; packed copies lie beside them.
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/.+-[\w-]{8,}\.\w+$"
DATA_UPLOAD_MAX_MEMORY_SIZE = 60 * 1024 * 1024
DATA_UPLOAD_MAX_NUMBER_FILES = 2000
FILE_UPLOAD_TEMP_DIR = None
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"timed": {"format": "%(asctime)s %(message)s"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "timed"}},
    "loggers": {
        # Who signed in, who was refused and who changed a password is kept whatever the level.
        "rogatum.web.accounts": {"level": "INFO"},
        # That a request waits for a thread is no news where many work.
        "waitress.queue": {"level": "ERROR"},
    },
    "root": {"handlers": ["console"], "level": os.environ.get("ROGATUM_LOG", "WARNING")},
}
