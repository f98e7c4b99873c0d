"""Settings of the application. What a place may want to change comes from the environment.

HOBRIX_HOME     where the database and the files people bring are kept (default: ./var)
HOBRIX_DEV      1 for development: Django's error pages, Vite's server beside
HOBRIX_HOSTS    host names the application answers to, separated by commas
HOBRIX_HTTPS    1 when served over HTTPS: cookies are then sent over HTTPS only
HOBRIX_ORIGINS  addresses people see, such as https://hobrix.example.org, separated by commas
HOBRIX_PROXY    address of the reverse proxy in front, whose word on who asks is believed
HOBRIX_METRICS_TOKEN  what who reads /metrics has to show; without it, only this machine may
HOBRIX_ENGINE_GB, HOBRIX_ENGINE_DISK_GB, HOBRIX_ENGINE_SECONDS
                what counting data that stay where they are may take (default: 2, 20 and 1800)
HOBRIX_LOG      json for a line of JSON per request and message, without data
HOBRIX_KEPT_DAYS     days for which what was deleted can be brought back (30)
HOBRIX_MOST_STUDIES  studies one person may own (500)
HOBRIX_MOST_GB       gigabytes of files one person may keep (50)
"""

import os
import secrets
from pathlib import Path

from csp.constants import NONCE, NONE, SELF

PROJECT = Path(__file__).resolve().parents[4]
HOME = Path(os.environ.get("HOBRIX_HOME", PROJECT / "var")).resolve()
HOME.mkdir(parents=True, exist_ok=True)

DEBUG = os.environ.get("HOBRIX_DEV") == "1"
HTTPS = os.environ.get("HOBRIX_HTTPS") == "1"
# This machine itself may always ask, as whoever watches it does.
ALLOWED_HOSTS = [each for each in os.environ.get("HOBRIX_HOSTS", "").split(",") if each]
ALLOWED_HOSTS += ["127.0.0.1", "localhost"]
CSRF_TRUSTED_ORIGINS = [each for each in os.environ.get("HOBRIX_ORIGINS", "").split(",") if each]
CSRF_TRUSTED_ORIGINS += ["http://localhost:5173", "http://127.0.0.1:5173"] if DEBUG else []
PROXY = os.environ.get("HOBRIX_PROXY", "")
METRICS_TOKEN = os.environ.get("HOBRIX_METRICS_TOKEN", "")
MOST_STUDIES = int(os.environ.get("HOBRIX_MOST_STUDIES", "500"))
MOST_BYTES = int(float(os.environ.get("HOBRIX_MOST_GB", "50")) * 1e9)


def _secret_key() -> str:
    """A key made on first start and kept beside the database. An empty one (the disk was full) was
    never used."""
    file = HOME / "secret-key"
    if not file.exists() or not file.read_text():
        made = HOME / f"secret-key.{os.getpid()}"
        made.touch(mode=0o600)
        made.write_text(secrets.token_urlsafe(50))
        made.replace(file)
    return file.read_text()


SECRET_KEY = _secret_key()

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "axes",
    "csp",
    "ninja",
    "django_tasks",
    "django_tasks_db",
    "hobrix.web.studies",
    "hobrix.web.jobs",
    "hobrix.web.reports",
    "hobrix.web.people",
]
MIDDLEWARE = [
    "hobrix.web.config.logs.each_request",
    "django.middleware.security.SecurityMiddleware",
    "hobrix.web.api.limits.UploadLimitMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "csp.middleware.CSPMiddleware",
    "axes.middleware.AxesMiddleware",
    "hobrix.web.api.edge.sound_json",
    "hobrix.web.api.edge.not_stored",
    "hobrix.web.api.happened.written_down",
]
ROOT_URLCONF = "hobrix.web.config.urls"
WSGI_APPLICATION = "hobrix.web.config.wsgi.application"
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
TIME_ZONE = "UTC"
USE_TZ = True

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": HOME / "hobrix.sqlite3",
        # Immediate transactions take the write lock at once instead of failing half way.
        "OPTIONS": {
            "timeout": 20,
            "transaction_mode": "IMMEDIATE",
            "init_command": (
                "PRAGMA journal_mode=WAL;PRAGMA synchronous=NORMAL;PRAGMA temp_store=MEMORY;"
                "PRAGMA mmap_size=134217728;PRAGMA cache_size=-32000;"
            ),
        },
        "CONN_MAX_AGE": 60,
    }
}
CACHES = {
    "default": {
        "BACKEND": "django.core.cache.backends.locmem.LocMemCache",
        "OPTIONS": {"MAX_ENTRIES": 2000},
        "TIMEOUT": None,
    }
}

