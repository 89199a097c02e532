"""The fixed list of font files and the chain in which they are asked."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from pathlib import Path

import uharfbuzz as hb

from echelle.errors import InputError
from echelle.recipes.style import Typeface
from echelle.scene.typesetting import Weight

_FOLDER = Path("/usr/share/fonts")


@dataclass(frozen=True)
class Face:
    """One font file; ``id`` is its name in scenes (slanted ones end in i), ``package`` the Debian package that holds it."""

    id: str
    family: str
    weight: Weight
    path: Path
    package: str

    @property
    def italic(self) -> bool:
        """Whether it is slanted."""
        return self.id.endswith("i")


_UPRIGHT = {"400": "Regular", "600": "SemiBold", "700": "Bold"}
_SLANTED = {"400i": "Italic", "600i": "SemiBoldItalic", "700i": "BoldItalic"}
_TWO = {"400": "Regular", "700": "Bold"}

# Name in scenes, family, where its files lie, Debian's package, and what the file of each weight is called.
_FAMILIES: list[tuple[str, str, str, str, dict[str, str]]] = [
    (
        "lato",
        "Lato",
        "truetype/lato/Lato-{}.ttf",
        "fonts-lato",
        _UPRIGHT | _SLANTED | {"600": "Semibold", "600i": "SemiboldItalic"},
    ),
    ("inter", "Inter", "opentype/inter/Inter-{}.otf", "fonts-inter", _UPRIGHT | _SLANTED),
    (
        "liberation",
        "Liberation Sans",
        "truetype/liberation/LiberationSans-{}.ttf",
        "fonts-liberation",
        _TWO | {"400i": "Italic", "700i": "BoldItalic"},
    ),
    (
        "libertine",
        "Linux Libertine O",
        "opentype/linux-libertine/LinLibertine_{}.otf",
        "fonts-linuxlibertine",
        {"400": "R", "600": "RZ", "700": "RB", "400i": "RI", "600i": "RZI", "700i": "RBI"},
    ),
    ("dejavu", "DejaVu Sans", "truetype/dejavu/DejaVuSans{}.ttf", "fonts-dejavu-core", {"400": "", "700": "-Bold"}),
    ("arabic", "Noto Sans Arabic", "truetype/noto/NotoSansArabic-{}.ttf", "fonts-noto-core", _TWO),
    ("hebrew", "Noto Sans Hebrew", "truetype/noto/NotoSansHebrew-{}.ttf", "fonts-noto-core", _TWO),
]
_WEIGHTS: dict[str, Weight] = {"400": 400, "600": 600, "700": 700}

FACES: dict[str, Face] = {
    f"{stem}-{weight}": Face(f"{stem}-{weight}", family, _WEIGHTS[weight[:3]], _FOLDER / path.format(file), package)
    for stem, family, path, package, files in _FAMILIES
    for weight, file in files.items()
}

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
