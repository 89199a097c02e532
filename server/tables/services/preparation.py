"""Revisions of a table's preparation, and the prepared tables that workers have at hand."""

from __future__ import annotations

import uuid
from collections.abc import Sequence

import orjson
from django.db import transaction

from echelle.errors import InputError
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.steps.files import steps_from
from echelle.tables.steps.joining import TableRef
from echelle.tables.steps.registry import Step, StepList
from echelle.tables.steps.words import preparation_words
from server.accounts.models import Person
from server.api.faults import StalePreparation
from server.tables.models import DataTable, Preparation, RawFile

MOST_STEPS = 200


def newest_revision(table: DataTable) -> int:
    """The number of the newest preparation; 0 for the table as read."""
    return table.preparation_set.order_by("-revision").values_list("revision", flat=True).first() or 0


def steps_at(table: DataTable, revision: int) -> list[Step]:
    """The steps of a revision."""
    if revision == 0:
        return []
    result = table.preparation_set.filter(revision=revision).first()
    if result is None:
        raise InputError(f"the preparation has no revision {revision}", remedy="Reload the page.")
    return steps_from(result.steps)


def newest_of(table: DataTable) -> DataTable:
    """The table that replaced this one last; the table itself where none did."""
    while (newer := table.replaced_by.order_by("-made").first()) is not None:
        table = newer
    return table


def settle_steps(table: DataTable, revision: int, steps: Sequence[Step], person: Person) -> int:
    """A new revision after ``revision``; equal steps make none. Raises StalePreparation where that is not the newest."""
    if len(steps) > MOST_STEPS:
        raise InputError(f"a preparation has at most {MOST_STEPS} steps", remedy="Join some of them into one.")
    with transaction.atomic():
        DataTable.objects.select_for_update().get(pk=table.pk)
        newest = newest_revision(table)
        before = steps_at(table, newest)
        if newest != revision:
            raise StalePreparation(newest)
        if list(steps) == before:
            return newest
        return _add(table, newest + 1, steps, preparation_words(before, list(steps)), person.shown_name)


def carry_over(older: DataTable, newer: DataTable, by: str) -> None:
    """The newest steps of a replaced table become the first preparation of the one that replaces it."""
    steps = steps_at(older, newest_revision(older))
    if steps:
        _add(newer, 1, steps, "carried over", by)


def _add(table: DataTable, revision: int, steps: Sequence[Step], words: str, by: str) -> int:
    Preparation.objects.create(
        table=table, revision=revision, steps=StepList.dump_python(list(steps), mode="json"), words=words[:200], by=by
    )
    return revision


def steps_key(steps: Sequence[Step]) -> bytes:
    """Steps as one key for caches."""
    return orjson.dumps(StepList.dump_python(list(steps), mode="json"))


def table_named(study: uuid.UUID, ref: TableRef) -> DataTable | RawFile:
    """The table of a study that a step names, the same file read the same way; or the file, where nobody read it so."""
    told = ref.options.model_dump(mode="json", exclude_none=True)
    files = DataTable.objects.filter(study=study, raw__sha256=ref.sha256).select_related("raw")
    for file in files:
        if file.told == told:
            return file
    if files:
        return files[0].raw
    raise InputError(f"{ref.name} is not in this study", where=ref.name, remedy="Bring that file to the study.")


def reference_to(table: DataTable) -> TableRef:
    """A step's reference to a table as it is prepared now."""
    return TableRef(
        name=table.name, sha256=table.raw.sha256, options=ReadingOptions.model_validate(table.told),
        prepare=steps_at(table, newest_revision(table)),
    )  # fmt: skip
