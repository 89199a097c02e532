"""Serves Echelle: some processes over one socket. Each takes requests in without a thread, however slowly they come, and
answers them with a few; one that dies, or that a request holds too long, is replaced by another.

python -m server.serve PORT
"""

from __future__ import annotations

import logging
import os
import signal
import socket
import sys
import threading
import time
from collections.abc import Callable, Iterable, Iterator
from types import FrameType
from typing import Any

PROCESSES, THREADS = 2, 6
# How often the socket is tried, a tenth of a second apart.
PATIENCE = 100
MOST_CONNECTIONS = 3_000
MOST_SECONDS = 20.0
# How long other requests of a process may go on before one that takes too long ends it.
GRACE_SECONDS = 3.0
logger = logging.getLogger("server.serve")
App = Callable[[dict[str, Any], Callable[..., Any]], Iterable[bytes]]


class Watched:
    """The application, with the time of the last sign of life of each request."""

    def __init__(self, application: App) -> None:
        self._application = application
        self._seen: dict[object, float] = {}

    def __call__(self, environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
        """The answer."""
        key = object()
        self._seen[key] = time.monotonic()
        try:
            result = self._application(environ, start_response)
        except BaseException:
            del self._seen[key]
            raise
        return _Answer(result, self._seen, key)

    def ages(self) -> list[float]:
        """For how many seconds each request has given no sign."""
        now = time.monotonic()
        return [now - seen for seen in list(self._seen.values())]


class _Answer:
    """What is sent: each part is a sign of life, its end is the request's."""

    def __init__(self, parts: Iterable[bytes], seen: dict[object, float], key: object) -> None:
        self._parts, self._seen, self._key = parts, seen, key

    def __iter__(self) -> Iterator[bytes]:
        for part in self._parts:
            self._seen[self._key] = time.monotonic()
            yield part

    def close(self) -> None:
        """Nobody reads on."""
        try:
            if (close := getattr(self._parts, "close", None)) is not None:
                close()
        finally:
            self._seen.pop(self._key, None)


def watch(watched: Watched, most: float = MOST_SECONDS, grace: float = GRACE_SECONDS) -> None:
    """Return when a request took too long, and the others are answered or had their time."""
    while max(watched.ages(), default=0.0) < most:
        time.sleep(0.25)
    ends = time.monotonic() + grace
    while any(age < most for age in watched.ages()) and time.monotonic() < ends:
        time.sleep(0.05)


def _process(listener: socket.socket) -> None:
    """One of the processes, until it is told to stop."""
    signal.signal(signal.SIGTERM, _stop)
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    # Before anything else, which takes seconds.
    threading.Thread(target=_follow, args=(os.getppid(),), daemon=True).start()
    import waitress
    from django.conf import settings

    from server.wsgi import application

    watched = Watched(application)

    def end() -> None:
        watch(watched)
        logger.error("a request took longer than %s seconds; its process is replaced", MOST_SECONDS)
        os._exit(3)

    threading.Thread(target=end, daemon=True).start()
    proxy = settings.TRUSTED_PROXY
    behind = {"trusted_proxy": proxy, "trusted_proxy_headers": "x-forwarded-for x-forwarded-proto"} if proxy else {}
    waitress.create_server(
        watched, sockets=[listener], threads=THREADS, connection_limit=MOST_CONNECTIONS, asyncore_use_poll=True, ident=None,
        channel_timeout=60, max_request_body_size=int(settings.UPLOAD_MEGABYTES * 1e6) + 1_000_000, **behind,
    ).run()  # fmt: skip


def _follow(parent: int) -> None:
    """End with the parent, whatever ended it: who comes next needs the socket."""
    while os.getppid() == parent:
        time.sleep(0.25)
    os._exit(4)


def _stop(number: int, frame: FrameType | None) -> None:
    raise SystemExit(0)


def _fork(listener: socket.socket) -> int:
    pid = os.fork()
    if pid:
        return pid
    code = 1
    try:
        _process(listener)
        code = 0
    except SystemExit:
        code = 0
    except BaseException:
        logging.basicConfig()
        logger.exception("a web process ended")
    os._exit(code)


def listen(port: int) -> socket.socket:
    """The socket, as soon as the processes of one that was killed let it go. Raises OSError where somebody else has it."""
    for patience in range(PATIENCE, -1, -1):
        listener = socket.socket()
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listener.bind(("127.0.0.1", port))
        except OSError:
            listener.close()
            if not patience:
                raise
            time.sleep(0.1)
        else:
            break
    listener.listen(1024)
    listener.setblocking(False)
    return listener


def main(port: int) -> None:
    """Serve on the loopback until SIGTERM."""
    listener = listen(port)
    signal.signal(signal.SIGTERM, _stop)
    children = {_fork(listener) for _ in range(PROCESSES)}
    try:
        while True:
            pid, _ = os.wait()
            if pid in children:
                children.discard(pid)
                time.sleep(0.2)
                children.add(_fork(listener))
    finally:
        for child in children:
            os.kill(child, signal.SIGTERM)
        for child in children:
            os.waitpid(child, 0)


if __name__ == "__main__":
    main(int(sys.argv[1]))
