"""A layer that nobody has written: its model, its file and its name in the registry are all that it takes."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

from echelle.recipes.layers import LAYER_MODELS

ROOT = Path(__file__).parents[2]
MODEL = '''
from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from echelle.recipes.layers.base import WIDTH, AnyLayer
from echelle.recipes.settings import SettingInfo


class RungLayer(AnyLayer):
    """A rung at the middle of each lane's range."""

    title: ClassVar[str] = "Rung"
    layer: Literal["rung"] = "rung"
    width: Annotated[float, WIDTH] = Field(default=0.4, ge=0.1, le=1.0)
    of: Annotated[Literal["range", "quartiles"], SettingInfo("Between which two numbers it stands.", computed=True)] = "range"
    beside: Annotated[str | None, SettingInfo("A column that it looks at.", column=True)] = None
'''
LAYER = """
from __future__ import annotations

from collections.abc import Iterator

from echelle.catalogue.catalogue import Catalogue
from echelle.figures.lanes.figure_context import FigureContext, Measurement
from echelle.figures.layers.base import Explanation, Layer, LaneView, NoteContext
from echelle.recipes.layers.rung import RungLayer
from echelle.scene.models import Handle, Paint, ScenePart


def _measure(layer: RungLayer, context: FigureContext) -> Measurement[float]:
    lanes = {lane.key: (lane.extent[0] + lane.extent[1]) / 2 for lane in context.arrangement.lanes if lane.extent}
    return Measurement(lanes, {key: (at, at) for key, at in lanes.items()})


def _draw(layer: RungLayer, view: LaneView[float]) -> list[ScenePart]:
    if view.data is None:
        return []
    a, b = view.band.spread(0.0, layer.width)
    at = view.frame.along(view.data)
    return [view.frame.line(view.mark(layer.id, "line"), at, a, at, b, Paint(stroke=view.style.ink, stroke_width=1.0))]


def _handles(layer: RungLayer, place: int, view: LaneView[float]) -> list[Handle]:
    lane = view.band.lane.key
    return [
        Handle(
            key=f"{view.frame.key}/{lane}/{layer.id}/width", panel=view.frame.key, lane=lane, layer=layer.id, role="lane-width",
            at=0.0, origin=0.0, unit=1.0, least=0.1, most=1.0, step=0.01, value=layer.width, path=["layers", place, "width"],
            name="width of the rung",
        )
    ]


def _note(layer: RungLayer, note: NoteContext[float]) -> list[str]:
    return [f"Rungs: the middle of the {layer.of}, in {len(note.measured.lanes)} lanes."]


def _explain(layer: RungLayer, words: Catalogue) -> Iterator[Explanation]:
    yield "line", "A rung is the middle of the range."


LAYER = Layer[RungLayer, float](
    settings=RungLayer, note=_note, brief=lambda layer, words: "rungs", explain=_explain, measure=_measure, draw=_draw,
    handles=_handles,
)
"""
CHECKS = """
from echelle.figures.settings import figure_options
from echelle.figures.words.method_note import method_note
from echelle.recipes.forms import in_form, recipe_of_form
from echelle.recipes.parse import recipe_from, recipe_text
from echelle.recipes.seal import schema
from echelle.recipes.used_columns import extra_columns
from echelle.render import pictures_of_layer, reader_key_of, scene_of
from echelle.figures.lanes.arrange import arrange
from tests.support.tables import lanes_table

table = lanes_table({"a": [1.0, 2.0, 5.0], "b": [3.0, 4.0, 9.0]})
usual = recipe_of_form("box", "level", "group").model_dump(mode="json")
box, rung = usual["layers"][0], {"layer": "rung", "id": "r1"}
recipe = recipe_from({**usual, "layers": [box, rung]})
assert recipe_from(recipe_text(recipe)) == recipe, "the recipe is read and written"
scene = scene_of(recipe, table)
assert [part.layer for part in scene.walk() if part.role == "line" and part.layer == "r1"], "marks"
assert "Rungs: the middle of the range, in 2 lanes." in scene.note, "method note"
assert [handle.name for handle in scene.handles if handle.layer == "r1"] == ["width of the rung"] * 2, "handles"
short = recipe.model_dump(mode="json")
short["words"]["note"] = {"length": "short"}
assert "rungs" in scene_of(recipe_from(short), table).note, "the short note"
key = reader_key_of(recipe_from({**usual, "layers": [rung]}), arrange(recipe, table))
assert "A rung is the middle of the range." in " ".join(part.text for part in key.walk() if part.part == "text"), "reader's key"
offer = next(layer for layer in figure_options().layers if layer.layer == "rung")
settings = {setting.path[-1]: setting for setting in offer.settings}
assert offer.title == "Rung" and settings["of"].meaning == "Between which two numbers it stands.", "settings on the page"
assert (settings["width"].least, settings["width"].most, settings["width"].kind) == (0.1, 1.0, "amount"), "ranges"
assert settings["beside"].kind == "column"
named = recipe_from({**usual, "layers": [{**rung, "beside": "group"}]})
assert extra_columns(named) == ["group"], "columns that it looks at"
pictures = {tuple(p.path): len(p.pictures) for p in pictures_of_layer("rung")}
assert pictures[("width",)] == 2 and pictures[("of",)] == 2, "previews"
assert "RungLayer" in schema()["$defs"], "schema"
kept = in_form(recipe_from({**usual, "layers": [{**rung, "of": "quartiles"}]}), "violin")
assert [layer.layer for layer in kept.layers] == ["density"], "forms"
print("complete")
"""


def test_three_places_make_a_layer_complete(tmp_path: Path) -> None:
    shutil.copytree(ROOT / "echelle", tmp_path / "echelle", ignore=shutil.ignore_patterns("__pycache__"))
    (tmp_path / "tests").symlink_to(ROOT / "tests")
    models = tmp_path / "echelle/recipes/layers"
    (models / "rung.py").write_text(MODEL)
    (tmp_path / "echelle/figures/layers/rung.py").write_text(LAYER)
    registry = (models / "__init__.py").read_text()
    registry = registry.replace("\nLAYER_MODELS", "\nfrom echelle.recipes.layers.rung import RungLayer\n\nLAYER_MODELS", 1)
    (models / "__init__.py").write_text(registry.replace("    ControlLayer,\n)", "    ControlLayer, RungLayer,\n)"))
    # The folder that a program starts in comes first: its copy of the core, not the checkout's.
    done = subprocess.run(
        [sys.executable, "-c", CHECKS], cwd=tmp_path, capture_output=True, text=True,
        env={**os.environ, "PYTHONPATH": str(tmp_path)},
    )  # fmt: skip
    assert done.stdout.strip() == "complete", done.stderr


def test_no_layer_is_asked_which_kind_it_is() -> None:
    # A kind's name stands in its own model, in the forms that are made of it, and nowhere else.
    names = {f'== "{model.kind()}"' for model in LAYER_MODELS} | {f'["{model.kind()}"]' for model in LAYER_MODELS}
    asked = [
        f"{path.relative_to(ROOT)}: {line.strip()}"
        for folder in ("echelle", "server")
        for path in (ROOT / folder).rglob("*.py")
        for line in path.read_text().splitlines()
        if ("isinstance(" in line and "Layer)" in line and "RisingLayer" not in line)
        or (".layer " in line and any(name in line for name in names))
    ]
    assert asked == []
