"""A comparison as the page gets it."""

from __future__ import annotations

import hashlib
from typing import Any

import orjson

from echelle.recipes.seal import style_of
from server.accounts.models import Person
from server.comparisons.bodies import (
    ComparisonState,
    NewerData,
    TrailState,
)
from server.comparisons.models import Comparison
from server.comparisons.services.scenes import offers_style, recipe_without_rows
from server.comparisons.services.trail import (
    Data,
    data_of,
    newest_data,
    recipe_at,
    state_digest,
)
from server.tables.bodies import ReadingRemark
from server.tables.services.persons import Persons


def comparison_state(comparison: Comparison, person: Person) -> ComparisonState | dict[str, Any]:
    """The comparison as a person sees it: without rows, and naming nobody, where they may see none."""
    trail = list(comparison.trailentry_set.all())
    head = next(entry for entry in trail if entry.number == comparison.head)
    after = [entry.number for entry in trail if entry.parent == head.number and not entry.refused]
    data = data_of(comparison, head)
    table, newer = data.table, newest_data(comparison)
    recipe, looking = recipe_at(head), not comparison.study.shows_rows_to(person)
    persons = Persons(data.table, data.steps)
    state = ComparisonState(
        id=str(comparison.pk), name=comparison.name, study=str(comparison.study_id), study_name=comparison.study.name,
        role=comparison.study.role_of(person), table=str(table.pk), table_name=table.name,
        preparation=data.preparation, rows=table.rows, revision=comparison.revision, head=head.number,
        digest=state_digest(comparison, head), mark=mark_of(comparison),
        undo=head.parent,
        redo=max(after, default=None), recipe=recipe_without_rows(recipe) if looking else recipe,
        columns=persons.without_names(persons.columns) if looking else persons.columns,
        newer=NewerData(table=str(newer.table.pk), words=_newer_words(data, newer)) if newer else None,
        remarks=[] if looking else [ReadingRemark.model_validate(remark) for remark in table.remarks],
        dismissed=comparison.dismissed, version=comparison.version, locked=comparison.lock_words,
        style=style_of(recipe, comparison.house), newer_style=offers_style(comparison, recipe),
        trail=[
            TrailState(
                number=e.number, parent=e.parent, words=e.words, by=e.by, at=e.at, refused=e.refused, foreign=e.foreign,
                name=e.name,
            )
            for e in trail
        ],
    )  # fmt: skip
    return persons.masked(state) if looking else state


def mark_of(comparison: Comparison) -> str:
    """What changes with everything that the page shows of a comparison, from two queries."""
    newest = newest_data(comparison)
    told = [
        comparison.revision, comparison.name, comparison.dismissed, comparison.lock_words, comparison.kept_style is None,
        comparison.study.house_revision, newest and [str(newest.table.pk), newest.preparation],
    ]  # fmt: skip
    return hashlib.sha256(orjson.dumps(told)).hexdigest()[:16]


def _newer_words(shown: Data, newer: Data) -> str:
    if newer.table == shown.table:
        return f"The preparation of {newer.table.name} changed since this figure was drawn."
    if newer.table.raw_id == shown.table.raw_id:
        return f"{newer.table.name} is read in another way since this figure was drawn."
    return f"A newer file of {shown.table.name} came since this figure was drawn."
