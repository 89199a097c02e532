"""What all tests share."""

from __future__ import annotations

import os
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings

# Playwright keeps an event loop on the test's thread; the database is used from there too.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
settings.register_profile("echelle", deadline=None)
settings.load_profile("echelle")


@pytest.fixture(autouse=True)
def own_uploads(settings, tmp_path: Path) -> Iterator[None]:
    """Uploads of tests stay out of the store."""
    settings.UPLOADS = tmp_path / "uploads"
    yield
