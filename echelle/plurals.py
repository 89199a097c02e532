"""Counts in words."""

from __future__ import annotations


def plural(count: int, one: str) -> str:
    """ "1 row", "2 rows"."""
    return f"{count} {one if count == 1 else one + 's'}"
