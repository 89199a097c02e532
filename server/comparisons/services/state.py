"""A comparison as the page gets it."""

from __future__ import annotations

import hashlib
from itertools import chain
from typing import Any

import orjson
from django.db.models import Max

from echelle.errors import InputError
from echelle.recipes.default_recipe import default_recipe
from echelle.recipes.recipe import Recipe
from echelle.recipes.seal import style_of
from server.accounts.models import Person
from server.comparisons.bodies import (
    ComparisonState,
    NewerData,
    TrailState,
)
from server.comparisons.models import Comparison, TrailEntry
from server.comparisons.services.scenes import offers_style, recipe_without_rows
from server.comparisons.services.trail import (
    Data,
    data_of,
    newest_data,
    recipe_at,
    state_digest,
)
from server.tables.bodies import ReadingRemark
from server.tables.services.cache import summaries_of
from server.tables.services.persons import Persons

MOST_STATES = 200


def comparison_state(comparison: Comparison, person: Person) -> ComparisonState | dict[str, Any]:
    """The comparison as a person sees it: without rows, and naming nobody, where they may see none."""
    head = comparison.head_entry
    after = comparison.trailentry_set.filter(parent=head.number, refused=False).aggregate(last=Max("number"))["last"]
    trail, earlier = trail_page(comparison)
    data = data_of(comparison, head)
    table, newer = data.table, newest_data(comparison)
    recipe, unreadable = _readable(comparison, head, data)
    looking = not comparison.study.shows_rows_to(person)
    persons = Persons(data.table, data.steps)
    state = ComparisonState(
        id=str(comparison.pk), name=comparison.name, study=str(comparison.study_id), study_name=comparison.study.name,
        role=comparison.study.role_of(person), table=str(table.pk), table_name=table.name,
        preparation=data.preparation, rows=table.rows, revision=comparison.revision, head=head.number,
        digest=state_digest(comparison, head), mark=mark_of(comparison),
        undo=head.parent,
        redo=after, recipe=recipe_without_rows(recipe) if looking else recipe,
        columns=persons.without_names(persons.columns) if looking else persons.columns,
        newer=NewerData(table=str(newer.table.pk), words=_newer_words(data, newer)) if newer else None,
        remarks=[] if looking else [ReadingRemark.model_validate(remark) for remark in table.remarks],
        notes="" if looking else comparison.notes, tags=[] if looking else comparison.tags, watched=comparison.watched,
        alarm=comparison.alarm, shelf=comparison.shelf, pinned=comparison.visit_set.filter(person=person, pinned=True).exists(),
        open_remarks=0 if looking else comparison.open_remarks,
        unreadable=unreadable, dismissed=comparison.dismissed, version=comparison.version, locked=comparison.lock_words,
        style=style_of(recipe, comparison.house), newer_style=offers_style(comparison, recipe),
        trail=trail, earlier=earlier,
    )  # fmt: skip
    return persons.masked(state) if looking else state


def trail_page(comparison: Comparison, before: int | None = None) -> tuple[list[TrailState], bool]:
    """The last states of the trail, or the last before one of them; and whether there are earlier ones."""
    entries = comparison.trailentry_set.defer("recipe").order_by("-number")
    page = list((entries if before is None else entries.filter(number__lt=before))[: MOST_STATES + 1])
    states = [
        TrailState(
            number=e.number, parent=e.parent, words=e.words, by=e.by, at=e.at, refused=e.refused, foreign=e.foreign, name=e.name
        )
        for e in reversed(page[:MOST_STATES])
    ]  # fmt: skip
    return states, len(page) > MOST_STATES


def _readable(comparison: Comparison, head: TrailEntry, data: Data) -> tuple[Recipe, str]:
    """The recipe of the shown state; where it cannot be read, of the last state before it that can be, and why."""
    reason = ""
    before = comparison.trailentry_set.filter(number__lt=head.number).order_by("-number")
    for entry in chain([head], before.iterator()):
        try:
            return recipe_at(entry), reason
        except InputError as error:
            reason = reason or error.sentence()
    return default_recipe(summaries_of(data.table, data.steps)), reason


def mark_of(comparison: Comparison) -> str:
    """What changes with everything that the page shows of a comparison."""
    newest = newest_data(comparison)
    told = [
        comparison.revision, comparison.name, comparison.dismissed, comparison.notes, comparison.tags, comparison.watched,
        comparison.alarm, comparison.shelf, comparison.open_remarks,
        comparison.lock_words, comparison.kept_style is None,
        comparison.study.house_revision, newest and [str(newest.table.pk), newest.preparation],
    ]  # fmt: skip
    return hashlib.sha256(orjson.dumps(told)).hexdigest()[:16]


def _newer_words(shown: Data, newer: Data) -> str:
    if newer.table == shown.table:
        return f"The preparation of {newer.table.name} changed since this figure was drawn."
    if newer.table.raw_id == shown.table.raw_id:
        return f"{newer.table.name} is read in another way since this figure was drawn."
    return f"A newer file of {shown.table.name} came since this figure was drawn."
