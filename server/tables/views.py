"""Tables: how they were read, their preparation, their rows."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import asdict
from datetime import UTC, datetime
from typing import Any

import numpy as np
import orjson
from django.db import transaction
from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.response import Response

from echelle.errors import InputError
from echelle.plurals import plural
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.steps.joining import key_overlap
from echelle.tables.steps.left_out import LeftOut, entry_for
from echelle.tables.steps.prepare import all_steps
from echelle.tables.steps.registry import Step, StepList
from echelle.tables.steps.rows import LeaveOut
from echelle.tables.storage.version_diff import changes_between
from echelle.tables.storage.writers import ROWS_FORMATS, rows_file
from server.accounts.requests import PersonRequest
from server.api.downloads import download
from server.api.faults import Fault, fault_of
from server.api.views import Endpoint, body_of
from server.records.models import record
from server.studies.access import editable_by, readable_by, visible_to
from server.studies.models import Study
from server.studies.names import named
from server.tables import bodies
from server.tables.models import DataTable
from server.tables.services import rows
from server.tables.services.cache import named_table, prepared_of, rows_in_use, summaries_of, table_of
from server.tables.services.erasing import erase_table
from server.tables.services.persons import Persons
from server.tables.services.preparation import newest_revision, reference_to, settle_steps, steps_at

_TYPES = {
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "parquet": "application/vnd.apache.parquet",
}
_LOST = {409: Fault, 422: Fault}


class TablesOfStudy(Endpoint):
    """The tables that a step can bring in."""

    @extend_schema(responses=bodies.TableLinks)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """A study's tables, newest first, without those that were replaced. For those who may see rows: steps name rows."""
        study = editable_by(Study.objects.all(), request.user, study_id)
        order = DataTable.objects.filter(study=study, replaced_by=None).select_related("raw").order_by("-made")
        return Response(bodies.TableLinks([_link(table) for table in order]))


class OneTable(Endpoint):
    """A table as it stands."""

    @extend_schema(
        parameters=[OpenApiParameter("revision", int, description="of the preparation; the newest when left out")],
        responses=bodies.TableState,
    )
    def get(self, request: PersonRequest, table_id: uuid.UUID) -> Response:
        """How it was read and its newest preparation; an older revision by ``?revision=``."""
        return Response(_state(visible_to(DataTable.objects.all(), request.user, table_id), request))

    @extend_schema(request=bodies.ChangeTable, responses={200: bodies.TableState, 422: Fault})
    def patch(self, request: PersonRequest, table_id: uuid.UUID) -> Response:
        """Rename it, or write its notes. Steps that bring it in elsewhere know it by its bytes."""
        table = editable_by(DataTable.objects.all(), request.user, table_id)
        wanted = body_of(request, bodies.ChangeTable)
        if wanted.name is not None:
            table.name = named(wanted.name, "table")
        if wanted.notes is not None:
            table.notes = wanted.notes
        table.save(update_fields=["name", "notes"])
        return Response(_state(table, request))

    @extend_schema(responses={204: None, 422: Fault})
    def delete(self, request: PersonRequest, table_id: uuid.UUID) -> Response:
        """Erase it with its raw file. Refused while comparisons, newer versions or other tables' steps need it."""
        table = editable_by(DataTable.objects.select_related("raw"), request.user, table_id)
        with transaction.atomic():
            erase_table(table, request.user)
        return Response(status=204)


class PreparationOfTable(Endpoint):
    """Settled steps."""

    @extend_schema(request=bodies.SettleSteps, responses={200: bodies.TableState, **_LOST})
    def post(self, request: PersonRequest, table_id: uuid.UUID) -> Response:
        """Keep steps as the next revision. A stale revision gets 409 and changes nothing."""
        table = editable_by(DataTable.objects.all(), request.user, table_id)
        wanted = body_of(request, bodies.SettleSteps)
        settle_steps(table, wanted.revision, wanted.steps, request.user)
        return Response(_state(table, request))


class TrySteps(Endpoint):
    """Steps before they are taken."""

    keeps = False

    @extend_schema(request=bodies.Try, responses={200: bodies.Outcome, 422: Fault})
    def post(self, request: PersonRequest, table_id: uuid.UUID) -> Response:
        """What the steps would lead to. Nothing is kept. For those who may change: steps could single out rows."""
        table = editable_by(DataTable.objects.all(), request.user, table_id)
        return Response(_outcome(table, body_of(request, bodies.Try).steps))


