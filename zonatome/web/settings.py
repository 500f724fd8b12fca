"""Settings, by environment with safe defaults. Everything a workroom owns lies under ZONATOME_HOME."""

import os
import secrets
import sys
import zoneinfo
from pathlib import Path

from csp.constants import NONE, SELF

BASE = Path(__file__).resolve().parent
HOME = Path(os.environ.get("ZONATOME_HOME", "~/.zonatome/workroom")).expanduser()
os.umask(0o077)  # a workroom's data are its own: store, photos and copies


def _secret_key() -> str:
    """Return the key, made once and kept beside the data, outside the project; end in one line where the folder can't
    be written to.
    """
    try:
        HOME.mkdir(parents=True, exist_ok=True, mode=0o700)
        given = os.environ.get("ZONATOME_SECRET_KEY")
        if given:
            return given
        kept = HOME / "secret-key"
        try:
            with os.fdopen(os.open(kept, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w") as file:
                file.write(secrets.token_urlsafe(64))
        except FileExistsError:
            pass
        return kept.read_text()
    except OSError as wrong:
        sys.exit(
            f"  Zonatome keeps its data in {HOME} and can't: {wrong.strerror}. Name another folder with ZONATOME_HOME."
        )


def _machine_zone() -> str:
    """Return the time zone that the machine is set to, by its name; UTC where it has none."""
    name = os.path.realpath("/etc/localtime").partition("zoneinfo/")[2]
    return name if name in zoneinfo.available_timezones() else "UTC"


SECRET_KEY = _secret_key()
os.environ.setdefault("MPLCONFIGDIR", str(HOME / "plots"))  # where the plotting library keeps what it knows of fonts
DEBUG = os.environ.get("ZONATOME_DEBUG") == "1"
ALLOWED_HOSTS = os.environ.get("ZONATOME_HOSTS", "127.0.0.1,localhost").split(",")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "django_tasks",
    "django_tasks_db",
    "axes",
    "csp",
    "zonatome.web.jobs",
    "zonatome.web.survey",
    "zonatome.web.strip",
    "zonatome.web.trace",
    "zonatome.web.lay",
    "zonatome.web.pad",
    "zonatome.web.fasten",
    "zonatome.web.rehearse",
    "zonatome.web.trim",
    "zonatome.web.finish",
    "zonatome.web.round",
    "zonatome.web.shop",
    "zonatome.web.rack",
    "zonatome.web.fortnight",
    "zonatome.web.stock",
    "zonatome.web.record",
    "zonatome.web.demo",
    "zonatome.web.serving",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "zonatome.web.base.middleware.bounded_body",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.auth.middleware.LoginRequiredMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "zonatome.web.jobs.middleware.with_workroom",
    "zonatome.web.jobs.middleware.says_refusals",
    "zonatome.web.base.who.says_who",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "zonatome.web.urls"
WSGI_APPLICATION = "zonatome.web.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [BASE / "templates"],
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
            ],
            "builtins": ["zonatome.web.jobs.templatetags.bench"],
        },
    }
]
CSRF_FAILURE_VIEW = "zonatome.web.rack.views.refused"  # a page that was open too long says so in words
FORM_RENDERER = "django.forms.renderers.DjangoTemplates"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": HOME / "workroom.sqlite3",
        "OPTIONS": {
            "timeout": 20,
            "transaction_mode": "IMMEDIATE",
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL; PRAGMA busy_timeout=20000;",
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
TASKS = {"default": {"BACKEND": os.environ.get("ZONATOME_TASKS", "django_tasks_db.DatabaseBackend")}}

# where a cloth seller answers; `serve` starts a stand-in where none is set
SELLER = os.environ.get("ZONATOME_SELLER", "")
LONGEST_SEARCH = float(os.environ.get("ZONATOME_LONGEST_SEARCH", "600"))  # seconds that one search for a lay may take

PLAN_SECONDS = float(os.environ.get("ZONATOME_PLAN_SECONDS", "2"))  # that the fortnight is planned for

AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 8}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
AXES_FAILURE_LIMIT = 6
AXES_COOLOFF_TIME = 0.1  # hours
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False  # a try while it is locked must not keep the owner out for longer
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_LOCKOUT_TEMPLATE = "429.html"
AXES_VERBOSE = False
LOGIN_URL = "login"
LOGIN_REDIRECT_URL = "jobs:rack"
LOGOUT_REDIRECT_URL = "login"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
SESSION_COOKIE_HTTPONLY = True
LAN_ADDRESS = ""  # where others on the workroom's own network find it; `serve --lan` sets it
if os.environ.get("ZONATOME_HTTPS") == "1":  # behind a server that holds a certificate and says so
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
    SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = True
    CSRF_TRUSTED_ORIGINS = [f"https://{host}" for host in ALLOWED_HOSTS]
SESSION_COOKIE_SAMESITE = "Lax"

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "img-src": [SELF, "data:", "blob:"],
        "media-src": [SELF],
        "font-src": [SELF],
        "connect-src": [SELF, "blob:"],  # blob: the pictures within a furniture file, read by its own viewer
        "form-action": [SELF],
        "frame-ancestors": [NONE],
        "base-uri": [NONE],
    }
}
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
MOST_BODY = 16 * 1024 * 1024  # bytes of one request: a photo and its form
MOST_JOB_BODY = 200 * 1024 * 1024  # bytes of a whole job's ZIP
DATA_UPLOAD_MAX_MEMORY_SIZE = 3 * 1024 * 1024
DATA_UPLOAD_MAX_NUMBER_FIELDS = 2000
FILE_UPLOAD_PERMISSIONS = 0o600
MEDIA_ROOT = HOME / "photos"

STATIC_URL = "static/"
STATICFILES_DIRS = [BASE / "static"]
STATIC_ROOT = Path(os.environ.get("ZONATOME_STATIC", HOME / "static"))
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {
        "BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"
        if os.environ.get("ZONATOME_PLAIN_STATIC") == "1"
        else "whitenoise.storage.CompressedManifestStaticFilesStorage"
    },
}
WHITENOISE_USE_FINDERS = DEBUG

LANGUAGE_CODE = "en-gb"
TIME_ZONE = os.environ.get("ZONATOME_TIME_ZONE") or _machine_zone()
USE_I18N = False
USE_TZ = True
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "loggers": {
        "django.request": {"handlers": ["console"], "level": "ERROR", "propagate": False},
        "waitress.queue": {"level": "ERROR"},
        "axes": {"level": "ERROR"},
    },
}
