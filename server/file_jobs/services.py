"""How files are made in the worker, step by step, so that they can be stopped."""

from __future__ import annotations

import logging
import time
import uuid
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from django.core.exceptions import PermissionDenied
from django.db import InterfaceError, OperationalError
from django.http import Http404

from echelle.batch import Batch, BatchSpec, figures_of, file_names
from echelle.bundles.zip_file import FIRST, zip_files
from echelle.drawing.fonts.typesetter import set_line
from echelle.drawing.formats import FORMATS, Output, pages_bytes, scene_bytes
from echelle.errors import InputError
from echelle.progress import every, stepwise
from echelle.reports.html import report
from echelle.reports.pdf import report_pdf
from echelle.scene.models import Scene
from server.accounts.models import Person
from server.api.faults import DISK_FULL, Fault, fault_of, is_disk_full
from server.api.room import must_have_room
from server.comparisons.models import Comparison
from server.comparisons.services.scenes import shown_without_rows
from server.comparisons.services.trail import data_of, entry_of
from server.exporting.services import OF_ROWS, REPORTS, export_of, report_part, resize, sealed_at
from server.file_jobs.bodies import AskBatch, Asked, AskFileJob, AskFolio, AskPages, AskReport, AskSeveral
from server.file_jobs.models import FileJob
from server.folios.models import Folio
from server.folios.services import folio_file, pages_of, states_of
from server.records.models import record
from server.studies.access import as_uuid, readable_by, visible_to
from server.studies.models import Study
from server.tables.services.cache import rows_in_use

Step = Callable[[int, int], None]
_GONE = Fault(what="It is not there for you any more", where="", remedy="Reload the page.")
_NOT_DRAWN = "not drawn.txt"
# So often somebody looks whether a file is still wanted.
_LOOK = 0.2
_LOST = Fault(what="The file could not be made", where="", remedy="Nothing was lost. Try again.")


class Stopped(Exception):
    """The person stopped the work."""


@dataclass(frozen=True)
class File:
    """A file's bytes, media type and name, and what it misses."""

    data: bytes
    type: str
    name: str
    missing: Fault | None = None


def subject_of(body: Asked, person: Person) -> Comparison | Folio | Study:
    """What is asked about. Raises Http404 for strangers, PermissionDenied for those who may not have it."""
    if isinstance(body, (AskPages, AskFolio)):
        return visible_to(Folio.objects.all(), person, as_uuid(body.folio))
    if isinstance(body, AskReport):
        return readable_by(Folio.objects.all(), person, as_uuid(body.folio))
    permitted = visible_to if not isinstance(body, AskBatch) and body.kind not in OF_ROWS else readable_by
    if isinstance(body, AskSeveral):
        return permitted(Study.objects.all(), person, as_uuid(body.study))
    return permitted(Comparison.objects.all(), person, as_uuid(body.comparison))


def study_of(subject: Comparison | Folio | Study) -> uuid.UUID:
    """The study that something belongs to, or is."""
    return subject.pk if isinstance(subject, Study) else subject.study_id


def run_file_job(job: FileJob) -> None:
    """Make the job's file. Whoever may not have it any more gets none."""
    if not FileJob.objects.filter(pk=job.pk, state__in=job.UNFINISHED).update(state=job.State.WORKING):
        return None

    def step(done: int, of: int) -> None:
        if FileJob.objects.filter(pk=job.pk, state=job.State.WORKING).update(done=done, of=of) == 0:
            raise Stopped

    began = time.monotonic()

    def look() -> None:
        working = FileJob.objects.filter(pk=job.pk, state=job.State.WORKING)
        if not working.exists():
            raise Stopped
        # What counts no figures counts seconds.
        working.filter(of=0).update(done=round(time.monotonic() - began))

    try:
        with stepwise(every(_LOOK, look)):
            file = _file_of(job, step)
        must_have_room(len(file.data))
        job.path.parent.mkdir(parents=True, exist_ok=True)
        job.path.write_bytes(file.data)
        if job.person is not None and job.asked["what"] != "pages":
            record(
                job.person.username, "exported", job.study_id, kind=str(job.asked.get("kind", job.asked["what"])), of=file.name
            )
        missing = file.missing.model_dump() if file.missing else None
        ended = {"state": job.State.DONE, "name": file.name[-255:], "type": file.type, "fault": missing}
        if not FileJob.objects.filter(pk=job.pk, state=job.State.WORKING).update(**ended):
            raise Stopped
    except Stopped:
        job.path.unlink(missing_ok=True)
    except InputError as error:
        _refuse(job, fault_of(error))
    except (OperationalError, InterfaceError):
        # The queue does it again when the database is back.
        raise
    except (Http404, PermissionDenied):
        _refuse(job, _GONE)
    except Exception as error:
        if is_disk_full(error):
            return _refuse(job, DISK_FULL)
        logging.getLogger(__name__).exception("a file could not be made")
        _refuse(job, _LOST)


def _refuse(job: FileJob, fault: Fault) -> None:
    job.path.unlink(missing_ok=True)
    FileJob.objects.filter(pk=job.pk, state=job.State.WORKING).update(state=job.State.REFUSED, fault=fault.model_dump())


def _file_of(job: FileJob, step: Step) -> File:
    if job.person is None:
        return _file_of_link(job)
    return _make(AskFileJob.model_validate(job.asked).root, job.person, step)


