"""Looks: what a figure draws in, where it deviates, and what line weight and fill strength do."""

from __future__ import annotations

from typing import get_args

import pytest

from echelle.recipes.forms import recipe_of_form
from echelle.recipes.recipe import Recipe
from echelle.recipes.seal import style_of
from echelle.recipes.style import LOOKS, LookName, OwnLook, Style
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
