"""Settings. Safe for a public service as they are; JOLLY_LOCAL=1 is for plain HTTP on loopback.

Environment: DATABASE_URL and SECRET_KEY (both required), ALLOWED_HOSTS (comma-separated),
CACHE_URL (redis://… of Redis or Valkey; without it what processes share lies in the database),
PROXIES (how many reverse proxies of ours stand before the application; 0), JOLLY_LOCAL=1,
JOLLY_DEMO=1 (offers to open the demo account without a password), LOG_JSON=1 (a line of JSON for
each request, and for what went wrong), METRICS_FROM (networks from which /metrics is answered,
comma-separated; this host alone), WEB_BUILD (the folder of the built pages; web/dist).
"""

import os
from ipaddress import ip_network
from pathlib import Path

import dj_database_url
from csp.constants import NONE, SELF, UNSAFE_INLINE
from django.core.exceptions import ImproperlyConfigured

ROOT = Path(__file__).resolve().parents[2]
WEB_BUILD = Path(os.environ.get("WEB_BUILD") or ROOT / "web" / "dist")


def _required(name: str) -> str:
    value = os.environ.get(name)
    if not value:
        raise ImproperlyConfigured(f"Set {name}; ./jolly demo does so by itself.")
    return value


LOCAL = os.environ.get("JOLLY_LOCAL") == "1"
DEMO = os.environ.get("JOLLY_DEMO") == "1"
SECRET_KEY = _required("SECRET_KEY")
DEBUG = False
ALLOWED_HOSTS = os.environ.get("ALLOWED_HOSTS", "127.0.0.1,localhost").split(",")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "csp",
    "studio",
]
MIDDLEWARE = [
    "studio.watched.Watched",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "jolly.urls"
WSGI_APPLICATION = "jolly.wsgi.application"
TEMPLATES: list[dict[str, object]] = []

DATABASES = {"default": dj_database_url.parse(
    _required("DATABASE_URL"), conn_max_age=600)}
DATABASES["default"].setdefault("OPTIONS", {}).update(
    connect_timeout=5, options="-c statement_timeout=15000 -c lock_timeout=10000")
_CACHE_URL = os.environ.get("CACHE_URL")
CACHES = {"default": {
    "BACKEND": "django.core.cache.backends.redis.RedisCache", "LOCATION": _CACHE_URL,
} if _CACHE_URL else {
    "BACKEND": "django.core.cache.backends.db.DatabaseCache", "LOCATION": "shared_cache"}}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}"}
    for name in ("UserAttributeSimilarityValidator", "MinimumLengthValidator",
                 "CommonPasswordValidator", "NumericPasswordValidator")
] + [{"NAME": "studio.accounts.VariedPassword"}]
SESSION_ENGINE = "studio.sign_ins"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
SESSION_COOKIE_HTTPONLY = True
CSRF_COOKIE_SAMESITE = SESSION_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "studio.page.csrf_failure"
NINJA_NUM_PROXIES = int(os.environ.get("PROXIES", "0"))
if NINJA_NUM_PROXIES:
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")

SECURE_SSL_REDIRECT = SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = not LOCAL
SECURE_HSTS_SECONDS = 0 if LOCAL else 60 * 60 * 24 * 365
SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = not LOCAL
SECURE_REDIRECT_EXEMPT = [r"^api/health$"]
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
CONTENT_SECURITY_POLICY = {"DIRECTIVES": {
    "default-src": [SELF],
    # Vuetify sets its theme as an inline style sheet.
    "style-src": [SELF, UNSAFE_INLINE],
    "img-src": [SELF, "data:"],
    # The sound library keeps its clock in a worker that it makes from a blob.
    "worker-src": [SELF, "blob:"],
    "object-src": [NONE],
    "base-uri": [NONE],
    "frame-ancestors": [NONE],
}}

DATA_UPLOAD_MAX_MEMORY_SIZE = 2 * 2**20
"""Of a request that says what it wants as JSON."""
LARGEST_BODY = 65 * 2**20
"""Of any request; files have limits of their own, the largest of them just below."""
LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_I18N = False
USE_TZ = True
STATIC_URL = "static/"
WHITENOISE_ROOT = WEB_BUILD if WEB_BUILD.is_dir() else None
WHITENOISE_MIMETYPES = {".webmanifest": "application/manifest+json"}
WHITENOISE_MAX_AGE = 0
"""Files named by their content are kept for ever all the same: see immutable_file_test."""


def WHITENOISE_IMMUTABLE_FILE_TEST(path: str, url: str) -> bool:  # noqa: N802
    """The web build names everything in /assets/ by its content."""
    return url.startswith("/assets/")


METRICS_FROM = [ip_network(each) for each in os.environ.get(
    "METRICS_FROM", "127.0.0.0/8,::1/128").split(",")]
LOG_JSON = os.environ.get("LOG_JSON") == "1"
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"request": {"()": "studio.watched.WithRequest"}},
    "formatters": {
        "plain": {"format": "{levelname} {request_id} {message}", "style": "{"},
        "json": {"()": "pythonjsonlogger.json.JsonFormatter", "timestamp": "time",
                 "format": "{levelname}{name}{request_id}{message}", "style": "{",
                 "rename_fields": {"levelname": "level", "request_id": "request"}}},
    "handlers": {"console": {"class": "logging.StreamHandler", "filters": ["request"],
                             "formatter": "json" if LOG_JSON else "plain"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    # What was refused was told to whoever asked; only what went wrong here is written down.
    "loggers": {"django.request": {"level": "ERROR"}, "waitress.queue": {"level": "ERROR"},
                "jolly.requests": {"level": "INFO" if LOG_JSON else "WARNING"}},
}
