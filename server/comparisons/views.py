"""Comparisons: their state, their trail, their scenes and their files."""

from __future__ import annotations

import time
import uuid

from django.http import HttpResponse
from drf_spectacular.utils import OpenApiParameter, OpenApiTypes, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from echelle.drawing.figure import figure_bytes, scene_of_lanes
from echelle.errors import InputError
from echelle.figures.scene import PointsPart, Scene
from echelle.recipes.read import recipe_text
from echelle.recipes.seal import seal
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.comparisons.bodies import Ask, ComparisonState, ReadingRemark, Rename, Settle, Step, TrailState
from server.comparisons.models import Comparison, TrailEntry
from server.comparisons.trail import recipe_at, settle, step
from server.studies.access import to_change, to_see
from server.studies.models import Role
from server.tables.cache import lanes_of, table_of

_TYPES = {"svg": "image/svg+xml", "pdf": "application/pdf", "png": "image/png", "json": "application/json"}
_LOST = {409: Fault, 422: Fault}


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
        Comparison.objects.filter(pk=comparison.pk).update(name=name)
        comparison.refresh_from_db()
        return Response(_state(comparison, request))


class Trail(Endpoint):
    """Settled states."""

    @extend_schema(request=Settle, responses={200: ComparisonState, **_LOST})
    def post(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """Settle a state that can be drawn. A stale revision gets 409; the state is kept as a branch."""
        comparison = to_change(Comparison.objects.all(), request.user, comparison_id)
        wanted = body_of(request, Settle)
        scene_of_lanes(wanted.recipe, lanes_of(wanted.recipe, comparison.table))
        return Response(_state(settle(comparison.pk, wanted.revision, wanted.recipe, request.user), request))


class Head(Endpoint):
    """Which state is shown."""

    @extend_schema(request=Step, responses={200: ComparisonState, **_LOST})
    def put(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """Undo, redo, or go to any state."""
        comparison = to_change(Comparison.objects.all(), request.user, comparison_id)
        wanted = body_of(request, Step)
        return Response(_state(step(comparison.pk, wanted.revision, wanted.entry), request))


class ComparisonScene(Endpoint):
    """The drawing."""

    @extend_schema(request=Ask, responses={200: Scene, 422: Fault})
    def post(self, request: Request, comparison_id: uuid.UUID) -> Response:
        """Draw a recipe, or the shown state. Nothing is kept."""
        began = time.perf_counter()
        comparison = to_see(Comparison.objects.all(), request.user, comparison_id)
        ask = body_of(request, Ask)
        recipe = ask.recipe or recipe_at(_entry(comparison, ask.entry))
        scene = scene_of_lanes(recipe, lanes_of(recipe, comparison.table), ask.miniature)
        if ask.miniature or comparison.study.role_of(request.user) == Role.VIEWER:
            _without_rows(scene)
        _without_known(scene, frozenset(ask.have))
        response = Response(scene)
        response["Server-Timing"] = f"scene;dur={(time.perf_counter() - began) * 1000:.1f}"
        return response


class Export(Endpoint):
    """The figure as a file."""

    @extend_schema(
        parameters=[
            OpenApiParameter("entry", int, description="state of the trail; the shown one when left out"),
            OpenApiParameter("dpi", float, description="of a PNG, and of points drawn as an image"),
            OpenApiParameter("text", str, enum=["live", "outlines"], description="of an SVG"),
        ],
        responses={(200, "application/octet-stream"): OpenApiTypes.BINARY, 422: Fault},
    )
    def get(self, request: Request, comparison_id: uuid.UUID, file_format: str) -> HttpResponse:
        """Draw the sealed recipe into a file, or give that recipe (``recipe``): the command line makes the same bytes."""
        comparison = to_see(Comparison.objects.all(), request.user, comparison_id)
        entry = _entry(comparison, _whole(request.query_params.get("entry")))
        recipe = seal(recipe_at(entry), entry.at)
        if file_format == "recipe":
            return _file(recipe_text(recipe), "application/json", f"{comparison.name}.recipe.json")
        text = "outlines" if request.query_params.get("text") == "outlines" else "live"
        dpi = _number(request.query_params.get("dpi"), 300.0)
        if file_format not in ("svg", "pdf", "png"):
            raise InputError(f"no figure can be written as “{file_format}”", remedy="Choose svg, pdf or png.")
        data = figure_bytes(recipe, table_of(comparison.table), file_format, dpi, text)
        return _file(data, _TYPES[file_format], f"{comparison.name}.{file_format}")


def _state(comparison: Comparison, request: Request) -> ComparisonState:
    trail = list(comparison.trailentry_set.all())
    head = next(entry for entry in trail if entry.number == comparison.head)
    after = [entry.number for entry in trail if entry.parent == head.number and not entry.refused]
    table = comparison.table
    return ComparisonState(
        id=str(comparison.pk), name=comparison.name, study=str(comparison.study_id), study_name=comparison.study.name,
        role=comparison.study.role_of(request.user), table_name=table.name, rows=table.rows, revision=comparison.revision,
        head=head.number, undo=head.parent, redo=max(after, default=None), recipe=recipe_at(head), columns=table.columns,
        remarks=[ReadingRemark(**remark) for remark in table.remarks],
        trail=[
            TrailState(number=e.number, parent=e.parent, words=e.words, by=e.by, at=e.at, refused=e.refused) for e in trail
        ],
    )  # fmt: skip


def _without_rows(scene: Scene) -> None:
    """Take row ids out, for those who may look at the figure but not at rows."""
    for part in scene.walk():
        if isinstance(part, PointsPart):
            part.columns.rows = None
    for readings in scene.readings:
        for outlier in readings.outliers:
            outlier.row = None


def _without_known(scene: Scene, have: frozenset[str]) -> None:
    """Leave the data of points out that the browser already holds."""
    for part in scene.walk():
        if isinstance(part, PointsPart) and part.columns.digest in have:
            part.columns.x = part.columns.y = part.columns.rows = None


def _file(data: bytes, kind: str, name: str) -> HttpResponse:
    response = HttpResponse(data, content_type=kind)
    plain = "".join(c if c.isascii() and (c.isalnum() or c in " ._-") else "_" for c in name)
    response["Content-Disposition"] = f'attachment; filename="{plain}"'
    # A drawing opened on its own must not run or fetch anything.
    response["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'; sandbox"
    return response


def _entry(comparison: Comparison, number: int | None) -> TrailEntry:
    """A state of the trail; the shown one for None."""
    found = comparison.trailentry_set.filter(number=comparison.head if number is None else number).first()
    if found is None:
        raise InputError(f"the trail has no state {number}", remedy="Reload the page.")
    return found


def _whole(text: str | None) -> int | None:
    return int(text) if text and text.isdecimal() and len(text) < 10 else None


def _number(text: str | None, usual: float) -> float:
    try:
        return float(text) if text else usual
    except ValueError:
        raise InputError(f"“{text}” is no number", where="dpi", remedy="Give dpi such as 300.") from None
