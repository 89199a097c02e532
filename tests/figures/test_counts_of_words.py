"""A table without numbers: its rows are counted, and nothing else is claimed of them."""

from __future__ import annotations

import pytest

from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.recipes.forms import FORMS, in_form, recipe_of_form
from echelle.render import scene_of, scene_of_lanes
from echelle.tables.reading.read import read_bytes

TABLE = read_bytes(b"arm,improved\na,some\na,none\nb,none\nb,some\nb,marked\nc,\n").table
RECIPE = recipe_of_form("counts", "improved", "arm")


def test_rows_are_counted_and_no_reading_is_made_up() -> None:
    scene = scene_of(RECIPE, TABLE)
    assert [(reading.n, reading.missing) for reading in scene.readings] == [(2, 0), (3, 0), (0, 1)]
    for reading in scene.readings:
        assert reading.median is reading.mean is reading.sd is reading.min is None and not reading.outliers
    assert scene.description == "Rows with improved: a 2, b 3, c 0." and "0.0" not in scene.note


@pytest.mark.parametrize("form", [form for form in FORMS if form != "counts"])
def test_every_other_form_is_refused_by_name(form: str) -> None:
    other = in_form(RECIPE, form)  # type: ignore[arg-type]
    for drawn in (lambda: scene_of(other, TABLE), lambda: scene_of_lanes(other, arrange(RECIPE, TABLE))):
        with pytest.raises(InputError, match=r"“improved”"):
            drawn()
