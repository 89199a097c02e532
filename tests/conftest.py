"""What all tests share."""

from __future__ import annotations

import os
from collections.abc import Iterator
from pathlib import Path

import pytest
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


@pytest.fixture(autouse=True)
def own_uploads(settings, tmp_path: Path) -> Iterator[None]:
    """Uploads of tests stay out of the store."""
    settings.UPLOADS = tmp_path / "uploads"
    yield
