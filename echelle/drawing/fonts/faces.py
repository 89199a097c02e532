"""The fixed list of font files and the chain in which they are asked."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from pathlib import Path

import uharfbuzz as hb

from echelle.errors import InputError
from echelle.figures.typesetting import Weight
from echelle.recipes.looks import Typeface

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


def _face(id: str, family: str, weight: Weight, path: str, package: str) -> tuple[str, Face]:
    return id, Face(id, family, weight, _FOLDER / path, package)


FACES: dict[str, Face] = dict(
    [
        _face("lato-400", "Lato", 400, "truetype/lato/Lato-Regular.ttf", "fonts-lato"),
        _face("lato-600", "Lato", 600, "truetype/lato/Lato-Semibold.ttf", "fonts-lato"),
        _face("lato-700", "Lato", 700, "truetype/lato/Lato-Bold.ttf", "fonts-lato"),
        _face("liberation-400", "Liberation Sans", 400, "truetype/liberation/LiberationSans-Regular.ttf", "fonts-liberation"),
        _face("liberation-700", "Liberation Sans", 700, "truetype/liberation/LiberationSans-Bold.ttf", "fonts-liberation"),
        _face("libertine-400", "Linux Libertine O", 400, "opentype/linux-libertine/LinLibertine_R.otf", "fonts-linuxlibertine"),
        _face(
            "libertine-600", "Linux Libertine O", 600, "opentype/linux-libertine/LinLibertine_RZ.otf", "fonts-linuxlibertine"
        ),
        _face(
            "libertine-700", "Linux Libertine O", 700, "opentype/linux-libertine/LinLibertine_RB.otf", "fonts-linuxlibertine"
        ),
        _face("lato-400i", "Lato", 400, "truetype/lato/Lato-Italic.ttf", "fonts-lato"),
        _face("lato-600i", "Lato", 600, "truetype/lato/Lato-SemiboldItalic.ttf", "fonts-lato"),
        _face("lato-700i", "Lato", 700, "truetype/lato/Lato-BoldItalic.ttf", "fonts-lato"),
        _face("liberation-400i", "Liberation Sans", 400, "truetype/liberation/LiberationSans-Italic.ttf", "fonts-liberation"),
        _face(
            "liberation-700i", "Liberation Sans", 700, "truetype/liberation/LiberationSans-BoldItalic.ttf", "fonts-liberation"
        ),
        _face(
            "libertine-400i", "Linux Libertine O", 400, "opentype/linux-libertine/LinLibertine_RI.otf", "fonts-linuxlibertine"
        ),
        _face(
            "libertine-600i", "Linux Libertine O", 600, "opentype/linux-libertine/LinLibertine_RZI.otf", "fonts-linuxlibertine"
        ),
        _face(
            "libertine-700i", "Linux Libertine O", 700, "opentype/linux-libertine/LinLibertine_RBI.otf", "fonts-linuxlibertine"
        ),
        _face("dejavu-400", "DejaVu Sans", 400, "truetype/dejavu/DejaVuSans.ttf", "fonts-dejavu-core"),
        _face("dejavu-700", "DejaVu Sans", 700, "truetype/dejavu/DejaVuSans-Bold.ttf", "fonts-dejavu-core"),
        _face("arabic-400", "Noto Sans Arabic", 400, "truetype/noto/NotoSansArabic-Regular.ttf", "fonts-noto-core"),
        _face("arabic-700", "Noto Sans Arabic", 700, "truetype/noto/NotoSansArabic-Bold.ttf", "fonts-noto-core"),
        _face("hebrew-400", "Noto Sans Hebrew", 400, "truetype/noto/NotoSansHebrew-Regular.ttf", "fonts-noto-core"),
        _face("hebrew-700", "Noto Sans Hebrew", 700, "truetype/noto/NotoSansHebrew-Bold.ttf", "fonts-noto-core"),
    ]
)

_STEM: dict[Typeface, str] = {"Lato": "lato", "Liberation Sans": "liberation", "Linux Libertine": "libertine"}


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
