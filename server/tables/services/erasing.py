"""Tables that are erased for good, where nothing needs them any more."""

from __future__ import annotations

from django.apps import apps

from echelle.errors import InputError
from echelle.tables.steps.files import named_tables
from server.accounts.models import Person
from server.records.models import record
from server.tables.models import DataTable, RawFile
from server.tables.services.preparation import newest_revision, steps_at

_FEW = 3


def erase_table(table: DataTable, person: Person) -> None:
    """Erase a table and, where no other was read from it, its raw file. Raises InputError that says what needs it."""
    comparisons = apps.get_model("comparisons", "Comparison").objects.filter(trailentry__table=table).distinct()
    names = [str(comparison) for comparison in comparisons[: _FEW + 1]]
    if names:
        shown = ", ".join(f"“{name}”" for name in names[:_FEW]) + (" and others" if len(names) > _FEW else "")
        raise InputError(f"{table.name} is needed by {shown}", remedy="Erase those first: their trails are drawn from it.")
    if table.replaced_by.exists():
        raise InputError(f"{table.name} has newer versions", remedy="Erase those first.")
    for other in DataTable.objects.filter(study=table.study_id).exclude(pk=table.pk):
        if any(ref.sha256 == table.raw.sha256 for ref in named_tables(steps_at(other, newest_revision(other)))):
            raise InputError(f"{table.name} is needed by the preparation of {other.name}", remedy="Take that step out first.")
    record(person.username, "table erased", table.study_id, of=table.name)
    raw = table.raw_id
    table.delete()
    if not DataTable.objects.filter(raw=raw).exists():
        RawFile.objects.filter(pk=raw).delete()
