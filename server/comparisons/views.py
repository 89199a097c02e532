"""Comparisons: their state, their trail, their scenes and their files."""

from __future__ import annotations

import time
import uuid

from django.conf import settings
from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from echelle.errors import InputError
from echelle.figures.settings import Offered, offered
from echelle.recipes.default_recipe import beginning_with
from echelle.recipes.recipe import Recipe
from echelle.recipes.seal import style_of
from echelle.render import pictures_of_layer, scene_of_lanes
from echelle.scene.models import PointsPart, Scene
from echelle.tables.summary_statistics_tables import summary_columns
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.comparisons.bodies import (
    Ask,
    ComparisonState,
    Dismiss,
    GoTo,
    LayerPictures,
    NameState,
    NewComparison,
    NewCopy,
    NewerData,
    Rename,
    Settle,
    Take,
    TrailState,
    WithReason,
)
from server.comparisons.models import Comparison
from server.comparisons.scenes import asked_about, dressed, offers_style, rowless, without_rows
from server.comparisons.trail import (
    Data,
    begin,
    changeable,
    data_of,
    dismiss,
    entry_of,
    lock,
    new_version,
    newest_data,
    recipe_at,
    settle,
    step,
    take_newest,
)
from server.studies.access import as_uuid, to_change, to_see
from server.tables.bodies import ReadingRemark
from server.tables.cache import lanes_of, prepared_of, summaries_of
from server.tables.models import DataTable
from server.tables.preparing import newest_revision, steps_at

_LOST = {409: Fault, 422: Fault}


class Forms(Endpoint):
    """What figures are made of."""

    @extend_schema(responses=Offered)
    def get(self, request: Request) -> Response:
        """All forms and layers with their settings, and roles as they begin."""
        return Response(offered())


class Pictures(Endpoint):
    """What settings do."""

    @extend_schema(responses={200: LayerPictures, 422: Fault})
    def get(self, request: Request, layer: str) -> Response:
        """A layer's settings in tiny pictures over made-up lanes."""
        return Response(LayerPictures(pictures_of_layer(layer)))


