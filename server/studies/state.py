"""A study with all that it holds, in a fixed number of queries."""

from __future__ import annotations

from collections import Counter
from typing import Any

from django.apps import apps
from django.db.models import F

from server.studies.bodies import CardFolio, ShelfName, StudyComparison, StudyState, StudyTable
from server.studies.models import Study

_ASKED = ("comparison_id", "by", "table_id", "table__name", "recipe__measure__columns", "recipe__groups__column")
_OF_COMPARISON = tuple(f"comparison__{name}" for name in ("name", "changed", "locked_at", "archived", "binned"))


def study_state(study: Study, role: str) -> StudyState:
    """All comparisons, tables and folios of a study; tables that were replaced are left out."""
    tables = list(apps.get_model("tables", "DataTable").objects.filter(study=study).defer("columns", "remarks"))
    replaced = {table.replaces_id for table in tables}
    shown = apps.get_model("comparisons", "TrailEntry").objects.filter(comparison__study=study, number=F("comparison__head"))
    entries = list(shown.order_by("-comparison__changed").values(*_ASKED, *_OF_COMPARISON))
    used = Counter(entry["table_id"] for entry in entries if _shelf_of(entry) == "open")
    return StudyState(
        id=str(study.pk), name=study.name, role=role,
        comparisons=[_comparison(entry, entry["table_id"] in replaced) for entry in entries],
        tables=[
            StudyTable(id=str(t.pk), name=t.name, rows=t.rows, made=t.made, comparisons=used[t.pk])
            for t in sorted(tables, key=lambda table: table.made, reverse=True)
            if t.pk not in replaced
        ],
        folios=[CardFolio(id=str(f.pk), name=f.name) for f in study.folio_set.order_by("-changed")],
    )  # fmt: skip


def _comparison(entry: dict[str, Any], older_data: bool) -> StudyComparison:
    """A comparison by its shown state: what it asks, of which table, and who settled it."""
    return StudyComparison(
        id=str(entry["comparison_id"]), name=entry["comparison__name"], changed=entry["comparison__changed"],
        measure=", ".join(entry["recipe__measure__columns"] or ()), groups=entry["recipe__groups__column"] or "",
        table=entry["table__name"], by=entry["by"], locked=entry["comparison__locked_at"] is not None,
        older_data=older_data, shelf=_shelf_of(entry),
    )  # fmt: skip


def _shelf_of(entry: dict[str, Any]) -> ShelfName:
    """Where the comparison is put."""
    if entry["comparison__binned"] is not None:
        return "bin"
    return "open" if entry["comparison__archived"] is None else "archive"
