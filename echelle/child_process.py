"""Work on files of unknown origin in a process of its own, with limits of memory, time and output."""

from __future__ import annotations

import multiprocessing
import resource
import signal
import time
from collections.abc import Callable
from dataclasses import dataclass
from multiprocessing.process import BaseProcess
from pathlib import Path
from typing import Any

import orjson

from echelle.errors import InputError

# The children begin as copies of one process that has these modules at hand, so that a small file need not wait for them.
_HELD = ["echelle.tables.reading.subprocess_reader", "echelle.bundles.reader"]
_FAULT = "fault.json"
_STEP = 0.02


@dataclass(frozen=True)
class ChildLimits:
    """What one child may take: memory, processor time, and what it writes."""

    megabytes: float
    seconds: int
    output_megabytes: float = 4_000


def run_child(
    work: Callable[..., None],
    folder: Path,
    words: tuple[Any, ...],
    limits: ChildLimits,
    watch: Callable[[], None] = lambda: None,
) -> None:
    """Let ``work(folder, *words)`` write its results into the folder, in a child process. ``watch`` is called while it runs and
    stops it by raising.

    Raises InputError as the work does, and for work that took too much or whose file broke it.
    """
    context = multiprocessing.get_context("forkserver")
    context.set_forkserver_preload(_HELD)
    child = context.Process(target=_child, args=(work, folder, words, limits), daemon=True)
    child.start()
    try:
        _wait(child, limits, watch)
    finally:
        if child.is_alive():
            child.kill()
            child.join()
    if (folder / _FAULT).exists():
        raise InputError(**orjson.loads((folder / _FAULT).read_bytes()))
    if child.exitcode != 0:
        raise InputError(_reason(child.exitcode, limits), remedy="Bring a part of it, or save it anew and bring that.")


def _wait(child: BaseProcess, limits: ChildLimits, watch: Callable[[], None]) -> None:
    """Until the child ends, or has stood far longer than it may compute."""
    ends, step = time.monotonic() + 3 * limits.seconds + 10, _STEP
    while child.is_alive() and time.monotonic() < ends:
        child.join(step)
        step = min(step * 1.5, 0.3)
        watch()


def _reason(code: int | None, limits: ChildLimits) -> str:
    if code in (-signal.SIGXCPU, -signal.SIGKILL):
        return f"the file takes longer to read than the {limits.seconds} seconds allowed"
    return f"the file is damaged, or needs more than the {limits.megabytes:,.0f} MB of memory that a reading may have"


def _child(work: Callable[..., None], folder: Path, words: tuple[Any, ...], limits: ChildLimits) -> None:
    """What the child does: it takes its limits, works, and writes down why it could not."""
    memory, output = int(limits.megabytes * 1e6), int(limits.output_megabytes * 1e6)
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    resource.setrlimit(resource.RLIMIT_DATA, (memory, memory))
    resource.setrlimit(resource.RLIMIT_CPU, (limits.seconds, limits.seconds))
    resource.setrlimit(resource.RLIMIT_FSIZE, (output, output))
    try:
        work(folder, *words)
    except InputError as error:
        folder.joinpath(_FAULT).write_bytes(orjson.dumps(vars(error)))
    except MemoryError:
        fault = {"what": _reason(None, limits), "where": "", "remedy": "Bring fewer columns or rows."}
        folder.joinpath(_FAULT).write_bytes(orjson.dumps(fault))