class OneComparison(Endpoint):
    """A comparison as it stands."""

    @extend_schema(responses=ComparisonState)
    def get(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """Its shown recipe, its columns and its trail."""
        return Response(_state(to_see(Comparison.objects.all(), request.user, comparison_id), request))

    @extend_schema(request=Rename, responses=ComparisonState)
    def patch(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """Rename it."""
        comparison = to_change(Comparison.objects.all(), request.user, comparison_id)
        name = " ".join(body_of(request, Rename).name.split())[:200]
        if not name:
            raise InputError("a comparison needs a name", remedy="Give it one.")
        with transaction.atomic():
            comparison = changeable(comparison.pk)
            comparison.name = name
            comparison.save(update_fields=["name"])
        return Response(_state(comparison, request))


class Comparisons(Endpoint):
    """New comparisons."""

    @extend_schema(request=NewComparison, responses={200: ComparisonState, 422: Fault})
    def post(self, request: Request) -> Response:
        """Begin a comparison over a table's newest preparation: of the measure and groups named, or of those that fit best."""
        wanted = body_of(request, NewComparison)
        table = to_change(DataTable.objects.all(), request.user, as_uuid(wanted.table))
        steps = steps_at(table, newest_revision(table))
        columns = summaries_of(table, steps)
        summary = summary_columns(columns, prepared_of(table, steps).table.rows if steps else table.rows)
        recipe = beginning_with(columns, wanted.measure, wanted.groups, summary)
        name = ", ".join(recipe.measure.columns[:2]) + (f" by {recipe.groups.column}" if recipe.groups else "")
        made = begin(table, recipe, request.user, name)
        return Response(_state(made, request))


class TakeNewest(Endpoint):
    """Newer data."""

    @extend_schema(request=Take, responses={200: ComparisonState, **_LOST})
    def post(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """Draw the shown recipe over the newest file and preparation from now on; the state before stays in the trail."""
        comparison = to_change(Comparison.objects.all(), request.user, comparison_id)
        recipe, data = recipe_at(comparison.head_entry), newest_data(comparison)
        if data is not None:
            scene_of_lanes(recipe, lanes_of(recipe, data.table, data.steps))
        return Response(_state(take_newest(comparison.pk, body_of(request, Take).revision, request.user), request))


class Trail(Endpoint):
    """Settled states."""

    @extend_schema(request=Settle, responses={200: ComparisonState, **_LOST})
    def post(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """Settle a state that can be drawn. A stale revision gets 409; the state is kept as a branch."""
        comparison = to_change(Comparison.objects.all(), request.user, comparison_id)
        wanted = body_of(request, Settle)
        data = data_of(comparison)
        scene_of_lanes(wanted.recipe, lanes_of(wanted.recipe, data.table, data.steps))
        return Response(_state(settle(comparison.pk, wanted.revision, wanted.recipe, request.user), request))


class Head(Endpoint):
    """Which state is shown."""

    @extend_schema(request=GoTo, responses={200: ComparisonState, **_LOST})
    def put(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """Undo, redo, or go to any state."""
        comparison = to_change(Comparison.objects.all(), request.user, comparison_id)
        wanted = body_of(request, GoTo)
        return Response(_state(step(comparison.pk, wanted.revision, wanted.entry), request))


class ComparisonScene(Endpoint):
    """The drawing."""

    @extend_schema(request=Ask, responses={200: Scene, 422: Fault})
    def post(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """Draw a recipe, or the shown state. Nothing is kept."""
        began = time.perf_counter()
        comparison = to_see(Comparison.objects.select_related("study"), request.user, comparison_id)
        ask = body_of(request, Ask)
        entry = entry_of(comparison, ask.entry)
        looking = not comparison.study.shows_rows_to(request.user)
        recipe = asked_about(comparison, ask.recipe, not looking) if ask.recipe else recipe_at(entry)
        data = (newest_data(comparison) if ask.newest else None) or data_of(comparison, entry)
        lanes = lanes_of(recipe, data.table, data.steps)
        house = comparison.study.style if ask.newest_style else None
        told = dressed(rowless(recipe) if looking else recipe, comparison, house)
        scene = scene_of_lanes(told, lanes, ask.miniature, settings.MOST_SCREEN_POINTS)
        if ask.miniature or looking:
            without_rows(scene)
        _without_known(scene, frozenset(ask.have))
        response = Response(scene)
        response["Server-Timing"] = f"scene;dur={(time.perf_counter() - began) * 1000:.1f}"
        return response


class DismissAdvice(Endpoint):
    """Advice that was read."""

    @extend_schema(request=Dismiss, responses=ComparisonState)
    def put(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """Keep a piece of advice from showing again, for everyone; or let it."""
        comparison = to_change(Comparison.objects.all(), request.user, comparison_id)
        wanted = body_of(request, Dismiss)
        return Response(_state(dismiss(comparison.pk, wanted.key, wanted.dismissed), request))


class TrailRecipe(Endpoint):
    """The recipe of a state."""

    @extend_schema(responses={200: Recipe, 422: Fault})
    def get(self, request: Request, comparison_id: uuid.UUID, number: int) -> Response:
        """As it was settled."""
        comparison = to_see(Comparison.objects.all(), request.user, comparison_id)
        recipe = recipe_at(entry_of(comparison, number))
        return Response(recipe if comparison.study.shows_rows_to(request.user) else rowless(recipe))


class StateName(Endpoint):
    """The name of a state."""

    @extend_schema(request=NameState, responses=ComparisonState)
    def put(self, request: Request, comparison_id: uuid.UUID, number: int) -> Response:
        """Name a state of the trail."""
        comparison = to_change(Comparison.objects.all(), request.user, comparison_id)
        name = " ".join(body_of(request, NameState).name.split())
        with transaction.atomic():
            entry = entry_of(changeable(comparison.pk), number)
            entry.name = name
            entry.save(update_fields=["name"])
        return Response(_state(comparison, request))


class Lock(Endpoint):
    """Sign-off."""

    @extend_schema(request=WithReason, responses={200: ComparisonState, 422: Fault})
    def put(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """Lock what is shown, with name, time and reason; it then changes only as a new version."""
        comparison = to_change(Comparison.objects.all(), request.user, comparison_id)
        return Response(_state(lock(comparison.pk, request.user, body_of(request, WithReason).reason), request))


class TakeStyle(Endpoint):
    """A newer house style."""

    @extend_schema(request=None, responses={200: ComparisonState, 422: Fault})
    def post(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """Draw the comparison in the study's newest house style from now on."""
        to_change(Comparison.objects.all(), request.user, comparison_id)
        with transaction.atomic():
            comparison = changeable(comparison_id)
            comparison.kept_style = None
            comparison.save(update_fields=["kept_style"])
        return Response(_state(comparison, request))


class Versions(Endpoint):
    """What follows a locked comparison."""

    @extend_schema(request=None, responses={200: ComparisonState, 422: Fault})
    def post(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """A new version, which begins with what this one shows."""
        comparison = to_change(Comparison.objects.all(), request.user, comparison_id)
        return Response(_state(new_version(comparison, request.user), request))


class Copies(Endpoint):
    """Comparisons that begin with a state of another."""

    @extend_schema(request=NewCopy, responses={200: ComparisonState, 422: Fault})
    def post(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """A state, or a recipe over its data, as a comparison of its own."""
        comparison = to_change(Comparison.objects.all(), request.user, comparison_id)
        wanted = body_of(request, NewCopy)
        entry = entry_of(comparison, wanted.entry)
        recipe, data = wanted.recipe or recipe_at(entry), data_of(comparison, entry)
        scene_of_lanes(recipe, lanes_of(recipe, data.table, data.steps), miniature=True)
        name = " ".join(wanted.name.split()) or f"{comparison.name} (copy)"
        return Response(_state(begin(data.table, recipe, request.user, name, data.preparation, comparison), request))


def _state(comparison: Comparison, request: Request) -> ComparisonState:
    trail = list(comparison.trailentry_set.all())
    head = next(entry for entry in trail if entry.number == comparison.head)
    after = [entry.number for entry in trail if entry.parent == head.number and not entry.refused]
    data = data_of(comparison, head)
    table, steps, newer = data.table, data.steps, newest_data(comparison)
    recipe, looking = recipe_at(head), not comparison.study.shows_rows_to(request.user)
    return ComparisonState(
        id=str(comparison.pk), name=comparison.name, study=str(comparison.study_id), study_name=comparison.study.name,
        role=comparison.study.role_of(request.user), table=str(table.pk), table_name=table.name,
        preparation=data.preparation, rows=table.rows, revision=comparison.revision, head=head.number, undo=head.parent,
        redo=max(after, default=None), recipe=rowless(recipe) if looking else recipe, columns=summaries_of(table, steps),
        newer=NewerData(table=str(newer.table.pk), words=_newer_words(data, newer)) if newer else None,
        remarks=[] if looking else [ReadingRemark.model_validate(remark) for remark in table.remarks],
        dismissed=comparison.dismissed, version=comparison.version, locked=comparison.lock_words,
        style=style_of(recipe, comparison.house), newer_style=offers_style(comparison, recipe),
        trail=[
            TrailState(number=e.number, parent=e.parent, words=e.words, by=e.by, at=e.at, refused=e.refused, name=e.name)
            for e in trail
        ],
    )  # fmt: skip


def _newer_words(shown: Data, newer: Data) -> str:
    if newer.table == shown.table:
        return f"The preparation of {newer.table.name} changed since this figure was drawn."
    if newer.table.raw_id == shown.table.raw_id:
        return f"{newer.table.name} is read in another way since this figure was drawn."
    return f"A newer file of {shown.table.name} came since this figure was drawn."


def _without_known(scene: Scene, have: frozenset[str]) -> None:
    """Leave the data of points out that the browser already holds."""
    for part in scene.walk():
        if isinstance(part, PointsPart) and part.columns.digest in have:
            part.columns.x = part.columns.y = part.columns.rows = None