def _make(body: Asked, person: Person, step: Step) -> File:
    subject = subject_of(body, person)
    if isinstance(body, AskReport):
        assert isinstance(subject, Folio)
        return _report(body, subject, step)
    if isinstance(body, AskPages):
        assert isinstance(subject, Folio)
        return _scenes(pages_of(subject, subject.study.shows_rows_to(person)))
    if isinstance(body, AskFolio):
        assert isinstance(subject, Folio)
        paged = folio_file(subject, body.kind, body.choices, subject.study.shows_rows_to(person))
        return File(paged.data, paged.type, subject.name + paged.ending)
    if isinstance(body, AskSeveral):
        assert isinstance(subject, Study)
        return _several(body, subject, person, step)
    assert isinstance(subject, Comparison)
    if isinstance(body, AskBatch):
        return _batch(body, subject, step)
    made = export_of(subject, body.kind, body.choices, subject.study.shows_rows_to(person))
    return File(made.data, made.type, subject.name + made.ending)


def scenes_of_link(comparison: Comparison | None, folio: Folio | None, quick: bool = False) -> list[Scene]:
    """What a link to a comparison or a folio shows, without rows. Raises InputError where it cannot be drawn, LongWork where it
    is to be ``quick`` and is not.
    """
    if folio is not None:
        return pages_of(folio, False, quick)
    assert comparison is not None
    return [shown_without_rows(comparison, quick)]


def _file_of_link(job: FileJob) -> File:
    """The scenes that a link shows, whoever follows it."""
    comparison = Comparison.objects.filter(study=job.study, pk=job.asked["comparison"]).first()
    folio = Folio.objects.filter(study=job.study, pk=job.asked["folio"]).first()
    if comparison is None and folio is None:
        raise Http404
    return _scenes(scenes_of_link(comparison, folio))


def _scenes(scenes: Sequence[Scene]) -> File:
    pages = ",".join(scene.model_dump_json(by_alias=True) for scene in scenes)
    return File(f"[{pages}]".encode(), "application/json", "pages.json")


def _several(body: AskSeveral, study: Study, person: Person, step: Step) -> File:
    """A file a comparison, in the order asked for; what cannot be made is named beside them, and why."""
    ids = [as_uuid(pk) for pk in dict.fromkeys(body.comparisons)]
    held = {comparison.pk: comparison for comparison in Comparison.objects.filter(study=study, pk__in=ids)}
    asked = [held[pk] for pk in ids if pk in held]
    files: dict[str, bytes] = {}
    not_made, fault = [], None
    names = file_names([comparison.name for comparison in asked], "")
    for number, (comparison, name) in enumerate(zip(asked, names, strict=True)):
        step(number, len(asked))
        try:
            made = export_of(comparison, body.kind, body.choices, study.shows_rows_to(person))
        except InputError as error:
            not_made.append(f"{comparison.name}: {error.sentence()}")
            fault = fault or error
            continue
        files[name.removesuffix(".") + made.ending] = made.data
    step(len(asked), len(asked))
    if not files:
        raise fault or InputError("none of these comparisons is in the study", remedy="Reload the page.")
    if not_made:
        files[_NOT_DRAWN] = ("\n".join(not_made) + "\n").encode()
    newest = max(comparison.changed for comparison in asked)
    return File(zip_files(files, newest), "application/zip", f"{study.name}.zip", fault_of(fault) if fault else None)


def _report(body: AskReport, folio: Folio, step: Step) -> File:
    """All figures of a folio, each with what is said of it; of a locked folio as they were then."""
    states, parts = states_of(folio), []
    if not states:
        raise InputError("the folio holds no figure", remedy="Add a comparison of the study.")
    for number, (comparison, entry, house) in enumerate(states):
        step(number, len(states))
        parts.append(report_part(comparison, entry, house, printed=body.file_format == "pdf"))
    title = folio.name + (f", version {folio.version}" if folio.version > 1 else "")
    signed = f"Locked {folio.lock_words}" if folio.locked_at else ""
    if body.file_format == "html":
        return File(report(title, parts, signed), REPORTS["html"], f"{title} report.html")
    newest = max(entry.at for _, entry, _ in states)
    return File(report_pdf(title, parts, set_line, newest, signed), REPORTS["pdf"], f"{title} report.pdf")


def _batch(body: AskBatch, comparison: Comparison, step: Step) -> File:
    """One PDF with a page a figure, or a zip with a picture each; what cannot be drawn is named beside it, and why."""
    entry = entry_of(comparison, body.entry)
    recipe = resize(sealed_at(comparison, entry), {} if body.width is None else {"width": body.width})
    data = data_of(comparison, entry)
    data.table.must_be_near("Many figures are not made at once")
    rows = rows_in_use(data.table, data.steps)
    drawn = Batch(figures_of(recipe, rows, BatchSpec(body.each, body.measures)), rows)
    output, name = Output(body.file_format, body.dpi, made=recipe.made), comparison.name
    form = FORMATS[body.file_format]
    pages: list[Scene] = []
    files: dict[str, bytes] = {}
    names = list(file_names([what for what, _ in drawn.figures], body.file_format))
    for place, scene in drawn.scenes(step):
        if form.pages:
            pages.append(scene)
        else:
            files[names[place]] = scene_bytes(scene, output)
    step(len(drawn.figures), len(drawn.figures))
    if not pages and not files:
        raise InputError(drawn.not_drawn[0], remedy="Try it with one figure first.")
    if pages:
        files[next(file_names([name], body.file_format))] = pages_bytes(pages, output, name)
        if not drawn.fault:
            return File(next(iter(files.values())), form.media_type, f"{name}.{body.file_format}")
    if drawn.fault:
        files[_NOT_DRAWN] = ("\n".join(drawn.not_drawn) + "\n").encode()
    missing = fault_of(drawn.fault) if drawn.fault else None
    return File(zip_files(files, recipe.made or FIRST), "application/zip", f"{name}.zip", missing)
