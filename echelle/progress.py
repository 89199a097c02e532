"""A sign of life of long work, for whoever shows how far it is and may stop it."""

from __future__ import annotations

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


def step() -> None:
    """A piece of work begins."""
    told = _step.get()
    if told is not None:
        told()
