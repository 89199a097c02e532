"""What all tests share."""

from __future__ import annotations

import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from django.contrib.contenttypes.management import create_contenttypes
from django.db import connection
from django.db.models.signals import post_migrate
from hypothesis import HealthCheck, settings

# Playwright keeps an event loop on the test's thread; the database is used from there too.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
# EXAMPLES=2000 ./test tests/numbers looks further; continuous integration tries the same examples each time.
settings.register_profile(
    "echelle",
    deadline=None,
    max_examples=int(os.environ.get("EXAMPLES", "100")),
    derandomize=bool(os.environ.get("CI")),
    suppress_health_check=[HealthCheck.too_slow],
)
settings.load_profile("echelle")


@pytest.fixture(scope="session")
def django_db_setup(django_db_setup, django_db_blocker) -> None:
    """Tests that commit are undone by emptying every table, which the record of access refuses everywhere else."""
    with django_db_blocker.unblock(), connection.cursor() as cursor:
        cursor.execute("DROP TRIGGER IF EXISTS record_stays_whole ON records_recordline")
    # Django's own permissions, which nothing here asks for, are not made anew after each of them.
    post_migrate.disconnect(dispatch_uid="django.contrib.auth.management.create_permissions")
    post_migrate.disconnect(create_contenttypes)


@pytest.fixture(autouse=True)
def own_uploads(settings, tmp_path: Path) -> Iterator[None]:
    """Uploads of tests stay out of the store; their passwords are no secrets that would need a slow hash."""
    settings.UPLOADS = tmp_path / "uploads"
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher", *settings.PASSWORD_HASHERS]
    yield
