"""A source to a table of a study: its files are listed and a sample of its rows is read in a child process."""

from __future__ import annotations

import hashlib

import orjson

from echelle.child_process import run_child
from echelle.errors import InputError
from echelle.far.record import read_source_into
from server.api.faults import fault_of
from server.comparisons.services.arrivals import table_came
from server.tables.models import ReadingJob
from server.tables.services.reading import LONG, ReadFile, folder_apart, keep_once, lay_out


def read_source(job: ReadingJob) -> None:
    """List the job's source and keep the table; one that cannot be read leaves the job refused, with the fault."""
    assert job.source is not None, "only jobs of sources come here"
    job.state, job.progress = job.State.READING, 0.3
    job.save(update_fields=["state", "progress"])
    try:
        with folder_apart() as folder:
            run_child(read_source_into, folder, (job.source.address,), LONG)
            meta = orjson.loads((folder / "meta.json").read_bytes()) | {"source": job.source}
            read = ReadFile(meta, [(folder / f"{place}.arrow").read_bytes() for place in range(len(meta["columns"]))])
            record = (folder / "source.json").read_bytes()
        job.sha256, job.size = hashlib.sha256(record).hexdigest(), len(record)
        lay_out(job, [record])
        keep_once(job, read, table_came)
    except InputError as error:
        # Where a source lies is the administrator's matter.
        told = InputError(error.what, where="" if error.where == job.source.address else error.where, remedy=error.remedy)
        job.state, job.fault = job.State.REFUSED, fault_of(told).model_dump()
        job.save(update_fields=["state", "fault"])
    job.path.unlink(missing_ok=True)
