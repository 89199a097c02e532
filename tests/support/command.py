"""The command line, run in this process: its words, output and exit code are those of a process of its own."""

from __future__ import annotations

import contextlib
import io
import os
import sys
from pathlib import Path
from subprocess import CompletedProcess
from unittest import mock

from echelle.command_line.main import main

ROOT = Path(__file__).resolve().parents[2]


def run(*words: object, cwd: Path = ROOT, check: bool = False) -> CompletedProcess[bytes]:
    """Run ``echelle`` with words. Raises AssertionError, with what it said, where ``check`` is set and it refuses."""
    said, faults = io.BytesIO(), io.BytesIO()
    out, err = (io.TextIOWrapper(stream, encoding="utf-8", write_through=True) for stream in (said, faults))
    here, code = Path.cwd(), 0
    os.chdir(cwd)
    try:
        with (
            mock.patch.object(sys, "argv", ["echelle", *map(str, words)]),
            contextlib.redirect_stdout(out), contextlib.redirect_stderr(err),
        ):  # fmt: skip
            main()
    except SystemExit as ended:
        code = int(ended.code or 0)
    finally:
        os.chdir(here)
    assert not check or code == 0, faults.getvalue()
    return CompletedProcess([*map(str, words)], code, said.getvalue(), faults.getvalue())
