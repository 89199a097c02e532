"""How much is done at once, and how often somebody may ask: so that nobody's work starves another's."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from typing import TypeVar

from cachetools import TTLCache

from server.api.faults import Busy

T = TypeVar("T")
WAIT_SECONDS = 12.0
_WINDOW = 10.0


class Pool:
    """So many pieces of one kind of work at once in this process; others wait a while for their turn."""

    def __init__(self, at_once: int) -> None:
        self._turns = threading.BoundedSemaphore(at_once)

    @contextmanager
    def turn(self) -> Iterator[None]:
        """Work inside. Raises Busy where no turn comes in time."""
        if not self._turns.acquire(timeout=WAIT_SECONDS):
            raise Busy
        try:
            yield
        finally:
            self._turns.release()


# Of a process's six threads: what draws, what makes files, and the rest for everything that is quick.
FIGURES, FILES = Pool(3), Pool(1)


# What of an answer is made within this time is given; the rest is asked for again.
ANSWER_SECONDS = 6.0


def in_time(makers: Iterable[Callable[[], T]], share: float = 1.0) -> Iterator[T]:
    """What is made one after the other until an answer took a share of its time: the first at least."""
    ends = time.monotonic() + share * ANSWER_SECONDS
    for make in makers:
        yield make()
        if time.monotonic() > ends:
            return


class Rate:
    """So many requests of one person or link within ten seconds, by process."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._asked: TTLCache[str, list[float]] = TTLCache(10_000, ttl=_WINDOW * 2)
        self._lock = threading.Lock()

    def count(self, who: str) -> None:
        """Raises Busy for one too many."""
        now = time.monotonic()
        with self._lock:
            asked = [at for at in self._asked.get(who, []) if at > now - _WINDOW]
            self._asked[who] = [*asked, now][-self._most - 1 :]
        if len(asked) >= self._most:
            raise Busy


# A drag asks for some forty figures a second, one after the other.
PERSON, LINK = Rate(800), Rate(60)
