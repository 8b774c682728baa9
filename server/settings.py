"""Django settings, from `server.config.Config`."""

from csp.constants import NONCE, NONE, SELF

from server.config import ROOT, Config

CONFIG = Config.from_environment()

SECRET_KEY = CONFIG.secret_key
DEBUG = CONFIG.debug
ALLOWED_HOSTS = list(CONFIG.allowed_hosts)
ROOT_URLCONF = "server.urls"
WSGI_APPLICATION = "server.wsgi.application"
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "csp",
    "simple_history",
    "procrastinate.contrib.django",
    "server.jobs",
    "server.accounts",
    "server.farms",
    "server.soils",
    "server.crops",
    "server.blocks",
    "server.limits",
    "server.maps",
    "server.surveys",
    "server.instruments",
    "server.devices",
    "server.readings",
    "server.imports",
    "server.siting",
    "server.fieldwork",
    "server.paddies",
    "server.leaves",
    "server.deficits",
    "server.cuttings",
    "server.water",
    "server.weather",
    "server.supply",
    "server.valves",
    "server.events",
    "server.findings",
    "server.advice",
    "server.plan",
    "server.today",
    "server.checklist",
    "server.demo",
    "server.reference",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "server.base.headers.AnswerHeaders",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.locale.LocaleMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "simple_history.middleware.HistoryRequestMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]

TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": True}]

CACHES = {
    "default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"},
    # Of each process, for the farms looked at last; a board of 300 blocks is 80 kB packed.
    "boards": {
        "BACKEND": "django.core.cache.backends.locmem.LocMemCache",
        "LOCATION": "boards",
        "OPTIONS": {"MAX_ENTRIES": 64},
    },
}
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "HOST": CONFIG.db_host,
        "PORT": CONFIG.db_port,
        "NAME": CONFIG.db_name,
        "USER": CONFIG.db_user,
        "PASSWORD": CONFIG.db_password,
        "OPTIONS": {
            # Who can't have a connection soon is told to come again, and holds no thread.
            "pool": {"min_size": 1, "max_size": 8, "timeout": 3, "reconnect_timeout": 4},
            "connect_timeout": 3,
            # A network that is cut is noticed by both sides within half a minute, and so is the
            # end of a client whose statement waits.
            "keepalives_idle": 10,
            "keepalives_interval": 5,
            "keepalives_count": 3,
            "tcp_user_timeout": 25_000,
            "options": (
                "-c tcp_keepalives_idle=10 -c tcp_keepalives_interval=5 -c tcp_keepalives_count=3 "
                "-c client_connection_check_interval=5s "
                # Questions here take milliseconds; to compile one takes thirty.
                "-c jit=off"
            ),
        },
        # A connection that broke while nobody used it is replaced before it is given out.
        "CONN_HEALTH_CHECKS": True,
        "TEST": {"NAME": f"test_{CONFIG.db_name}"},
    }
}

# A long import must not keep the morning waiting. A worker that has not been heard of for as long
# [s] is dead, and its jobs are begun again.
WORKER_SILENT_S = 15.0
PROCRASTINATE_WORKER_DEFAULTS = {
    "concurrency": 3,
    "delete_jobs": "successful",
    "update_heartbeat_interval": 4,
    "stalled_worker_timeout": WORKER_SILENT_S,
}

AUTH_USER_MODEL = "accounts.User"
AUTHENTICATION_BACKENDS = ["django.contrib.auth.backends.ModelBackend"]
PASSWORD_HASHERS = ["server.accounts.hashing.Argon2"]
AUTH_PASSWORD_VALIDATORS = [
    {
        "NAME": "django.contrib.auth.password_validation.MinimumLengthValidator",
        "OPTIONS": {"min_length": 10},
    },
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = CONFIG.secure
SECURE_HSTS_SECONDS = 31_536_000 if CONFIG.secure else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = CONFIG.secure
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF, NONCE],
        # Positions computed while drawing are set as style attributes.
        "style-src-attr": ["'unsafe-inline'"],
        "font-src": [SELF],
        "img-src": [SELF, "data:"],
        "connect-src": [SELF],
        "manifest-src": [SELF],
        "worker-src": [SELF],
        "base-uri": [NONE],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}

USE_TZ = True
TIME_ZONE = "UTC"
USE_I18N = True
LANGUAGE_CODE = "en"
# Accented English proves that every text is in the catalogue; the interface chooses it as well.
LANGUAGES = [("en", "English"), ("en-xa", "Accented English")]
LANGUAGE_COOKIE_NAME = "language"
LOCALE_PATHS = [ROOT / "server" / "locale"]

WEB_DIST = CONFIG.web_dist
# Only the built assets: index.html needs its nonce and is served by a view.
WHITENOISE_ROOT = CONFIG.web_dist / "public" if CONFIG.web_dist.exists() else None
# Vite names its files by their content, so they may be kept for ever.
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/.+-[A-Za-z0-9_-]{8}\..+$"

FILE_UPLOAD_MAX_MEMORY_SIZE = 5 * 1024 * 1024
DATA_UPLOAD_MAX_MEMORY_SIZE = 25 * 1024 * 1024

# Without a mail server, mail is written to files, where a person can read what would go out.
EMAIL_BACKEND = (
    "django.core.mail.backends.smtp.EmailBackend"
    if CONFIG.mail_host
    else "django.core.mail.backends.filebased.EmailBackend"
)
EMAIL_HOST, EMAIL_PORT = CONFIG.mail_host, CONFIG.mail_port
EMAIL_HOST_USER, EMAIL_HOST_PASSWORD = CONFIG.mail_user, CONFIG.mail_password
EMAIL_USE_TLS = CONFIG.mail_tls
EMAIL_FILE_PATH = str(CONFIG.mail_folder)
# A mail server that does not answer would hold the morning for ever.
EMAIL_TIMEOUT = 15
DEFAULT_FROM_EMAIL = CONFIG.mail_from

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"line": {"format": "%(levelname)s %(name)s: %(message)s"}},
    "handlers": {"stderr": {"class": "logging.StreamHandler", "formatter": "line"}},
    "root": {"handlers": ["stderr"], "level": "WARNING"},
}
