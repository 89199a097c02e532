"""Looks: what a figure draws in, where it deviates, and what line weight and fill strength do."""

from __future__ import annotations

import itertools
from typing import get_args

import numpy as np
import pytest
from numpy.typing import NDArray

from echelle.figures.geometry.colours import between_colours, lightness
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.recipe import Recipe
from echelle.recipes.seal import style_of
from echelle.recipes.style import LOOKS, SEQUENCES, LookName, OwnLook, Style
from echelle.render import scene_of
from echelle.scene.models import PathPart, RectPart, Scene, TextPart
from tests.support.tables import lanes_table

TABLE = lanes_table({"a": [1.0, 2.0, 4.0, 5.5, 3.0], "b": [2.0, 3.0, 3.5, 6.0, 9.0]})


def look(style: object = "house", **own: object) -> Recipe:
    recipe = recipe_of_form("violin", "level", "group")
    return recipe.model_copy(update={"style": style, "own_look": OwnLook.model_validate(own)})


def luminance(colour: str) -> float:
    """Relative luminance (WCAG 2.2)."""
    parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    red, green, blue = (c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in parts)
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue


def contrast(entry: str, other: str) -> float:
    low, high = sorted((luminance(entry), luminance(other)))
    return (high + 0.05) / (low + 0.05)


def test_a_look_lies_over_the_house_style_and_single_points_over_both() -> None:
    house = Style(typeface="Linux Libertine", text_size=9.0, rulings=False)
    assert style_of(look(), house) == house
    slides = style_of(look("slides"), house)
    assert slides.text_size == 14.0 and slides.typeface == "Linux Libertine" and not slides.rulings
    own = style_of(look("slides", text_size=11.0, rulings=True), house)
    assert own.text_size == 11.0 and own.rulings and own.weight == slides.weight
    sealed = Style(ink="#123456")
    assert style_of(look(sealed), house) == sealed


@pytest.mark.parametrize("name", get_args(LookName))
def test_every_look_can_be_read(name: LookName) -> None:
    assert set(LOOKS[name]) <= set(Style.model_fields)
    style = style_of(look(name))
    assert contrast(style.ink, style.ground) >= 7 and contrast(style.muted, style.ground) >= 4.5
    assert all(contrast(colour, style.ground) >= 1.5 for colour in style.lane_colours[:6])
    scene = scene_of(look(name), TABLE)
    assert scene.ground == style.ground
    assert {part.fill for part in scene.walk() if isinstance(part, TextPart)} <= {style.ink, style.muted}


def marks(scene: Scene) -> tuple[list[float], list[float]]:
    drawn = [part for part in scene.walk() if isinstance(part, PathPart | RectPart) and part.layer]
    return [part.paint.stroke_width for part in drawn], [part.paint.opacity for part in drawn if part.paint.fill]


def test_weight_and_strength_reach_every_mark_and_no_text() -> None:
    plain, heavy = scene_of(look(), TABLE), scene_of(look(weight=2.0, strength=0.5), TABLE)
    assert marks(heavy)[0] == [pytest.approx(2 * width, abs=2e-3) for width in marks(plain)[0]]
    assert marks(heavy)[1] == [pytest.approx(0.5 * opacity, abs=2e-3) for opacity in marks(plain)[1]]
    assert [part for part in heavy.walk() if isinstance(part, TextPart)] == [
        part for part in plain.walk() if isinstance(part, TextPart)
    ]


def test_rulings_can_be_left_away() -> None:
    roles = {part.role for part in scene_of(look(), TABLE).walk()}
    assert "ruling" in roles and "ruling" not in {part.role for part in scene_of(look(rulings=False), TABLE).walk()}


def colours(recipe: Recipe, lanes: dict[str, list[float]], **update: object) -> dict[str | None, str]:
    groups = recipe.groups.model_copy(update=update) if recipe.groups else None
    return {
        lane.group: lane.colour for lane in scene_of(recipe.model_copy(update={"groups": groups}), lanes_table(lanes)).lanes
    }


def test_a_level_keeps_its_colour_whatever_stands_beside_it() -> None:
    lanes = {"a": [1.0, 2.0, 4.0], "b": [2.0, 3.0, 9.0], "c": [5.0, 6.0, 8.0]}
    usual = colours(look(), lanes)
    assert len(set(usual.values())) == 3
    for update in ({"order": ["c", "a", "b"]}, {"dropped": ["a"]}, {"sorted": "by mean"}):
        assert colours(look(), lanes, **update).items() <= usual.items(), update
    fixed = look(level_colours={"group": {"b": "#AA1166"}})
    assert colours(fixed, lanes) == usual | {"b": "#AA1166"}
    # Greys stay grey whatever colours the house fixes.
    house = Style(level_colours={"group": {"b": "#AA1166"}})
    assert (
        style_of(look("grey print"), house).level_colours == {}
        and style_of(look("paper"), house).level_colours == house.level_colours
    )
    both = style_of(look(level_colours={"group": {"c": "#000001"}}), house)
    assert both.level_colours == {"group": {"b": "#AA1166", "c": "#000001"}}


