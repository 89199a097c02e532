"""Settings of Django; what differs between machines is in environment.py."""

from __future__ import annotations

import re
from datetime import timedelta
from typing import get_args

from csp.constants import NONCE, NONE, SELF

from echelle.catalogue.catalogue import Language
from echelle.figures.settings import SettingKind
from echelle.numbers.intervals import Centre
from echelle.numbers.rounding import DecimalMark
from echelle.recipes.layers.base import DifferenceOf, Stands
from echelle.recipes.roles import GroupsPlaced, MeasuresPlaced, SubgroupsPlaced
from echelle.recipes.style import AxisScale, Runs
from echelle.scene.models import Role
from echelle.tables.date_parts import Part
from echelle.tables.table import Kind
from server.environment import ROOT, read_environment
from server.studies.bodies import RoleName

ENVIRONMENT = read_environment()
STORE = ENVIRONMENT.store
DEV = ENVIRONMENT.dev
DEBUG = False
SECRET_KEY = ENVIRONMENT.secret_key
ALLOWED_HOSTS = ENVIRONMENT.hosts.split(",")
CSRF_TRUSTED_ORIGINS = ["http://127.0.0.1:5173"] if DEV else []

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.postgres",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "axes",
    "csp",
    "rest_framework",
    "drf_spectacular",
    "procrastinate.contrib.django",
    "server.records",
    "server.accounts",
    "server.studies",
    "server.tables",
    "server.comparisons",
    "server.folios",
    "server.shares",
    "server.file_jobs",
    "server.uploads",
    "server.sources",
    "server.home",
    "server.shell",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "server.api.middleware.RefuseUnstorable",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "server.accounts.middleware.SignInRequired",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "csp.middleware.CSPMiddleware",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "server.urls"
WSGI_APPLICATION = "server.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": ["django.template.context_processors.request", "csp.context_processors.nonce"],
        },
    }
]
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": "echelle",
        "USER": "echelle",
        "PASSWORD": ENVIRONMENT.db_password,
        "HOST": "127.0.0.1",
        "PORT": ENVIRONMENT.db_port,
        "CONN_MAX_AGE": 600,
        "CONN_HEALTH_CHECKS": True,
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "accounts.Person"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 12}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
]
LOGIN_URL = "sign-in"
LOGIN_REDIRECT_URL = "/"
AXES_FAILURE_LIMIT = 6
AXES_COOLOFF_TIME = timedelta(minutes=10)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_LOCKOUT_TEMPLATE = "accounts/locked.html"
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 14 * 24 * 3600
SECURE_REFERRER_POLICY = "same-origin"
SECURE_CONTENT_TYPE_NOSNIFF = True
X_FRAME_OPTIONS = "DENY"
_DEV_SERVER = ["http://127.0.0.1:5173", "ws://127.0.0.1:5173"] if DEV else []
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF, NONCE, *_DEV_SERVER],
        "style-src": [SELF, "'unsafe-inline'", *_DEV_SERVER] if DEV else [SELF, NONCE],
        "font-src": [SELF, *_DEV_SERVER],
        "img-src": [SELF, "data:", "blob:"],
        "connect-src": [SELF, *_DEV_SERVER],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}

STATIC_URL = "/static/"
STATIC_ROOT = STORE / "static"
STATICFILES_DIRS = [path for path in (ROOT / "web" / "dist",) if path.is_dir()]
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.InMemoryStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"},
}


def WHITENOISE_IMMUTABLE_FILE_TEST(path: str, url: str) -> bool:
    """The build puts a hash of the content into every name under assets/."""
    return re.search(r"/assets/.+-[\w-]{8}\.", url) is not None


REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": ["rest_framework.authentication.SessionAuthentication"],
    "DEFAULT_PERMISSION_CLASSES": ["rest_framework.permissions.IsAuthenticated"],
    "DEFAULT_RENDERER_CLASSES": ["server.api.rendering.ModelRenderer"],
    "DEFAULT_PARSER_CLASSES": ["server.api.parsers.StorableJSON"],
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "server.api.faults.answer",
    "UNAUTHENTICATED_USER": None,
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Echelle",
    "VERSION": "1",
    "DESCRIPTION": "Studies, tables, comparisons, scenes and exports.",
    "SERVE_INCLUDE_SCHEMA": False,
    "OAS_VERSION": "3.1.1",
    "ENUM_NAME_OVERRIDES": {
        "AxisScale": list(get_args(AxisScale)),
        "Centre": list(get_args(Centre)),
        "ColumnKind": list(get_args(Kind)),
        "DifferenceOf": list(get_args(DifferenceOf)),
        "DatePart": list(get_args(Part)),
        "DecimalMark": list(get_args(DecimalMark)),
        "GroupsPlaced": list(get_args(GroupsPlaced)),
        "Language": list(get_args(Language)),
        "MarkRole": list(get_args(Role)),
        "SettingKind": list(get_args(SettingKind)),
        "SubgroupsPlaced": list(get_args(SubgroupsPlaced)),
        "Stands": list(get_args(Stands)),
        "StudyRole": list(get_args(RoleName)),
        "MeasuresPlaced": list(get_args(MeasuresPlaced)),
        "LaneRuns": list(get_args(Runs)),
    },
}

EMAIL_BACKEND = f"django.core.mail.backends.{ENVIRONMENT.mail_by}.EmailBackend"
EMAIL_FILE_PATH = STORE / "mail"
EMAIL_HOST, EMAIL_PORT = ENVIRONMENT.mail_host, ENVIRONMENT.mail_port
EMAIL_HOST_USER, EMAIL_HOST_PASSWORD = ENVIRONMENT.mail_user, ENVIRONMENT.mail_password
EMAIL_USE_TLS = bool(ENVIRONMENT.mail_user)
EMAIL_TIMEOUT = 10
DEFAULT_FROM_EMAIL = ENVIRONMENT.mail_from

LANGUAGE_CODE = "en-gb"
USE_I18N = False
TIME_ZONE = "UTC"
USE_TZ = True

UPLOADS = STORE / "uploads"
FILE_JOBS = STORE / "file-jobs"
UPLOAD_MEGABYTES = ENVIRONMENT.upload_megabytes
JOB_ABOVE_MEGABYTES = ENVIRONMENT.job_above_megabytes
DATA_UPLOAD_MAX_MEMORY_SIZE = 4_000_000
# Of a figure's points a screen gets about so many; numbers and exports are of all.
MOST_SCREEN_POINTS = 120_000
COUNT_WORKERS = ENVIRONMENT.count_workers
TRUSTED_PROXY = ENVIRONMENT.trusted_proxy
CACHE_MEGABYTES = ENVIRONMENT.cache_megabytes

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"line": {"()": "server.log_lines.LogLines", "format": "%(asctime)s %(levelname)s %(name)s %(message)s"}},
    "handlers": {"out": {"class": "logging.StreamHandler", "formatter": "line"}},
    "root": {"handlers": ["out"], "level": "WARNING"},
}
