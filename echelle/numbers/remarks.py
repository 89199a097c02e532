"""What is to be said of a number, as a code: the catalogue has the words."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Remark:
    """A code ("needs-two-pairs"), which the catalogue words as the message "remark-" and the code, and its values by name."""

    code: str
    values: tuple[tuple[str, str | int], ...] = ()


def remark(code: str, **values: str | int) -> Remark:
    """A remark with its values."""
    return Remark(code, tuple(values.items()))