# Files people bring.
MEDIA_ROOT = HOME / "sources"
UPLOAD_LIMIT = 400 * 1024 * 1024
FILE_UPLOAD_TEMP_DIR = str(HOME / "uploads")
Path(FILE_UPLOAD_TEMP_DIR).mkdir(exist_ok=True)
# Workbooks, Parquet and packages are read in a process of their own that may take so much.
READ_APART = True
READ_SECONDS = 180
READ_MEMORY = 4 * 1024**3
# Larger files are imported by the background worker.
IMPORTED_AT_ONCE = 8 * 1024 * 1024
# What is made of other data sets is made at once up to so many cells (rows times variables).
MADE_AT_ONCE = 3_000_000
DATA_UPLOAD_MAX_MEMORY_SIZE = 10 * 1024 * 1024
# Answers are worked out beside the threads that serve, in processes that are started when they are
# needed: so many for what is short, and so many more for what is long. One may take so much memory.
BESIDE = not DEBUG
SHORT_PLACES = 2
LONG_PLACES = max(1, min(8, (os.cpu_count() or 1) - 1))
ANSWER_MEMORY = 4 * 1024**3
# What such a process does before its first work.
WARM_UP = "hobrix.web.studies.warming.warm_up"
# Bytes kept in memory, in each of these processes: decoded columns, answers as they are sent, and the
# work behind them.
COLUMN_CACHE_SIZE = 256 * 1024 * 1024
ANSWER_CACHE_SIZE = 64 * 1024 * 1024
WORK_CACHE_SIZE = 256 * 1024 * 1024

# What an engine that counts where the data are may take: memory and room on the disk in bytes, and seconds;
# how many bytes of what it counted are kept, and how many combinations may be asked for at once.
ENGINE_MEMORY = int(float(os.environ.get("HOBRIX_ENGINE_GB", "2")) * 1e9)
ENGINE_SPILL = int(float(os.environ.get("HOBRIX_ENGINE_DISK_GB", "20")) * 1e9)
ENGINE_SECONDS = float(os.environ.get("HOBRIX_ENGINE_SECONDS", "1800"))
ENGINE_FOLDER = HOME / "spill"
KEPT_PATTERNS = 512 * 1024 * 1024
MOST_PATTERNS = 2_000_000

TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}

# What people delete can be brought back for so long.
KEPT_DAYS = int(os.environ.get("HOBRIX_KEPT_DAYS", "30"))

# The built front end.
FRONTEND = PROJECT / "frontend" / "dist"
STATIC_URL = "/static/"
STATIC_ROOT = HOME / "static"
STATICFILES_DIRS = [FRONTEND] if FRONTEND.exists() else []
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"},
}
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/static/assets/.+-[A-Za-z0-9_-]{8}\.\w+$"

# Signing in.
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = 0.25  # hours
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_LOCKOUT_CALLABLE = "hobrix.web.api.problems.locked_out"
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = HTTPS
SESSION_COOKIE_AGE = 14 * 24 * 3600

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [SELF],
        "script-src": [SELF],
        "style-src": [SELF],
        "style-src-elem": [SELF, NONCE],
        "img-src": [SELF, "data:", "blob:"],
        "object-src": [NONE],
        "base-uri": [NONE],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"json": {"()": "hobrix.web.config.logs.AsJson"}},
    "handlers": {
        "console": {
            "class": "logging.StreamHandler",
            **({"formatter": "json"} if os.environ.get("HOBRIX_LOG") == "json" else {}),
        }
    },
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {
        "hobrix.requests": {"level": "INFO" if os.environ.get("HOBRIX_LOG") == "json" else "ERROR"}
    },
}
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if PROXY else None
SECURE_HSTS_SECONDS = 31_536_000 if HTTPS else 0
