"""A study in the shape of another: how it looks and works, and nothing of what it holds."""

from __future__ import annotations

from typing import Any

from echelle.errors import InputError
from echelle.tables.steps.columns import Rename
from echelle.tables.steps.files import named_tables
from echelle.tables.steps.registry import Step, StepList
from echelle.tables.steps.rows import LeaveOut
from server.accounts.models import Person
from server.folios.models import Folio
from server.studies.models import Study
from server.tables.models import DataTable
from server.tables.services.persons import Persons
from server.tables.services.preparation import newest_revision, steps_at

MOST_PREPARATIONS = 50


def shape_like(study: Study, model: Study, person: Person) -> None:
    """Give a new study house style, guides, empty folio pages, and, where the person sees the rows of the model, its ways of
    preparing tables.
    """
    study.house, study.guides, study.least_cell, study.bin_days = model.house, model.guides, model.least_cell, model.bin_days
    if model.shows_rows_to(person):
        study.preparations = [*_preparations(model), *model.preparations][:MOST_PREPARATIONS]
    study.save()
    for folio in model.folio_set.order_by("made"):
        Folio.objects.create(study=study, name=folio.name, page=folio.page)


def _preparations(model: Study) -> list[list[dict[str, Any]]]:
    """The steps of each table that nothing replaced, but for those that only hold there."""
    result = []
    for table in DataTable.objects.filter(study=model, replaced_by=None).order_by("made"):
        try:
            steps = steps_at(table, newest_revision(table))
        except InputError:
            # Steps of a later release stay where they are.
            continue
        persons = Persons(table, steps)
        general = [step for step in steps if _is_general(step, persons)]
        if general:
            result.append(StepList.dump_python(general, mode="json"))
    return result


def _is_general(step: Step, persons: Persons) -> bool:
    """Whether a step holds for other tables too: it is not about single rows, persons or another table."""
    if isinstance(step, LeaveOut) or list(named_tables([step])):
        return False
    return isinstance(step, Rename) or persons.masked(step) == step.model_dump(mode="json", by_alias=True)
