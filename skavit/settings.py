"""Django settings; everything that differs between machines comes from the environment, with safe defaults."""

import secrets
from datetime import timedelta
from pathlib import Path

import skavit.core  # noqa: F401  the zone data are set there before anything asks for a zone
from skavit.server import environment
from skavit.server.bounds import BODY_OF_A_FILE

BASE_DIR = Path(__file__).resolve().parent.parent

# Codes of units are sealed with it; without one none are kept. It is in no backup.
CODES_KEY = environment.text("SKAVIT_CODES_KEY", "")

DEBUG = environment.flag("SKAVIT_DEBUG", default=False)
# Without a key of its own a process makes one: sessions then end with it, and nothing is shipped that could leak.
SECRET_KEY = environment.text("SKAVIT_SECRET_KEY", "") or secrets.token_urlsafe(60)
# Where it is reached, for links in mails; without it they have none.
ADDRESS = environment.text("SKAVIT_ADDRESS", "")
ALLOWED_HOSTS = environment.words("SKAVIT_ALLOWED_HOSTS", "localhost,127.0.0.1,[::1]")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "whitenoise.runserver_nostatic",
    "django.contrib.staticfiles",
    "csp",
    "django_htmx",
    "axes",
    "procrastinate.contrib.django",
    "simple_history",
    "skavit.crews",
    "skavit.background",
    "skavit.apart",
    "skavit.sites",
    "skavit.kinds",
    "skavit.units",
    "skavit.loads",
    "skavit.codes",
    "skavit.visits",
    "skavit.due",
    "skavit.customer",
    "skavit.exchange",
    "skavit.api",
    "skavit.archive",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "skavit.watching.logs.RequestIdMiddleware",
    "skavit.watching.metrics.CountingMiddleware",
    "skavit.web.middleware.PrivateMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.auth.middleware.LoginRequiredMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "simple_history.middleware.HistoryRequestMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "skavit.crews.request.LanguageMiddleware",
    "skavit.crews.request.CrewMiddleware",
    "skavit.web.middleware.RefusingMiddleware",
    "axes.middleware.AxesMiddleware",
    "skavit.apart.middleware.ApartMiddleware",
]

ROOT_URLCONF = "skavit.urls"
WSGI_APPLICATION = "skavit.wsgi.application"

TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [BASE_DIR / "skavit" / "templates"],
        "APP_DIRS": False,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "django.template.context_processors.i18n",
                "skavit.crews.context.crew",
            ],
            "builtins": ["skavit.units.templatetags.words", "django.templatetags.i18n"],
            "loaders": [
                (
                    "django.template.loaders.cached.Loader",
                    ["django.template.loaders.filesystem.Loader", "django.template.loaders.app_directories.Loader"],
                )
            ],
        },
    },
]

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": environment.text("SKAVIT_DB_NAME", "skavit"),
        "USER": environment.text("SKAVIT_DB_USER", "skavit"),
        "PASSWORD": environment.text("SKAVIT_DB_PASSWORD", ""),
        "HOST": environment.text("SKAVIT_DB_HOST", "127.0.0.1"),
        "PORT": environment.text("SKAVIT_DB_PORT", "5432"),
        "CONN_MAX_AGE": 60,
        "ATOMIC_REQUESTS": False,
    }
}

TEST_RUNNER = "skavit.tests.runner.CountingRunner"

AUTH_USER_MODEL = "crews.User"
LOGIN_URL = "login"
LOGIN_REDIRECT_URL = "round"
LOGOUT_REDIRECT_URL = "login"
CSRF_FAILURE_VIEW = "skavit.crews.entry.csrf_failure"
PASSWORD_RESET_TIMEOUT = 24 * 3600
# Mail is sent only where a server for it is named.
EMAIL_HOST = environment.text("SKAVIT_EMAIL_HOST", "")
# Or it is written into a folder, a file each: to be looked at, or for a relay that reads them.
EMAIL_FILE_PATH = environment.text("SKAVIT_EMAIL_FOLDER", "")
EMAIL_BACKEND = (
    "skavit.server.mail_folder.PrivateFolderBackend"
    if EMAIL_FILE_PATH and not EMAIL_HOST
    else "django.core.mail.backends.smtp.EmailBackend"
)
EMAIL_TIMEOUT = 10  # seconds that a mail server may take for each of its answers
EMAIL_PORT = int(environment.text("SKAVIT_EMAIL_PORT", "25"))
EMAIL_HOST_USER = environment.text("SKAVIT_EMAIL_USER", "")
EMAIL_HOST_PASSWORD = environment.text("SKAVIT_EMAIL_PASSWORD", "")
EMAIL_USE_TLS = environment.flag("SKAVIT_EMAIL_TLS", default=False)
DEFAULT_FROM_EMAIL = environment.text("SKAVIT_EMAIL_FROM", "skavit@localhost")
PASSWORD_HASHERS = ["skavit.crews.hashing.HasherInTurn"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}"}
    for name in (
        "UserAttributeSimilarityValidator",
        "MinimumLengthValidator",
        "CommonPasswordValidator",
        "NumericPasswordValidator",
    )
]

