"""The server's processes: a request that takes too long is seen, others are let go on."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterable
from typing import Any

from server.serve import Watched, listen, watch


def started(status: str, headers: list[tuple[str, str]]) -> None:
    return None


def test_a_request_counts_until_its_answer_is_closed() -> None:
    watched = Watched(lambda environ, start: iter([b"a", b"b"]))
    answer = watched({}, started)
    assert len(watched.ages()) == 1 and list(answer) == [b"a", b"b"] and len(watched.ages()) == 1
    answer.close()  # type: ignore[attr-defined]
    assert watched.ages() == []


def test_each_part_of_a_stream_is_a_sign_of_life() -> None:
    watched = Watched(lambda environ, start: iter([b"a", b"b"]))
    answer = iter(watched({}, started))
    time.sleep(0.2)
    assert watched.ages()[0] >= 0.2
    next(answer)
    assert watched.ages()[0] < 0.2


def test_one_that_fails_is_over() -> None:
    def fails(environ: dict[str, Any], start: Callable[..., Any]) -> Iterable[bytes]:
        raise RuntimeError

    watched = Watched(fails)
    try:
        watched({}, started)
    except RuntimeError:
        assert watched.ages() == []


def test_the_watch_ends_with_the_request_that_takes_too_long_after_the_others() -> None:
    release = threading.Event()

    def waits(environ: dict[str, Any], start: Callable[..., Any]) -> Iterable[bytes]:
        release.wait(5)
        return []

    watched = Watched(waits)
    held = threading.Thread(target=lambda: watched({}, started))
    held.start()
    began = time.monotonic()
    watch(watched, most=0.3, grace=0.2)
    assert 0.3 <= time.monotonic() - began < 3
    release.set()
    held.join()


def test_the_socket_is_waited_for_while_the_processes_before_let_it_go() -> None:
    holder = listen(0)
    port = holder.getsockname()[1]
    threading.Timer(0.4, holder.close).start()
    taken = listen(port)
    assert taken.getsockname()[1] == port
    taken.close()
