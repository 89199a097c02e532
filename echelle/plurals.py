"""Counts in words."""

from __future__ import annotations

from collections.abc import Sequence


def plural(count: int, one: str) -> str:
    """ "1 row", "2 rows"."""
    return f"{count} {one if count == 1 else one + 's'}"


def list_words(names: Sequence[str]) -> str:
    """The first four of many names."""
    return ", ".join(names[:4]) + (f" and {len(names) - 4} more" if len(names) > 4 else "")
