"""Shaping: runs to glyphs and widths. Layout, Cairo and SVG outlines all use these."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import uharfbuzz as hb

from echelle.drawing.fonts.faces import chain, open_face
from echelle.drawing.fonts.runs import clean_text, runs_of
from echelle.recipes.markup import text_styles
from echelle.recipes.style import Typeface
from echelle.scene.typesetting import SetLine, SetRun, Weight

# How large raised and lowered text is, and how far it stands above the baseline, in ems.
_SMALL = 0.7
_RISE = {0: 0.0, 1: 0.33, -1: -0.14}


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
    """Set one line; implements :class:`echelle.scene.typesetting.Typesetter`."""
    body, how = text_styles(clean_text(text))
    chains = {italic: chain(typeface, weight, italic) for italic in (False, True)}
    runs, unwritable = runs_of(body, chains, how)
    at = 0.0
    done = []
    for words, face, backwards, manner in runs:
        scale = _SMALL if manner.level else 1.0
        width = scale * size * sum(glyph.advance for glyph in shape(words, face, backwards))
        done.append(
            SetRun(text=words, face=face, at=at, width=width, backwards=backwards, scale=scale, rise=_RISE[manner.level] * size)
        )
        at += width
    if not done:
        usual = open_face(chains[False][0])
        return SetLine((), 0.0, size * usual.ascent / usual.units, size * usual.descent / usual.units, unwritable)
    reach = [(open_face(run.face), run) for run in done]
    return SetLine(
        tuple(done),
        at,
        max(size * run.scale * opened.ascent / opened.units + run.rise for opened, run in reach),
        max(size * run.scale * opened.descent / opened.units - run.rise for opened, run in reach),
        unwritable,
    )
