"""Labels never stand on one another, however many there are."""

from __future__ import annotations

import math

from hypothesis import given
from hypothesis import strategies as st

from echelle.figures.geometry.label_places import LabelPlaces
from echelle.figures.geometry.lettering import Box

ends = st.one_of(
    st.floats(-30, 60), st.integers(-8, 16).map(lambda i: 4.0 * i), st.sampled_from([-math.inf, math.inf, 9e5, -9e5])
)
boxes = st.tuples(ends, ends, ends, ends).map(lambda e: (*map(min, e[:2], e[2:]), *map(max, e[:2], e[2:])))


def apart(a: Box, b: Box) -> bool:
    return not (a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3])


@given(st.lists(boxes, max_size=12), st.lists(boxes, max_size=40))
def test_a_label_has_its_place_where_it_overlaps_nothing_that_stands(standing: list[Box], labels: list[Box]) -> None:
    places, taken = LabelPlaces(standing), list(standing)
    for box in labels:
        free = all(apart(box, other) for other in taken)
        assert places.free(box) == free and places.claim(box) == free
        if free:
            taken.append(box)
