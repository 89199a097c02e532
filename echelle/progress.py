"""A sign of life of long work, for whoever shows how far it is and may stop it."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

_step: ContextVar[Callable[[], None] | None] = ContextVar("step", default=None)


@contextmanager
def stepwise(step: Callable[[], None]) -> Iterator[None]:
    """Call ``step`` before each piece of the work inside: what it raises ends the work."""
    token = _step.set(step)
    try:
        yield
    finally:
        _step.reset(token)


def every(seconds: float, look: Callable[[], None]) -> Callable[[], None]:
    """A step that looks once in so many seconds at most."""
    looked = time.monotonic()

    def look_again() -> None:
        nonlocal looked
        now = time.monotonic()
        if now >= looked + seconds:
            looked = now
            look()

    return look_again


def step() -> None:
    """A piece of work begins."""
    told = _step.get()
    if told is not None:
        told()
