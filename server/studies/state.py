"""A study with all that it holds, in a fixed number of queries."""

from __future__ import annotations

from collections import Counter
from typing import Any

from django.apps import apps
from django.db.models import F

from server.studies.bodies import CardFolio, ShelfName, StudyComparison, StudyState, StudyTable
from server.studies.models import Study


def study_state(study: Study, role: str) -> StudyState:
    """All comparisons, tables and folios of a study; tables that were replaced are left out."""
    tables = list(apps.get_model("tables", "DataTable").objects.filter(study=study).defer("columns", "remarks"))
    replaced = {table.replaces_id for table in tables}
    comparisons = _comparisons(study, {table.pk: table.name for table in tables}, replaced)
    used = Counter(comparison.table for comparison in comparisons if comparison.shelf == "open")
    return StudyState(
        id=str(study.pk), name=study.name, role=role, comparisons=comparisons,
        tables=[
            StudyTable(id=str(t.pk), name=t.name, rows=t.rows, made=t.made, comparisons=used[t.name])
            for t in sorted(tables, key=lambda table: table.made, reverse=True)
            if t.pk not in replaced
        ],
        folios=[CardFolio(id=str(f.pk), name=f.name) for f in study.folio_set.order_by("-changed")],
    )  # fmt: skip


def _comparisons(study: Study, tables: dict[Any, str], replaced: set[Any]) -> list[StudyComparison]:
    """The study's comparisons, changed last first, each with what its shown state asks."""
    entries = apps.get_model("comparisons", "TrailEntry").objects.filter(comparison__study=study, number=F("comparison__head"))
    asked = ("recipe__measure__columns", "recipe__groups__column")
    shown = {entry["comparison_id"]: entry for entry in entries.values("comparison_id", "by", "table_id", *asked)}
    result = []
    for comparison in study.comparison_set.order_by("-changed"):
        entry = shown[comparison.pk]
        result.append(
            StudyComparison(
                id=str(comparison.pk), name=comparison.name, changed=comparison.changed,
                measure=", ".join(entry["recipe__measure__columns"] or ()), groups=entry["recipe__groups__column"] or "",
                table=tables.get(entry["table_id"], ""), by=entry["by"], locked=comparison.locked_at is not None,
                older_data=entry["table_id"] in replaced, shelf=shelf_of(comparison),
            )
        )  # fmt: skip
    return result


def shelf_of(comparison: Any) -> ShelfName:
    """Where a comparison is put."""
    if comparison.binned is not None:
        return "bin"
    return "open" if comparison.archived is None else "archive"
