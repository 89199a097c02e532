"""Makes the demo study "Night work and cortisol" for the demo analyst, unless it is there."""

from __future__ import annotations

import hashlib
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand
from django.db import transaction

from echelle.recipes.default_recipe import default_recipe
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.guides import Guide
from echelle.recipes.recipe import Recipe
from echelle.recipes.style import Words
from echelle.tables.column_summary import ColumnSummary
from echelle.tables.steps.conditions import OneOf
from server.accounts.models import Person
from server.comparisons.services.trail import begin
from server.studies.models import Study, make_study
from server.tables.models import DataTable, ReadingJob
from server.tables.services.reading import keep_raw, read_pieces

STUDY = "Night work and cortisol"
ANALYST = "demo"


class Command(BaseCommand):
    """./run calls it before serving."""

    help = __doc__

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        """Make person, study, table and comparison."""
        analyst, made = Person.objects.get_or_create(username=ANALYST, defaults={"first_name": "Demo", "last_name": "Analyst"})
        if made:
            analyst.set_unusable_password()
            analyst.save()
        if Study.objects.seen_by(analyst).filter(name=STUDY).exists():
            return
        study = make_study(STUDY, analyst)
        table = _table(study, analyst, "samples.csv")
        begin(table, waking_by_shift(), analyst, "Waking level by shift")
        begin(table, through_the_day(), analyst, "Cortisol through the day")
        people = _table(study, analyst, "participants.csv")
        begin(people, recipe_of_form("box", "night work", "chronotype"), analyst, "Years of night work by chronotype")
        lots = _table(study, analyst, "clotting_lots.csv")
        columns = [ColumnSummary.model_validate(column) for column in lots.columns]
        begin(lots, default_recipe(columns), analyst, "Clotting time by reagent lot")


def waking_by_shift() -> Recipe:
    """Waking cortisol by shift pattern."""
    recipe = recipe_of_form("box", "cortisol", "shift pattern")
    assert recipe.groups is not None
    groups = recipe.groups.model_copy(update={"order": ["Day", "Evening", "Rotating", "Night"]})
    words = Words(title="Waking cortisol falls with night work", measure="Salivary cortisol at waking (nmol/L)")
    return recipe.model_copy(update={"keep": [OneOf(column="sample", values=["Waking"])], "groups": groups, "words": words})


def through_the_day() -> Recipe:
    """Every sample of the day as a raincloud, with the interval that laboratories name for the morning."""
    recipe = recipe_of_form("raincloud", "cortisol", "sample")
    guides = [Guide(band=(7.0, 20.0), label="morning reference")]
    return recipe.model_copy(
        update={"guides": guides, "words": Words(title="Cortisol rises after waking and falls by bedtime")}
    )


def _table(study: Study, analyst: Person, name: str) -> DataTable:
    data = (settings.ROOT / "demo" / name).read_bytes()
    digest = hashlib.sha256(data).hexdigest()
    job = ReadingJob(study=study, person=analyst, name=name, sha256=digest, size=len(data))
    table = keep_raw(job, [data], read_pieces([data], {}))
    job.delete()
    return table
