"""Figures that take long: drawn by the worker, piece by piece, for whoever waits for them."""

from __future__ import annotations

import hashlib
import time
import zlib
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

import orjson
from django.conf import settings
from django.db import transaction
from django.utils import timezone
from procrastinate.contrib.django import app

from echelle.errors import InputError
from echelle.figures.lanes.lane import Arrangement
from echelle.figures.layers.cost import seconds_of
from echelle.progress import every, stepwise
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of_lanes
from echelle.scene.models import Scene
from server.accounts.models import Person
from server.api.faults import BeingDrawn, fault_of
from server.comparisons.models import Comparison, Drawing
from server.comparisons.services.scenes import strip_rows, takes_long
from server.comparisons.services.trail import Data
from server.tables.services.cache import lanes_of
from server.tables.services.counting import QUEUE
from server.tables.services.persons import Persons

# So long an answer waits for a drawing that may be quick, and so often somebody looks how far it is.
_PATIENCE, _LOOK = 1.0, 0.1
_KEPT = timedelta(days=30)
# Whoever waits asks every second; after this long nobody does.
_FORGOTTEN = timedelta(seconds=10)


class Stopped(Exception):
    """Somebody stopped the drawing, or nobody asks for it any more."""


@dataclass(frozen=True)
class Figure:
    """What is to be drawn for somebody: a recipe, the same as it is told to them, and the data whose lanes are arranged."""

    comparison: Comparison
    recipe: Recipe
    told: Recipe
    data: Data
    lanes: Arrangement
    sees_rows: bool


def scene_of_figure(figure: Figure, person: Person) -> Scene:
    """The scene, drawn at once or by the worker. Raises InputError where it cannot be drawn or somebody stopped it, BeingDrawn
    while it is drawn.
    """
    if figure.data.table.is_far or not takes_long(figure.told, figure.lanes):
        return _drawn(figure.told, figure.lanes, figure.data, figure.sees_rows)
    drawing = _done(figure) or _begun(figure, person)
    Drawing.objects.filter(pk=drawing.pk).update(asked_at=timezone.now())
    until = time.monotonic() + _PATIENCE
    while drawing.state in Drawing.UNFINISHED and time.monotonic() < until:
        time.sleep(_LOOK)
        drawing.refresh_from_db()
    if drawing.state == Drawing.State.DONE:
        return _unpacked(drawing.scene)
    if drawing.state == Drawing.State.REFUSED:
        raise InputError(**{name: (drawing.fault or {}).get(name, "") for name in ("what", "where", "remedy")})
    if drawing.state == Drawing.State.STOPPED:
        raise InputError("the drawing of this figure was stopped", remedy="Go on with it beside the figure, or change it.")
    raise BeingDrawn(drawing.done, drawing.of)


def small_scene_of(figure: Figure) -> Scene:
    """The scene in small, without rows. Raises InputError for a figure that takes long and was not drawn yet."""
    if takes_long(figure.told, figure.lanes):
        done = _done(figure)
        if done is None:
            raise InputError("this figure takes some seconds to draw", remedy="Open it.")
        return _unpacked(done.small)
    return _in_small(figure.told, figure.lanes, figure.data, figure.sees_rows)


def _done(figure: Figure) -> Drawing | None:
    """The figure as it was drawn already, for whomever it was."""
    return Drawing.objects.filter(comparison=figure.comparison, digest=_digest(figure), state=Drawing.State.DONE).first()


def _asked(figure: Figure) -> dict[str, Any]:
    return {
        "recipe": figure.recipe.model_dump(mode="json"), "told": figure.told.model_dump(mode="json"),
        "preparation": figure.data.preparation, "sees_rows": figure.sees_rows,
    }  # fmt: skip


def _digest(figure: Figure) -> str:
    named = [str(figure.data.table.pk), _asked(figure)]
    return hashlib.sha256(orjson.dumps(named, option=orjson.OPT_SORT_KEYS)).hexdigest()


def _begun(figure: Figure, person: Person) -> Drawing:
    """The person's own drawing of a figure, begun where it is none yet: nobody stops another one's."""
    seconds = max(1, round(seconds_of(figure.told, figure.lanes)))
    begins = {"asked": _asked(figure), "of": seconds, "table": figure.data.table}
    with transaction.atomic():
        drawing, new = Drawing.objects.get_or_create(
            comparison=figure.comparison, person=person, digest=_digest(figure), defaults=begins
        )
        if new:
            Drawing.objects.filter(made__lt=timezone.now() - _KEPT).delete()
            defer_drawing(drawing)
    return drawing


def defer_drawing(drawing: Drawing) -> None:
    """Hand the drawing to the worker."""
    app.configure_task("draw_figure", queue=QUEUE).defer(drawing_id=drawing.pk)


def run_drawing(drawing: Drawing) -> None:
    """Draw the figure, unless it is stopped on the way, or nobody waits for it any more: asked for again it begins anew."""
    mine = Drawing.objects.filter(pk=drawing.pk)

    def go_on(**now: Any) -> None:
        awaited = mine.filter(state__in=Drawing.UNFINISHED, asked_at__gte=timezone.now() - _FORGOTTEN)
        if not awaited.update(state=Drawing.State.DRAWING, **now):
            mine.filter(state__in=Drawing.UNFINISHED).delete()
            raise Stopped

    began = time.monotonic()

    def look() -> None:
        # It may take longer than was thought, but not be done before it is.
        go_on(done=min(round(time.monotonic() - began), max(0, drawing.of - 1)))

    try:
        go_on()
        with stepwise(every(_LOOK, look)):
            asked, data = drawing.asked, Data(drawing.table, drawing.asked["preparation"])
            lanes = lanes_of(Recipe.model_validate(asked["recipe"]), data.table, data.steps)
            shown = (Recipe.model_validate(asked["told"]), lanes, data, asked["sees_rows"])
            scenes = {"scene": _packed(_drawn(*shown)), "small": _packed(_in_small(*shown))}
    except Stopped:
        return
    except InputError as error:
        mine.filter(state=Drawing.State.DRAWING).update(state=Drawing.State.REFUSED, fault=fault_of(error).model_dump())
        return
    mine.filter(state=Drawing.State.DRAWING).update(state=Drawing.State.DONE, done=drawing.of, **scenes)


def _drawn(told: Recipe, lanes: Arrangement, data: Data, sees_rows: bool) -> Scene:
    scene = scene_of_lanes(told, lanes, False, settings.MOST_SCREEN_POINTS)
    if not sees_rows:
        strip_rows(scene, Persons(data.table, data.steps))
    return scene


def _in_small(told: Recipe, lanes: Arrangement, data: Data, sees_rows: bool) -> Scene:
    scene = scene_of_lanes(told, lanes, miniature=True)
    strip_rows(scene, None if sees_rows else Persons(data.table, data.steps))
    return scene


def _packed(scene: Scene) -> bytes:
    return zlib.compress(scene.model_dump_json().encode(), 1)


def _unpacked(kept: bytes | memoryview | None) -> Scene:
    return Scene.model_validate_json(zlib.decompress(bytes(kept or b"")))
