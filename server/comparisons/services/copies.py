"""The shown state of a comparison as a comparison of another study, with the data that it needs."""

from __future__ import annotations

from collections.abc import Sequence

from django.db import connection

from echelle.errors import InputError
from echelle.tables.steps.files import named_tables
from echelle.tables.steps.registry import Step
from server.accounts.models import Person
from server.comparisons.models import Comparison
from server.comparisons.services.trail import begin, data_of, recipe_at
from server.records.models import record
from server.studies.models import Study
from server.tables.models import DataTable, RawFile
from server.tables.services.preparation import newest_revision, settle_steps, steps_at, table_named


def copy_to_study(comparison: Comparison, study: Study, person: Person) -> Comparison:
    """A comparison of another study with the shown state. Its look stays; the other study's house style is offered."""
    if study.pk == comparison.study_id:
        raise InputError("it is in that study already", remedy="Choose another study.")
    data = data_of(comparison)
    for ref in named_tables(data.steps):
        named = table_named(comparison.study_id, ref)
        # Another sheet of a file that is here is read from that file's bytes.
        other = named if isinstance(named, DataTable) else named.datatable_set.filter(study=comparison.study_id).first()
        if other is not None and not DataTable.objects.filter(study=study, raw__sha256=other.raw.sha256).exists():
            copy_table(other, study, person.shown_name)
    table = _table_with(data.table, data.steps, study)
    if table is None:
        table = copy_table(data.table, study, person.shown_name)
        settle_steps(table, 0, data.steps, person)
    made = begin(table, recipe_at(comparison.head_entry), person, comparison.name)
    made.kept_style = comparison.house.model_dump(mode="json")
    made.notes, made.tags = comparison.notes, comparison.tags
    made.save()
    record(person.username, "copied to another study", comparison.study_id, of=comparison.name, to=study.name)
    record(person.username, "copied from another study", study.pk, of=comparison.name)
    return made


def _table_with(table: DataTable, steps: Sequence[Step], study: Study) -> DataTable | None:
    """The same file, read and prepared alike, in that study."""
    same = DataTable.objects.filter(study=study, raw__sha256=table.raw.sha256, told=table.told, replaced_by=None)
    return next((held for held in same if steps_at(held, newest_revision(held)) == list(steps)), None)


def copy_table(table: DataTable, study: Study, by: str) -> DataTable:
    """The table with its raw file and columns: each study's own, so that either can be erased."""
    raw = RawFile.objects.create(sha256=table.raw.sha256, name=table.raw.name, size=table.raw.size)
    made = DataTable.objects.create(
        study=study, name=table.name, raw=raw, options=table.options, told=table.told, rows=table.rows, remarks=table.remarks,
        columns=table.columns, notes=table.notes, by=by,
    )  # fmt: skip
    with connection.cursor() as cursor:
        # In the database itself: the bytes need not pass through here.
        cursor.execute(
            "INSERT INTO tables_rawpiece (raw_id, number, data) SELECT %s, number, data FROM tables_rawpiece WHERE raw_id = %s",
            [raw.pk, table.raw_id],
        )
        cursor.execute(
            "INSERT INTO tables_storedcolumn (table_id, place, buffer) "
            "SELECT %s, place, buffer FROM tables_storedcolumn WHERE table_id = %s",
            [made.pk, table.pk],
        )
    return made
