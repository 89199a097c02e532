"""Upload to table: every file is read in a child process; what came of it is kept in one transaction, which does not wait."""

from __future__ import annotations

import shutil
import tempfile
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import orjson
from django.conf import settings
from django.db import transaction

from echelle.child_process import ChildLimits, run_child
from echelle.errors import InputError
from echelle.far.counted_file import read_counted_into
from echelle.tables.column_summary import ColumnSummary
from echelle.tables.reading.subprocess_reader import read_into
from server.api.faults import fault_of
from server.api.limits import Pool
from server.studies.models import Study
from server.tables.models import PIECE, DataTable, RawFile, ReadingJob, StoredColumn
from server.tables.services.preparation import carry_over

# While a person waits for the answer, and in the worker.
QUICK, LONG = ChildLimits(megabytes=2_000, seconds=15), ChildLimits(megabytes=6_000, seconds=600)
Kept = Callable[[ReadingJob, DataTable, Sequence[ColumnSummary]], None]
quick_pool = Pool(2)


class Stopped(Exception):
    """The person stopped the reading."""


@dataclass(frozen=True)
class ReadFile:
    """What a child made of a file: the table's record, and its columns as they are stored."""

    meta: dict[str, Any]
    columns: list[bytes]


@contextmanager
def folder_apart() -> Iterator[Path]:
    """A folder for what a child process writes, gone at the end."""
    settings.UPLOADS.mkdir(parents=True, exist_ok=True)
    folder = Path(tempfile.mkdtemp(dir=settings.UPLOADS))
    try:
        yield folder
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def read_apart(
    path: Path, told: dict[str, Any], limits: ChildLimits = QUICK, watch: Callable[[], None] = lambda: None
) -> ReadFile:
    """Read a file in a child process. Raises InputError as reading does."""
    with folder_apart() as folder:
        run_child(read_into, folder, (path, told, float(settings.UPLOAD_MEGABYTES)), limits, watch)
        return _laid_down(folder)


def read_pieces(pieces: Iterable[bytes], told: dict[str, Any]) -> ReadFile:
    """Read bytes that are kept elsewhere, such as a raw file or a part of a bundle, while a person waits."""
    with folder_apart() as folder:
        path = folder / "file"
        with path.open("wb") as file:
            file.writelines(pieces)
        return read_quickly(path, told)


def read_counted(data: bytes) -> tuple[ReadFile, bytes]:
    """What a bundle holds of a far table: the table's record with its sample, and the counts written anew. Raises InputError
    for what is no file of counts.
    """
    with quick_pool.turn(), folder_apart() as folder:
        path = folder / "file"
        path.write_bytes(data)
        run_child(read_counted_into, folder, (path,), QUICK)
        return _laid_down(folder), (folder / "again").read_bytes()


def _laid_down(folder: Path) -> ReadFile:
    meta = orjson.loads((folder / "meta.json").read_bytes())
    return ReadFile(meta, [(folder / f"{place}.arrow").read_bytes() for place in range(len(meta["columns"]))])


def read_quickly(path: Path, told: dict[str, Any]) -> ReadFile:
    """Read while a person waits; few at once, so that other requests have the machine too. Raises Busy where no turn comes."""
    with quick_pool.turn():
        return read_apart(path, told)


def read_job(job: ReadingJob, kept: Kept) -> None:
    """Read the job's upload and keep the table; ``kept`` runs in the same transaction.

    A file that cannot be read leaves the job refused, with the fault, and nothing else.
    """
    job.state, job.progress = job.State.READING, 0.1
    job.save(update_fields=["state", "progress"])
    try:
        read = read_apart(job.path, job.told, LONG, lambda: _report(job))
        _report(job)
        keep_once(job, read, kept)
    except Stopped:
        pass
    except InputError as error:
        job.state, job.fault = job.State.REFUSED, fault_of(error).model_dump()
        job.save(update_fields=["state", "fault"])
    # Not where the database went away: then it is read again.
    job.path.unlink(missing_ok=True)


def _report(job: ReadingJob) -> None:
    """Say how far it is. Raises Stopped when the person stopped the job, or took its study away."""
    # Nobody knows how far a parse is; the bar creeps towards nine tenths.
    job.progress += (0.9 - job.progress) * 0.08
    if not ReadingJob.objects.filter(pk=job.pk, state=job.State.READING).update(progress=job.progress):
        raise Stopped


def held_table(job: ReadingJob) -> DataTable | None:
    """The table of the same file, read as this one would be, in the same study; None where it is new. One that replaces a table
    is held where it is that table again.
    """
    same = DataTable.objects.filter(study=job.study_id, raw__sha256=job.sha256, told=job.told, replaced_by=None)
    return (same if job.replaces is None else same.filter(pk=job.replaces.pk)).first()


@transaction.atomic
def keep_once(job: ReadingJob, read: ReadFile, kept: Kept) -> bool:
    """Keep what was read, unless the study holds it already; whether it does. Raises InputError as :func:`keep_table` does."""
    _lock_study(job)
    held = held_table(job)
    if held is None:
        keep_table(job, read, kept)
        return False
    job.table, job.state, job.progress = held, job.State.DONE, 1.0
    job.save()
    return True


def _lock_study(job: ReadingJob) -> None:
    """Until the transaction ends, nobody else brings a table into the job's study."""
    Study.objects.select_for_update().get(pk=job.study_id)


@transaction.atomic
def keep_table(job: ReadingJob, read: ReadFile, kept: Kept) -> DataTable:
    """Keep what was read, all of it or nothing. Raises InputError where a newer table took the place of the replaced one."""
    _lock_study(job)
    if job.replaces is not None and job.replaces.replaced_by.exists():
        raise InputError("a newer file of this table is here already", remedy="Open that one and replace it.")
    summaries = [ColumnSummary.model_validate(column) for column in read.meta["columns"]]
    raw = RawFile.objects.filter(sha256=job.sha256, datatable__study=job.study_id).first()
    if raw is None:
        raw = RawFile.objects.create(sha256=job.sha256, name=job.name, size=job.size)
        raw.keep(_pieces(job.path))
    table = DataTable.objects.create(
        study_id=job.study_id,
        name=job.name,
        raw=raw,
        told=job.told,
        replaces=job.replaces,
        by=job.person.shown_name,
        **read.meta,
    )
    if job.replaces is not None:
        carry_over(job.replaces, table, job.person.shown_name)
    StoredColumn.objects.bulk_create(StoredColumn(table=table, place=i, buffer=data) for i, data in enumerate(read.columns))
    job.table, job.state, job.progress = table, job.State.DONE, 1.0
    job.save()
    kept(job, table, summaries)
    return table


def lay_out(job: ReadingJob, pieces: Iterable[bytes]) -> None:
    """Lay bytes where the job's upload would lie."""
    settings.UPLOADS.mkdir(parents=True, exist_ok=True)
    with job.path.open("wb") as file:
        file.writelines(pieces)


def keep_raw(job: ReadingJob, pieces: Iterable[bytes], read: ReadFile) -> DataTable:
    """Keep bytes that nobody uploaded, such as a part of a bundle."""
    try:
        lay_out(job, pieces)
        return keep_table(job, read, lambda *_: None)
    finally:
        job.path.unlink(missing_ok=True)


def _pieces(path: Path) -> Iterator[bytes]:
    with path.open("rb") as file:
        while piece := file.read(PIECE):
            yield piece
