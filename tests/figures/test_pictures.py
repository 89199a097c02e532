"""Tiny pictures of settings, thinned points, and which settings matter."""

from __future__ import annotations

import numpy as np
import pytest

from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.figures.settings import figure_options
from echelle.recipes.forms import recipe_of_form
from echelle.render import pictures_of_layer, scene_of_lanes
from echelle.scene.models import PointsPart, unpack
from tests.support.tables import many_values

OFFERS = {offer.layer: offer for offer in figure_options().layers}


@pytest.mark.parametrize("layer", OFFERS)
def test_each_setting_with_a_range_or_options_has_pictures(layer: str) -> None:
    result = {tuple(entry.path): entry.pictures for entry in pictures_of_layer(layer)}
    for setting in OFFERS[layer].settings:
        pictures = result[tuple(setting.path)]
        if setting.kind in ("amount", "choice", "yes-no"):
            assert len(pictures) >= 2 and len({picture.words for picture in pictures}) == len(pictures), setting.path
        for picture in pictures:
            assert any(True for _ in picture.scene.walk()) and not picture.scene.readings


@pytest.mark.parametrize(
    ("layer", "path"),
    [("density", ("bandwidth", "times")), ("box", ("width",)), ("box", ("fence", "k")), ("points", ("spread",)),
     ("bins", ("count",)),
     ("bins", ("drawn",)), ("mean", ("interval",)), ("density", ("side",)), ("points", ("seed",))],
)  # fmt: skip
def test_pictures_of_a_setting_differ(layer: str, path: tuple[str, ...]) -> None:
    pictures = next(entry.pictures for entry in pictures_of_layer(layer) if tuple(entry.path) == path)
    drawn = [picture.scene.model_dump_json(include={"parts"}) for picture in pictures]
    assert len(set(drawn)) == len(drawn)


def test_an_unknown_layer_is_refused() -> None:
    with pytest.raises(InputError, match="no layer"):
        pictures_of_layer("confetti")


@pytest.mark.parametrize("layer", OFFERS)
def test_needs_name_settings_of_the_same_layer(layer: str) -> None:
    paths = {tuple(setting.path): setting for setting in OFFERS[layer].settings}
    for setting in OFFERS[layer].settings:
        for need in setting.needs:
            other = paths[tuple(need.path)]
            assert need.given is not None or set(need.among) <= {str(option) for option in other.options}, setting.path


def test_a_screen_gets_some_points_and_every_outlier_and_numbers_stay() -> None:
    lanes = arrange(recipe := recipe_of_form("raincloud", "level", "group"), many_values(3_000, 3))
    whole, thin = scene_of_lanes(recipe, lanes), scene_of_lanes(recipe, lanes, most_points=300)

    def rows(scene, role: str) -> set[int]:  # type: ignore[no-untyped-def]
        parts = [part for part in scene.walk() if isinstance(part, PointsPart) and part.role == role]
        return {int(row) for part in parts for row in unpack(part.columns.rows, "<f8")}

    assert rows(thin, "outlier") == rows(whole, "outlier") and rows(thin, "outlier")
    assert len(rows(thin, "point")) < 0.25 * len(rows(whole, "point"))
    assert rows(thin, "point") <= rows(whole, "point")
    assert thin.readings == whole.readings
    assert [a.text for a in thin.advice if a.key == "thinned"] == ["About 300 of 3 000 points are shown on screen."]
    assert not [a for a in whole.advice if a.key == "thinned"]
    assert np.isfinite(whole.width)