def test_more_levels_than_colours_never_give_two_lanes_shown_one_colour() -> None:
    lanes = {f"level {i:02d}": [float(i), i + 1.0, i + 2.5] for i in range(10)}
    shown = colours(look(), lanes, dropped=[f"level {i:02d}" for i in range(1, 8)])
    assert len(shown) == 3 and len(set(shown.values())) == 3


def axis_line(scene: Scene) -> tuple[float, float] | None:
    result = next((part for part in scene.walk() if part.role == "axis-line"), None)
    return None if result is None else (result.x1, result.x2)  # type: ignore[union-attr]


def test_the_axis_line_spans_the_data_the_panel_or_nothing() -> None:
    def drawn(**own: object) -> Scene:
        recipe = look(**own)
        return scene_of(recipe.model_copy(update={"axis": recipe.axis.model_copy(update={"runs": "across"})}), TABLE)

    left, _, width, _ = drawn().panels[0].box
    data, whole = axis_line(drawn()), axis_line(drawn(axis_line="whole"))
    assert whole == pytest.approx((left, left + width), abs=0.01)
    assert data is not None and left < data[0] < data[1] < left + width
    assert axis_line(drawn(axis_line="none")) is None


def test_the_key_stands_above_below_or_nowhere() -> None:
    def labels(**own: object) -> tuple[list[float], Scene]:
        recipe = look(**own)
        groups = recipe.groups.model_copy(update={"placed": "overlaid"}) if recipe.groups else None
        scene = scene_of(recipe.model_copy(update={"groups": groups}), TABLE)
        return [part.y for part in scene.walk() if isinstance(part, TextPart) and part.role == "key-label"], scene

    above, scene = labels()
    assert len(above) == 2 and max(above) < scene.panels[0].box[1]
    below, scene = labels(key="below")
    assert len(below) == 2 and scene.panels[0].box[1] + scene.panels[0].box[3] < min(below) <= max(below) < scene.height
    assert labels(key="none")[0] == []


# Machado, Oliveira & Fernandes (2009), severity 1; grey as ITU-R BT.709.
SIGHTS = {
    "all cones": np.eye(3),
    "no red cones": [[0.152286, 1.052583, -0.204868], [0.114503, 0.786281, 0.099216], [-0.003882, -0.048116, 1.051998]],
    "no green cones": [[0.367322, 0.860646, -0.227968], [0.280085, 0.672501, 0.047413], [-0.01182, 0.04294, 0.968881]],
    "no blue cones": [[1.255528, -0.076749, -0.178779], [-0.078411, 0.930809, 0.147602], [0.004733, 0.691367, 0.3039]],
}


def seen(colours: list[str], sight: str) -> NDArray[np.float64]:
    """Colours in OKLab (Ottosson 2020) as a sight sees them; shape (n, 3)."""
    coded = np.array([[int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)] for colour in colours])
    linear = np.where(coded <= 0.04045, coded / 12.92, ((coded + 0.055) / 1.055) ** 2.4)
    cones = np.clip(linear @ np.array(SIGHTS[sight]).T, 0, 1) @ np.array(
        [[0.4122214708, 0.2119034982, 0.0883024619], [0.5363325363, 0.6806995451, 0.2817188376],
         [0.0514459929, 0.1073969566, 0.6299787005]]
    )  # fmt: skip
    return np.cbrt(cones) @ np.array(
        [[0.2104542553, 1.9779984951, 0.0259040371], [0.793617785, -2.428592205, 0.7827717662],
         [-0.0040720468, 0.4505937099, -0.808675766]]
    )  # fmt: skip


@pytest.mark.parametrize("sight", SIGHTS)
@pytest.mark.parametrize(
    ("name", "first", "least"), [("24 apart", 8, 0.075), ("24 apart", 24, 0.063), ("12 in pairs", 12, 0.06)]
)
def test_colours_in_turn_are_told_apart_by_every_sight(name: str, first: int, least: float, sight: str) -> None:
    lab = seen(SEQUENCES[name].colours[:first], sight)
    assert min(float(np.linalg.norm(a - b)) for a, b in itertools.combinations(lab, 2)) >= least


@pytest.mark.parametrize("sight", SIGHTS)
@pytest.mark.parametrize("name", [name for name, sequence in SEQUENCES.items() if sequence.rising])
def test_a_rising_sequence_grows_steadily_darker(name: str, sight: str) -> None:
    colours = [between_colours(SEQUENCES[name].colours, place / 11) for place in range(12)]
    steps = np.diff(seen(colours, sight)[:, 0])
    assert np.all(steps < -0.01)
    assert lightness(colours[0]) - lightness(colours[-1]) > 0.4


def test_levels_with_an_order_take_one_hue_and_the_others_a_colour_each_in_the_order_of_their_lanes() -> None:
    def shown(levels: list[str]) -> dict[str | None, str]:
        return colours(look(), {level: [1.0, 2.0, 3.0, 4.0] for level in levels})

    doses = shown(["40", "5", "10", "20"])
    light = [lightness(doses[dose]) for dose in ("5", "10", "20", "40")]
    assert light == sorted(light, reverse=True) and len(set(light)) == 4
    # Two numbers are codes; the first lane has the first colour whichever comes first in the table.
    assert list(shown(["1", "0"]).items()) == [("0", Style().lane_colours[0]), ("1", Style().lane_colours[1])]
    assert list(shown(["b", "a"]).values()) == Style().lane_colours[:2]
