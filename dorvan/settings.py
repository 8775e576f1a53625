"""Settings, by environment variable with safe defaults.

DORVAN_DATA     where the database and the secret key live (default ``var/``)
DORVAN_DEBUG    ``1`` for development only
DORVAN_HOSTS    comma-separated host names served (default this machine, and the addresses it listens at)
DORVAN_HTTPS    ``1`` when served behind TLS: secure cookies, HSTS, plain requests sent on to https
DORVAN_PROXY    address of the TLS front, whose X-Forwarded headers are then believed (127.0.0.1)
DORVAN_ORIGINS  comma-separated https://host:port that forms may come from, where the front changes the host
DORVAN_WORKERS  processes for bend orders (default 2)
DORVAN_SEARCH_SECONDS  how long an order is looked for before the best so far is shown (default 40)
DORVAN_SEARCHES  where searches say how far they are (default ``searches`` in the data folder)

``docs/running-a-shop.md`` says how they go together.
"""

import os
from datetime import timedelta
from pathlib import Path

from django.core.management.utils import get_random_secret_key

from dorvan import reached

BASE_DIR = Path(__file__).resolve().parent.parent
DATA_DIR = Path(os.environ.get("DORVAN_DATA", BASE_DIR / "var"))
DATA_DIR.mkdir(mode=0o700, parents=True, exist_ok=True)
os.environ.setdefault("DORVAN_SEARCHES", str(DATA_DIR / "searches"))


def secret_key() -> str:
    """The key from its file, made on first use and readable by its owner only."""
    path = DATA_DIR / "secret_key"
    if not path.exists():
        descriptor = os.open(path, os.O_WRONLY | os.O_CREAT, 0o600)
        with os.fdopen(descriptor, "w") as file:
            file.write(get_random_secret_key())
    return path.read_text().strip()


SECRET_KEY = os.environ.get("DORVAN_SECRET_KEY") or secret_key()
DEBUG = os.environ.get("DORVAN_DEBUG") == "1"
HTTPS = os.environ.get("DORVAN_HTTPS") == "1"
ALLOWED_HOSTS = os.environ["DORVAN_HOSTS"].split(",") if os.environ.get("DORVAN_HOSTS") else reached.hosts()

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "axes",
    "dorvan.longwork",
    "dorvan.versions",
    "dorvan.shop",
    "dorvan.keeping",
    "dorvan.people",
    "dorvan.brakes",
    "dorvan.stockroom",
    "dorvan.ledger",
    "dorvan.suppliers",
    "dorvan.tickets",
    "dorvan.floor",
    "dorvan.day",
    "dorvan.jobpack",
    "dorvan.bundle",
    "dorvan.office",
    "dorvan.site",
    "dorvan.joining",
    "dorvan.outside",
    "dorvan.cutting",
    "dorvan.learning",
    "dorvan.simulated",
    "dorvan.demo",
]
MIDDLEWARE = [
    "dorvan.keeping.log.Logged",
    "django.middleware.security.SecurityMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "dorvan.security.ContentSecurityPolicy",
    "dorvan.keeping.full.CannotWrite",
    "dorvan.tickets.unreadable.Unreadable",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "dorvan.keeping.taken.KeptEntries",
    "dorvan.security.SignInRequired",
    "dorvan.people.may.May",
    "dorvan.people.phrases.OwnPhraseFirst",
    "dorvan.security.KeptNowhere",
    "dorvan.people.rest.AtRest",
    "dorvan.shop.clock.OnTheClock",
    "dorvan.longwork.asking.Asking",
    "dorvan.stockroom.memo.Held",
    "dorvan.bookmarks.LeadBack",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "dorvan.urls"
WSGI_APPLICATION = "dorvan.wsgi.application"
TEMPLATES = [{
    "BACKEND": "django.template.backends.django.DjangoTemplates",
    "DIRS": [BASE_DIR / "dorvan" / "templates"],
    "APP_DIRS": True,
    "OPTIONS": {"context_processors": [
        "django.template.context_processors.request",
        "django.contrib.auth.context_processors.auth",
        "django.contrib.messages.context_processors.messages",
        "dorvan.shop.clock.this_shop",
    ]},
}]
DATABASES = {"default": {
    "ENGINE": "django.db.backends.sqlite3",
    "NAME": DATA_DIR / "dorvan.sqlite3",
    "CONN_MAX_AGE": None,  # the last one to close writes the log back into the file, which an edit would wait for
    "OPTIONS": {
        "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        "transaction_mode": "IMMEDIATE",
        "timeout": 20,
    },
    "TEST": {"NAME": DATA_DIR / "test.sqlite3"},
}}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "people.User"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 12}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = timedelta(minutes=10)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
"""Eight wrong passwords for a name from one place: ten minutes to wait. Others, elsewhere, go on."""
AXES_RESET_ON_SUCCESS = True
AXES_LOCKOUT_TEMPLATE = "people/locked.html"
AXES_ENABLE_ACCESS_FAILURE_LOG = False
AXES_VERBOSE = False

LOGIN_URL = "people:sign-in"
LOGIN_REDIRECT_URL = "tickets:rack"
LOGOUT_REDIRECT_URL = "people:sign-in"

LANGUAGE_CODE = "en-gb"
TIME_ZONE = os.environ.get("DORVAN_TIME_ZONE", "UTC")
USE_TZ = True

STATIC_URL = "/static/"
STATIC_ROOT = DATA_DIR / "static"
STATICFILES_DIRS = [BASE_DIR / "dorvan" / "static"]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedManifestStaticFilesStorage"},
}

DORVAN_WORKERS = int(os.environ.get("DORVAN_WORKERS", "2"))
"""Processes for bend orders; 0 works them out within the request."""
DORVAN_PATIENCE = 1.5
"""Seconds a page waits for them before it says that they are being worked out."""

DATA_UPLOAD_MAX_MEMORY_SIZE = 1_000_000
DATA_UPLOAD_MAX_NUMBER_FIELDS = 500
FILE_UPLOAD_MAX_MEMORY_SIZE = 1_000_000

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = CSRF_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = HTTPS
CSRF_TRUSTED_ORIGINS = [origin for origin in os.environ.get("DORVAN_ORIGINS", "").split(",") if origin]
SILENCED_SYSTEM_CHECKS = ["security.W005", "security.W021"]
"""Other hosts of the shop's domain are not ours to bind to https, nor is its name for browsers' lists."""
SECURE_HSTS_SECONDS = 31_536_000 if HTTPS else 0
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
SECURE_CROSS_ORIGIN_OPENER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"

LOG = DATA_DIR / "dorvan.log"
"""Every request and every error; five older ones beside it."""
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"line": {"format": "{asctime} {levelname} {message}", "style": "{"}},
    "handlers": {"console": {"class": "logging.StreamHandler"},
                 "file": {"class": "logging.handlers.RotatingFileHandler", "filename": LOG, "formatter": "line",
                          "maxBytes": 2_000_000, "backupCount": 5, "delay": True, "encoding": "utf-8"}},
    "root": {"handlers": ["console", "file"], "level": "WARNING"},
    "loggers": {"django.request": {"level": "ERROR"}, "axes": {"level": "ERROR"},  # a refused form is not news
                "dorvan.requests": {"handlers": ["file"], "level": "INFO", "propagate": False}},
}
