"""Upload to table: read in this process when small, in a child process of the worker when large; kept all at once."""

from __future__ import annotations

import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path
from typing import Any

import orjson
from django.conf import settings
from django.db import transaction

from echelle.errors import InputError
from echelle.tables.column_summary import ColumnSummary
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.reading.read import read_bytes
from echelle.tables.reading.size_limits import ReadingLimits
from echelle.tables.reading.subprocess_reader import meta_of
from echelle.tables.storage.arrow_store import pack_column
from server.api.faults import fault_of
from server.tables.models import PIECE, DataTable, RawFile, ReadingJob, StoredColumn
from server.tables.services.preparation import carry_over

CHILD_MEGABYTES = 6_000
CHILD_SECONDS = 600
Kept = Callable[[ReadingJob, DataTable, Sequence[ColumnSummary]], None]


class Stopped(Exception):
    """The person stopped the reading."""


def read_job(job: ReadingJob, kept: Kept, apart: bool) -> None:
    """Read the job's upload and keep the table; ``kept`` runs in the same transaction.

    A file that cannot be read leaves the job refused, with the fault, and nothing else.
    """
    job.state, job.progress = job.State.READING, 0.1
    job.save(update_fields=["state", "progress"])
    try:
        meta, columns = _read_apart(job) if apart else _read_here(job)
        job.refresh_from_db(fields=["state"])
        if job.state == job.State.STOPPED:
            raise Stopped
        _keep(job, meta, columns, kept)
    except Stopped:
        return
    except InputError as error:
        job.state, job.fault = job.State.REFUSED, fault_of(error).model_dump()
        job.save(update_fields=["state", "fault"])
    finally:
        job.path.unlink(missing_ok=True)


def _read_here(job: ReadingJob) -> tuple[dict[str, Any], list[bytes]]:
    told = ReadingOptions.model_validate(job.told)
    reading = read_bytes(job.path.read_bytes(), told, ReadingLimits(megabytes=settings.UPLOAD_MEGABYTES))
    return meta_of(reading), [pack_column(column) for column in reading.table.columns]


def _read_apart(job: ReadingJob) -> tuple[dict[str, Any], list[bytes]]:
    folder = Path(tempfile.mkdtemp(dir=settings.UPLOADS))
    words = [
        sys.executable,
        "-m",
        "echelle.tables.reading.subprocess_reader",
        str(job.path),
        str(folder),
        str(CHILD_MEGABYTES),
        str(CHILD_SECONDS),
    ]
    words.append(orjson.dumps(job.told).decode())
    try:
        child = subprocess.Popen(words, cwd=settings.ROOT)  # noqa: S603
        _watch(job, child)
        if (folder / "fault.json").exists():
            raise InputError(**orjson.loads((folder / "fault.json").read_bytes()))
        if not (folder / "meta.json").exists():
            raise InputError("the file took more time or memory than a reading may have", remedy="Bring a part of it.")
        meta = orjson.loads((folder / "meta.json").read_bytes())
        return meta, [(folder / f"{place}.arrow").read_bytes() for place in range(len(meta["columns"]))]
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def _watch(job: ReadingJob, child: subprocess.Popen[bytes]) -> None:
    """Wait for the child; kill it when the person stops the job."""
    while child.poll() is None:
        time.sleep(0.2)
        job.refresh_from_db(fields=["state"])
        if job.state == job.State.STOPPED:
            child.kill()
            child.wait()
            raise Stopped
        # Nobody knows how far a parse is; the bar creeps towards nine tenths.
        job.progress += (0.9 - job.progress) * 0.08
        job.save(update_fields=["progress"])


@transaction.atomic
def _keep(job: ReadingJob, meta: dict[str, Any], columns: list[bytes], kept: Kept) -> None:
    summaries = [ColumnSummary.model_validate(column) for column in meta["columns"]]
    raw = RawFile.objects.filter(sha256=job.sha256, datatable__study=job.study_id).first()
    if raw is None:
        raw = RawFile.objects.create(sha256=job.sha256, name=job.name, size=job.size)
        raw.keep(_pieces(job.path))
    table = DataTable.objects.create(
        study_id=job.study_id, name=job.name, raw=raw, told=job.told, replaces=job.replaces, **meta
    )
    if job.replaces is not None:
        carry_over(job.replaces, table, job.person.shown_name)
    StoredColumn.objects.bulk_create(StoredColumn(table=table, place=i, buffer=data) for i, data in enumerate(columns))
    job.table, job.state, job.progress = table, job.State.DONE, 1.0
    job.save()
    kept(job, table, summaries)


def _pieces(path: Path) -> Iterator[bytes]:
    with path.open("rb") as file:
        while piece := file.read(PIECE):
            yield piece
