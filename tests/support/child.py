"""Work for child processes in tests."""

from __future__ import annotations

from pathlib import Path


def for_ever(folder: Path) -> None:
    """Computes and never ends."""
    while True:
        folder.exists()
