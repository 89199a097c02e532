"""Font files opened for shaping, and the chain in which they are asked."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import uharfbuzz as hb

from echelle.drawing.fonts.font_files import FACES
from echelle.errors import InputError
from echelle.recipes.style import Typeface
from echelle.scene.typesetting import Weight

_STEM: dict[Typeface, str] = {"Lato": "lato", "Inter": "inter", "Liberation Sans": "liberation", "Linux Libertine": "libertine"}


def chain(typeface: Typeface, weight: Weight, italic: bool = False) -> tuple[str, ...]:
    """Ids of the faces to ask in turn: the chosen one (slanted first), Noto for other scripts, DejaVu Sans for signs."""
    stem = _STEM[typeface]
    heavy = 400 if weight == 400 else 700
    own = f"{stem}-{weight if f'{stem}-{weight}' in FACES else heavy}"
    return (*((f"{own}i",) if italic else ()), own, f"hebrew-{heavy}", f"arabic-{heavy}", f"dejavu-{heavy}")


@dataclass(frozen=True)
class OpenFace:
    """A face ready for shaping; ``units`` a em, ascent and descent in those units (descent positive)."""

    font: hb.Font
    units: int
    ascent: float
    descent: float


@cache
def open_face(id: str) -> OpenFace:
    """Open a face's file once. Raises InputError naming the Debian package where the file is missing."""
    face = FACES[id]
    if not face.path.is_file():
        raise InputError(
            f"the font file {face.path.name} is missing",
            where=f"typeface {face.family}",
            remedy=f"Install Debian's package {face.package}.",
        )
    opened = hb.Face(hb.Blob.from_file_path(str(face.path)))
    font = hb.Font(opened)
    extents = font.get_font_extents("ltr")
    return OpenFace(font, opened.upem, float(extents.ascender), float(-extents.descender))


def has_glyph(id: str, character: str) -> bool:
    """Whether the face can write the character."""
    return bool(open_face(id).font.get_nominal_glyph(ord(character)))
