"""What happened in a study, newest first: states, files, preparations, remarks, signatures."""

from __future__ import annotations

import uuid
from collections.abc import Iterator

from echelle.plurals import plural
from server.comparisons.models import Comparison, Remark, TrailEntry
from server.home.bodies import Event
from server.home.viewers import masking
from server.studies.models import SEEING_ROWS, Study
from server.tables.models import DataTable, Preparation

MOST_EVENTS = 100


def activity_of(study: Study, role: str) -> list[Event]:
    """The last events, in a fixed number of queries; texts name no person to those who may see no rows."""
    masked = masking(role)
    tables = {t.pk: t for t in DataTable.objects.filter(study=study).only("id", "name", "rows", "made", "by", "replaces_id")}
    events = [
        *_states(study),
        *_alarms(study),
        *_preparations(study, tables),
        *(_remarks(study) if role in SEEING_ROWS else ()),
    ]
    for event, table in events:
        event.name, event.words = masked(table, event.name), masked(table, event.words)
    result = [*(event for event, _ in events), *_files(tables)]
    return sorted(result, key=lambda event: event.at, reverse=True)[:MOST_EVENTS]


def _states(study: Study) -> Iterator[tuple[Event, uuid.UUID]]:
    states = TrailEntry.objects.filter(comparison__study=study, refused=False).defer("recipe").select_related("comparison")
    for entry in states.order_by("-at")[:MOST_EVENTS]:
        words = entry.words or "begun"
        yield _event(entry.at, entry.by, words, entry.comparison), entry.table_id
    for comparison in Comparison.objects.filter(study=study, locked_at__isnull=False).order_by("-locked_at")[:MOST_EVENTS]:
        assert comparison.locked_at is not None
        words = f"signed off: {comparison.lock_reason}"
        yield _event(comparison.locked_at, comparison.locked_by, words, comparison), comparison.table_id


def _alarms(study: Study) -> Iterator[tuple[Event, uuid.UUID]]:
    for comparison in Comparison.objects.filter(study=study, alarmed__isnull=False).order_by("-alarmed")[:MOST_EVENTS]:
        if comparison.alarm:
            yield _event(comparison.alarmed, "newer data", f"broken: {comparison.alarm}", comparison), comparison.table_id


def _remarks(study: Study) -> Iterator[tuple[Event, uuid.UUID]]:
    remarks = Remark.objects.filter(comparison__study=study).select_related("comparison").order_by("-at")[:MOST_EVENTS]
    for remark in remarks:
        said = "answered" if remark.answers_id else "remarked"
        where = f" on {remark.lane}" if remark.lane else ""
        yield _event(remark.at, remark.by, f"{said}{where}: {remark.text}", remark.comparison), remark.comparison.table_id


def _event(at: object, by: str, words: str, comparison: Comparison) -> Event:
    return Event.model_validate(
        {"at": at, "by": by, "words": words[:300], "name": comparison.name, "comparison": str(comparison.pk)}
    )


def _files(tables: dict[uuid.UUID, DataTable]) -> Iterator[Event]:
    for table in tables.values():
        words = f"{'newer file' if table.replaces_id else 'file'} brought, {plural(table.rows, 'row')}"
        yield Event(at=table.made, by=table.by, words=words, name=table.name, table=str(table.pk))


def _preparations(study: Study, tables: dict[uuid.UUID, DataTable]) -> Iterator[tuple[Event, uuid.UUID]]:
    for made in Preparation.objects.filter(table__study=study).defer("steps").order_by("-at")[:MOST_EVENTS]:
        table = tables[made.table_id]
        words = f"prepared: {made.words}"
        yield Event(at=made.at, by=made.by, words=words, name=table.name, table=str(table.pk)), table.pk
