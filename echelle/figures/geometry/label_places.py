"""The places of labels on a sheet, so that no label stands on another."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator

from echelle.figures.geometry.lettering import Box

# The side of a square of the sheet, in points; a box over more squares than these is held once, beside them.
_SQUARE, _MOST_SQUARES = 4.0, 10_000


class LabelPlaces:
    """The boxes that labels and other things take, found by the squares of the sheet that they lie in."""

    def __init__(self, boxes: Iterable[Box] = ()) -> None:
        self._by_square: dict[tuple[int, int], list[Box]] = {}
        self._wide: list[Box] = []
        self.extend(boxes)

    def extend(self, boxes: Iterable[Box]) -> None:
        """Take places, whatever stands there."""
        for box in boxes:
            self._take(box)

    def free(self, box: Box) -> bool:
        """Whether nothing stands in a place."""
        return not any(box[0] < o[2] and o[0] < box[2] and box[1] < o[3] and o[1] < box[3] for o in self._near(box))

    def claim(self, box: Box) -> bool:
        """Take a place for a label; False where something stands in it."""
        if not self.free(box):
            return False
        self._take(box)
        return True

    def _take(self, box: Box) -> None:
        squares = _squares(box)
        if squares is None:
            self._wide.append(box)
            return
        for square in itertools.product(*squares):
            across, down = (place * _SQUARE for place in square)
            if _covers(box, across, down):
                # What covers a square says enough of it.
                self._by_square[square] = [box]
            else:
                held = self._by_square.setdefault(square, [])
                if len(held) != 1 or not _covers(held[0], across, down):
                    held.append(box)

    def _near(self, box: Box) -> Iterator[Box]:
        yield from self._wide
        squares = _squares(box)
        if squares is None:
            yield from itertools.chain.from_iterable(self._by_square.values())
            return
        for square in itertools.product(*squares):
            yield from self._by_square.get(square, ())


def _covers(box: Box, left: float, top: float) -> bool:
    """Whether a box covers the square that begins at a place."""
    return box[0] <= left and left + _SQUARE <= box[2] and box[1] <= top and top + _SQUARE <= box[3]


def _squares(box: Box) -> tuple[range, range] | None:
    """The squares that a box lies in, across and down; None for more than are worth a look."""
    if not all(map(math.isfinite, box)):
        return None
    left, top, right, bottom = (int(end // _SQUARE) for end in box)
    across, down = range(left, right + 1), range(top, bottom + 1)
    return (across, down) if len(across) * len(down) <= _MOST_SQUARES else None
