"""The font files of figures: a fixed list, so that a figure is the same everywhere. Nothing but the standard library is needed
here: the wheel is built with it.
"""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

# Files that the wheel carries; in a checkout they are those of Debian's packages.
_CARRIED = Path(__file__).parent / "files"
SYSTEM_FONTS = Path("/usr/share/fonts")


@dataclass(frozen=True)
class Face:
    """One font file; ``id`` is its name in scenes (slanted ones end in i), ``file`` where it lies below the folder of fonts,
    ``package`` the Debian package that holds it.
    """

    id: str
    family: str
    weight: int
    file: str
    package: str

    @property
    def path(self) -> Path:
        """The file of the wheel, else that of the system."""
        carried = _CARRIED / Path(self.file).name
        return carried if carried.is_file() else SYSTEM_FONTS / self.file

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
FACES: dict[str, Face] = {
    f"{stem}-{weight}": Face(f"{stem}-{weight}", family, int(weight[:3]), path.format(file), package)
    for stem, family, path, package, files in _FAMILIES
    for weight, file in files.items()
}