LANGUAGE_CODE = "en"
TIME_ZONE = "UTC"
USE_I18N = True
LANGUAGES = [("en", "English"), ("de", "Deutsch"), ("fr", "Français"), ("es", "Español")]
LOCALE_PATHS = [BASE_DIR / "skavit" / "locale", BASE_DIR / "skavit" / "customer" / "locale"]
# Numbers and dates are written alike in all of them: they are typed back in, and read off a display.
FORMAT_MODULE_PATH = ["skavit.formats"]
USE_TZ = True
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

STATIC_URL = "static/"
STATIC_ROOT = BASE_DIR / "staticfiles"
STATICFILES_DIRS = [BASE_DIR / "skavit" / "static"]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "skavit.server.static_files.ModuleStorage"},
}
DATA_UPLOAD_MAX_MEMORY_SIZE = BODY_OF_A_FILE
FILE_UPLOAD_MAX_MEMORY_SIZE = BODY_OF_A_FILE

# Background work (skavit.background): finished jobs leave the queue, what they gave stays with the job.
PROCRASTINATE_WORKER_DEFAULTS = {"concurrency": 2, "delete_jobs": "always"}

# What other programs read a page at a time (skavit.api).
NINJA_PAGINATION_PER_PAGE, NINJA_PAGINATION_MAX_LIMIT = 100, 500

# What units do: a trade each, with its pages (skavit/units/trades.py).
TRADES = ["skavit.switching.trade.PAGES", "skavit.watering.trade.PAGES", "skavit.heating.trade.PAGES"]
# Modules with functions that do a kind of background work (skavit/background/work.py).
DO_BACKGROUND_WORK = [
    "skavit.units.services.files",
    "skavit.units.services.fitting",
    "skavit.units.services.refreshing",
    "skavit.units.pages.sheet.printing",
    "skavit.customer.pages.sheet.printing",
    "skavit.exchange.archiving",
    "skavit.exchange.importing",
]

# Logins that fail too often are refused for a while: by name from one address, so that nobody locks another out.
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = timedelta(minutes=15)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_LOCKOUT_CALLABLE = "skavit.crews.entry.locked_out"
AXES_ENABLE_ADMIN = False
AXES_DISABLE_ACCESS_LOG = True
AXES_VERBOSE = False
AXES_IPWARE_PROXY_COUNT = None

# No inline script or style and no outside host, from the first page on (docs/decisions/0005).
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": ["'none'"],
        "script-src": ["'self'"],
        "style-src": ["'self'"],
        "img-src": ["'self'", "data:"],
        "font-src": ["'self'"],
        "connect-src": ["'self'"],
        "form-action": ["'self'"],
        "frame-ancestors": ["'none'"],
        "base-uri": ["'none'"],
    }
}

# Who may read /metrics, by network address; left out, this machine alone.
METRICS_FROM = environment.words("SKAVIT_METRICS_FROM", "")
LOG_AS_JSON = environment.flag("SKAVIT_LOG_JSON", default=False)
# Faults go to the server's own output: without this Django writes them down only while DEBUG is on.
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"outage": {"()": "skavit.watching.logs.OneLineOfAnOutage"}},
    "formatters": {"lines": {"()": f"skavit.watching.logs.{'JsonLines' if LOG_AS_JSON else 'TextLines'}"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "lines", "filters": ["outage"]}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {
        "django.request": {"handlers": ["console"], "level": "ERROR", "propagate": False},
        "weasyprint": {"level": "ERROR"},  # what it does not draw of our pages is known
        "axes": {"level": "ERROR"},  # a password mistyped is no fault
        "waitress.queue": {"level": "ERROR"},  # that a request waits for a thread is no fault
    },
}

HTTPS = environment.flag("SKAVIT_HTTPS", default=False)
SECURE_SSL_REDIRECT = HTTPS
SESSION_COOKIE_SECURE = HTTPS
CSRF_COOKIE_SECURE = HTTPS
SECURE_HSTS_SECONDS = 31_536_000 if HTTPS else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = HTTPS
# A promise to browsers that ship it, hard to take back: only when asked for.
SECURE_HSTS_PRELOAD = environment.flag("SKAVIT_HSTS_PRELOAD", default=False)
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if HTTPS else None
SILENCED_SYSTEM_CHECKS = ["security.W021"]  # it asks for that promise
X_FRAME_OPTIONS = "DENY"