class RowsOfTable(Endpoint):
    """Rows, for those who may see rows."""

    keeps = False

    @extend_schema(request=bodies.AskTableRows, responses={200: bodies.RowsWindow, 422: Fault})
    def post(self, request: PersonRequest, table_id: uuid.UUID) -> Response:
        """A window of rows after the steps that fit."""
        table = readable_by(DataTable.objects.all(), request.user, table_id)
        ask = body_of(request, bodies.AskTableRows)
        record(request.user.username, "rows read", table.study_id, once=True, of=table.name)
        shown = prepared_of(table, ask.steps).table
        against = None if ask.against is None else prepared_of(table, ask.against).table
        return Response(rows.window(shown, rows.order_of(shown, ask.sort), ask.start, ask.count, against))


class FindInTable(Endpoint):
    """Finding without changing."""

    keeps = False

    @extend_schema(request=bodies.Find, responses={200: bodies.FoundRows, 422: Fault})
    def post(self, request: PersonRequest, table_id: uuid.UUID) -> Response:
        """The shown places of a text or of a row."""
        table = readable_by(DataTable.objects.all(), request.user, table_id)
        ask = body_of(request, bodies.Find)
        shown = prepared_of(table, ask.steps).table
        order = rows.order_of(shown, ask.sort)
        result = rows.find_text(shown, order, ask.text) if ask.key is None else rows.find_key(shown, order, ask.key)
        return Response(result)


class KeysOfTable(Endpoint):
    """Keys before a join."""

    keeps = False

    @extend_schema(request=bodies.AskKeys, responses={200: bodies.Keys, 422: Fault})
    def post(self, request: PersonRequest, table_id: uuid.UUID) -> Response:
        """How the keys of two tables meet."""
        table = editable_by(DataTable.objects.all(), request.user, table_id)
        ask = body_of(request, bodies.AskKeys)
        named = named_table(table.study_id, ask.table)
        other = all_steps(named, ask.table.prepare, lambda ref: named_table(table.study_id, ref))
        overlap = key_overlap(prepared_of(table, ask.steps).table, other, ask.keys)
        counts = {key: getattr(overlap, key) for key in ("matched", "unmatched", "unused", "most")}
        return Response(
            bodies.Keys(**counts, unmatched_first=list(overlap.unmatched_first), unused_first=list(overlap.unused_first))
        )


class LeaveOutOfTable(Endpoint):
    """Leaving one row out for the whole table."""

    @extend_schema(request=bodies.LeaveOutRow, responses={200: bodies.TableState, **_LOST})
    def post(self, request: PersonRequest, table_id: uuid.UUID) -> Response:
        """Add the row to the last step if that leaves rows out, else add such a step."""
        table = editable_by(DataTable.objects.all(), request.user, table_id)
        table.must_be_near("No row of it can be left out for all comparisons")
        wanted = body_of(request, bodies.LeaveOutRow)
        steps = steps_at(table, newest_revision(table))
        shown = rows_in_use(table, steps)
        places = np.flatnonzero(shown.row_ids.keys == wanted.key)
        if len(places) != 1:
            raise InputError("that row is not in the table", remedy="Reload the page.")
        if shown.left_out is not None and shown.left_out[places[0]]:
            raise InputError("that row is left out already", remedy="Edit the step to bring it back.")
        at = datetime.now(UTC).replace(microsecond=0)
        entry = entry_for(shown, int(places[0]), wanted.reason, request.user.shown_name, at)
        last = steps[-1] if steps else None
        if isinstance(last, LeaveOut) and last.on:
            steps = [*steps[:-1], last.model_copy(update={"rows": [*last.rows, entry]})]
        else:
            steps = [*steps, LeaveOut(rows=[entry])]
        settle_steps(table, wanted.revision, steps, request.user)
        return Response(_state(table, request))


class ChangesOfTable(Endpoint):
    """What a newer file changed."""

    @extend_schema(responses=bodies.Changes)
    def get(self, request: PersonRequest, table_id: uuid.UUID) -> Response:
        """Rows and levels against the table that this one replaced."""
        table = visible_to(DataTable.objects.all(), request.user, table_id)
        if table.replaces is None:
            raise InputError("this table replaced no other", remedy="Bring a newer export of it first.")
        table.must_be_near("Versions are not compared row by row")
        between = changes_between(table_of(table.replaces), table_of(table))
        return Response(bodies.Changes.model_validate(asdict(between)))


