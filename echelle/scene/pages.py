"""Blocks one under another on pages: what folios and reports are set with."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from echelle.scene.models import Counts, Scene, ScenePart, round_coordinate
from echelle.scene.translate import translate

NO_COUNTS = Counts(
    rows=0, kept=0, used=0, people=None, called="", missing=0, missing_by={}, censored=0, left_out=0, ungrouped=0, not_finite=0,
    dropped=0, read=0, prepared=[],
)  # fmt: skip


@dataclass(frozen=True, eq=False)
class PageBlock:
    """Parts that stay together, from the left upper corner of their place: their height, the gap after them, the faces of
    their texts, and whether what follows must stand on the same page.
    """

    parts: list[ScenePart]
    height: float
    after: float
    faces: tuple[str, ...] = ()
    leads: bool = False


@dataclass(frozen=True, eq=False)
class PageSize:
    """Width and height of a page and the edge kept free, in points; without a height it grows."""

    width: float
    tall: float | None
    edge: float


def flow(blocks: Sequence[PageBlock], size: PageSize) -> list[tuple[list[ScenePart], float]]:
    """The parts of each page, and how high it is: a page grows where one block is higher than it."""
    pages: list[tuple[list[ScenePart], float]] = [([], size.edge)]
    for place, block in enumerate(blocks):
        parts, top = pages[-1]
        if size.tall is not None and top > size.edge and top + _together(blocks, place) > size.tall - size.edge:
            pages.append(([], size.edge))
            parts, top = pages[-1]
        parts += translate(block.parts, size.edge, top, f"page{len(pages)}/{place}")
        pages[-1] = (parts, top + block.height + block.after)
    last = [block.after for block in blocks[-1:]]
    if size.tall is None:
        return [(parts, top - sum(last)) for parts, top in pages]
    return [(parts, max(size.tall, top - sum(last) + size.edge)) for parts, top in pages]


def _together(blocks: Sequence[PageBlock], place: int) -> float:
    """The height of a block with what must follow it."""
    height = blocks[place].height
    while blocks[place].leads and place + 1 < len(blocks):
        height += blocks[place].after
        place += 1
        height += blocks[place].height
    return height


def page_scene(
    parts: list[ScenePart], width: float, height: float, ground: str | None, title: str, description: str, faces: Iterable[str]
) -> Scene:
    """A page that holds parts alone: nothing on it is a lane."""
    return Scene(
        form=None, width=round_coordinate(width), height=round_coordinate(height), ground=ground, title=title,
        description=description,
        parts=parts, panels=[], lanes=[], handles=[], readings=[], decimals=0, counts=NO_COUNTS, note="", advice=[],
        faces=sorted(set(faces)),
    )  # fmt: skip
