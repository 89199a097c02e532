"""Shaping: runs to glyphs and widths. Layout, Cairo and SVG outlines all use these."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import uharfbuzz as hb

from echelle.drawing.fonts.faces import chain, open_face
from echelle.drawing.fonts.runs import cleaned, runs_of
from echelle.figures.typesetting import SetLine, SetRun, Weight
from echelle.recipes.looks import Typeface


@dataclass(frozen=True)
class Glyph:
    """A glyph of a face in ems: advance, offset, and the place of its first character in the run."""

    id: int
    advance: float
    dx: float
    dy: float
    cluster: int


@lru_cache(maxsize=20_000)
def shape(text: str, face: str, backwards: bool) -> tuple[Glyph, ...]:
    """The glyphs of one run from left to right."""
    opened = open_face(face)
    buffer = hb.Buffer()
    buffer.add_str(text)
    buffer.guess_segment_properties()
    buffer.direction = "rtl" if backwards else "ltr"
    hb.shape(opened.font, buffer)
    em = float(opened.units)
    return tuple(
        Glyph(info.codepoint, place.x_advance / em, place.x_offset / em, place.y_offset / em, info.cluster)
        for info, place in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True)
    )


@lru_cache(maxsize=20_000)
def set_line(text: str, typeface: Typeface, weight: Weight, size: float) -> SetLine:
    """Set one line; implements :class:`echelle.figures.typesetting.Typesetter`."""
    faces = chain(typeface, weight)
    runs, unwritable = runs_of(cleaned(text), faces)
    at = 0.0
    done = []
    for body, face, backwards in runs:
        width = size * sum(glyph.advance for glyph in shape(body, face, backwards))
        done.append(SetRun(body, face, at, width, backwards))
        at += width
    used = [open_face(run.face) for run in done] or [open_face(faces[0])]
    return SetLine(
        tuple(done),
        at,
        size * max(face.ascent / face.units for face in used),
        size * max(face.descent / face.units for face in used),
        unwritable,
    )