class RowsFileOfTable(Endpoint):
    """Rows in use as a file."""

    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY, 422: Fault})
    def get(self, request: PersonRequest, table_id: uuid.UUID, file_format: str) -> HttpResponse:
        """The rows as CSV, XLSX or Parquet, or the steps as JSON. ``X-Guarded-Cells`` counts cells made harmless."""
        table = readable_by(DataTable.objects.select_related("raw"), request.user, table_id)
        record(request.user.username, "exported", table.study_id, kind=file_format, of=table.name)
        steps = steps_at(table, newest_revision(table))
        stem = table.name.rsplit(".", 1)[0]
        if file_format == "steps":
            told = {"file": table.name, "sha256": table.raw.sha256, "read": table.told}
            data = orjson.dumps(told | {"steps": StepList.dump_python(steps, mode="json")}, option=orjson.OPT_INDENT_2)
            return download(data, "application/json", f"{stem}.steps.json")
        for known in ROWS_FORMATS:
            if known == file_format:
                table.must_be_near("No file of rows is written")
                made = rows_file(rows_in_use(table, steps), known)
                response = download(made.data, _TYPES[known], f"{stem}.rows.{known}")
                response["X-Guarded-Cells"] = str(made.guarded)
                return response
        raise InputError(f"rows cannot be written as “{file_format}”", remedy="Choose csv, xlsx or parquet.")


def _link(table: DataTable) -> bodies.TableLink:
    reference = reference_to(table)
    summaries = summaries_of(table, reference.prepare)
    return bodies.TableLink(
        id=str(table.pk), name=table.name, rows=table.rows, columns=[c.name for c in summaries], reference=reference
    )


def _of_all(table: DataTable, rows: int) -> int:
    """Rows in use: counted, or of a far table estimated from its sample."""
    return rows if not table.is_far else round(rows / max(table.rows_held, 1) * table.rows)


def _how_read(table: DataTable) -> bodies.HowRead:
    return bodies.HowRead.model_validate({name: table.options[name] for name in bodies.HowRead.model_fields})


def _far(table: DataTable) -> bodies.Sampled | None:
    if not table.is_far:
        return None
    name = None if table.source is None else table.source.name
    return bodies.Sampled(source=name, files=table.options["files"], rows=table.rows_held)


def _outcome(table: DataTable, steps: Sequence[Step], looking: bool = False) -> bodies.Outcome:
    """What steps lead to; who may only look is not told which rows were left out."""
    result = prepared_of(table, steps)
    states = []
    for place, step in enumerate(steps):
        done = asdict(result.results[place]) if place < len(result.results) else {"rows": None, "columns": None, "note": ""}
        if table.is_far and done["rows"] is not None:
            done |= {"rows": _of_all(table, int(done["rows"])), "note": f"in the sample: {done['note']}"}
        words = step.words()
        if looking and isinstance(step, LeaveOut):
            words, done["note"] = f"leave out {plural(len(step.rows), 'row')}", ""
            step = LeaveOut(on=step.on, rows=[LeftOut(row=1, reason="not shown")])
        states.append(bodies.StepState(step=step, words=words, **done))
    return bodies.Outcome(
        steps=states, stopped=fault_of(result.stopped) if result.stopped else None, rows=_of_all(table, result.table.in_use),
        rows_shown=result.table.rows, columns=summaries_of(table, steps),
    )  # fmt: skip


def _state(table: DataTable, request: PersonRequest) -> bodies.TableState | dict[str, Any]:
    newest = newest_revision(table)
    asked = request.query_params.get("revision", "")
    revision = int(asked) if asked.isdecimal() and len(asked) < 6 else newest
    newer = table.replaced_by.order_by("-made").first()
    looking = not table.study.shows_rows_to(request.user)
    steps = steps_at(table, revision)
    state = bodies.TableState(
        id=str(table.pk), name=table.name, study=str(table.study_id), study_name=table.study.name,
        role=table.study.role_of(request.user), size=table.raw.size, sha256=table.raw.sha256, rows=table.rows,
        far=_far(table), read=_how_read(table), told=ReadingOptions.model_validate(table.told),
        # Remarks quote cells, so they are for those who may see rows.
        remarks=[] if looking else [bodies.ReadingRemark.model_validate(remark) for remark in table.remarks],
        revision=revision, newest=newest,
        history=[
            bodies.Revision(revision=p.revision, words=p.words, by=p.by, at=p.at) for p in table.preparation_set.all()
        ],
        outcome=_outcome(table, steps, looking), newer=str(newer.pk) if newer else None,
        older=str(table.replaces_id) if table.replaces_id else None,
    )  # fmt: skip
    if not looking:
        return state
    persons = Persons(table, steps)
    state.outcome.columns = persons.without_names(state.outcome.columns)
    return persons.masked(state)
