"""What a child process read of a file is the same each time: tests that bring the same file again need no other child."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from copy import deepcopy
from pathlib import Path
from typing import Any

import orjson
import pytest
from django.conf import settings

from echelle.child_process import ChildLimits
from server.tables.services import reading

_MOST = 300
_READ: dict[tuple[str, bytes, float], reading.ReadFile] = {}


@pytest.fixture(autouse=True)
def read_once(monkeypatch: pytest.MonkeyPatch) -> None:
    """Keep what quick readings gave, for as long as the tests run."""
    apart = reading.read_apart

    def read(
        path: Path, told: dict[str, Any], limits: ChildLimits = reading.QUICK, watch: Callable[[], None] = lambda: None
    ) -> reading.ReadFile:
        if limits is not reading.QUICK:
            return apart(path, told, limits, watch)
        key = (hashlib.sha256(path.read_bytes()).hexdigest(), orjson.dumps(told), settings.UPLOAD_MEGABYTES)
        if key not in _READ:
            if len(_READ) >= _MOST:
                _READ.clear()
            _READ[key] = apart(path, told, limits, watch)
        return deepcopy(_READ[key])

    monkeypatch.setattr(reading, "read_apart", read)
