"""A study with all that it holds, in a fixed number of queries."""

from __future__ import annotations

import uuid
from collections import Counter
from typing import Any

from django.db.models import Count, F, Q

from server.accounts.models import Person
from server.comparisons.models import TrailEntry
from server.home.bodies import CardFolio, StudyComparison, StudyState, StudyTable, TableVersion
from server.home.viewers import masking
from server.studies.bodies import ShelfName
from server.studies.models import SEEING_ROWS, Membership, Study
from server.tables.models import DataTable

_QUESTION = ("recipe__measure__columns", "recipe__groups__column")
_OF_COMPARISON = tuple(
    f"comparison__{name}"
    for name in ("name", "changed", "locked_at", "archived", "binned", "tags", "notes", "watched", "alarm", "form")
)


def study_state(study: Study, person: Person) -> StudyState:
    """All comparisons, tables with their versions, and folios of a study."""
    mine = Membership.objects.get(study=study, person=person)
    sees = mine.role in SEEING_ROWS
    tables = {table.pk: table for table in DataTable.objects.filter(study=study).defer("columns", "remarks")}
    newer = {table.replaces_id: table.pk for table in tables.values() if table.replaces_id}
    shown = TrailEntry.objects.filter(comparison__study=study, number=F("comparison__head"))
    open_remarks = Count("comparison__remark", filter=Q(comparison__remark__answers=None, comparison__remark__settled_at=None))
    asked = shown.annotate(remarks=open_remarks).order_by("-comparison__changed")
    entries = list(asked.values("comparison_id", "by", "table_id", "remarks", *_QUESTION, *_OF_COMPARISON))
    used = Counter(entry["table_id"] for entry in entries if _shelf_of(entry) == "open")
    masked = masking(mine.role)
    result = [_comparison(entry, tables[entry["table_id"]], entry["table_id"] in newer) for entry in entries]
    if not sees:
        for comparison, entry in zip(result, entries, strict=True):
            comparison.name = masked(entry["table_id"], comparison.name)
            comparison.alarm = masked(entry["table_id"], comparison.alarm)
            comparison.notes, comparison.tags = "", []
    return StudyState(
        id=str(study.pk), name=study.name, role=mine.role, notes=study.notes if sees else "", pinned=mine.pinned,
        archived=study.archived is not None, bin_days=study.bin_days, comparisons=result,
        tables=_tables(tables, newer, used, sees),
        folios=[CardFolio(id=str(f.pk), name=f.name) for f in study.folio_set.order_by("-changed")],
    )  # fmt: skip


def _comparison(entry: dict[str, Any], table: DataTable, older_data: bool) -> StudyComparison:
    """A comparison by its shown state: what it asks, of which table, and who settled it."""
    measure, groups = (entry[name] for name in _QUESTION)
    return StudyComparison(
        id=str(entry["comparison_id"]), name=entry["comparison__name"], changed=entry["comparison__changed"],
        measure=", ".join(measure or ()), groups=groups or "", form=entry["comparison__form"],
        table=table.name, table_id=str(table.pk), by=entry["by"], locked=entry["comparison__locked_at"] is not None,
        older_data=older_data, shelf=_shelf_of(entry), binned=entry["comparison__binned"], tags=entry["comparison__tags"],
        notes=entry["comparison__notes"], watched=entry["comparison__watched"], alarm=entry["comparison__alarm"],
        remarks=entry["remarks"],
    )  # fmt: skip


def _shelf_of(entry: dict[str, Any]) -> ShelfName:
    """Where the comparison is put."""
    if entry["comparison__binned"] is not None:
        return "bin"
    return "open" if entry["comparison__archived"] is None else "archive"


def _tables(
    tables: dict[uuid.UUID, DataTable],
    newer: dict[uuid.UUID, uuid.UUID],
    used: Counter[uuid.UUID],
    sees_rows: bool,
) -> list[StudyTable]:
    """Tables that nothing replaced, newest first, each with the versions before it."""
    result = []
    for table in sorted(tables.values(), key=lambda table: table.made, reverse=True):
        if table.pk in newer:
            continue
        earlier, at = [], table.replaces_id
        while at is not None and (older := tables.get(at)) is not None:
            version = TableVersion(
                id=str(at), name=older.name, made=older.made, by=older.by, rows=older.rows, comparisons=used[at]
            )
            earlier.append(version)
            at = older.replaces_id
        result.append(
            StudyTable(
                id=str(table.pk), name=table.name, rows=table.rows, made=table.made, by=table.by,
                notes=table.notes if sees_rows else "", comparisons=used[table.pk], earlier=earlier,
            )
        )  # fmt: skip
    return result
