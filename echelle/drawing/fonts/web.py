"""The figure fonts for the browser: the same files as woff2, cut into parts that are fetched only when needed.

python -m echelle.drawing.fonts.web FOLDER writes the parts and fonts.css. Each face is a family of its own
("Echelle lato-600"), so that the browser draws every run in the very face that the layout measured.
"""

from __future__ import annotations

import logging
import sys
from concurrent.futures import ProcessPoolExecutor
from itertools import repeat
from pathlib import Path

from fontTools import subset
from fontTools.ttLib import TTFont

from echelle.drawing.fonts.font_files import FACES, Face

# What most labels need: Latin, the common Greek letters, raised and lowered digits, signs and arrows.
_USUAL = [
    (0x20, 0x17F), (0x2C6, 0x2DD), (0x391, 0x3C9), (0x2010, 0x2027), (0x202F, 0x203A), (0x2070, 0x209C),
    (0x20AC, 0x20AC), (0x2122, 0x2126), (0x2190, 0x2193), (0x2202, 0x2265),
]  # fmt: skip


def main(folder: str) -> None:
    """Write every face's parts and the style sheet."""
    out = Path(folder)
    out.mkdir(parents=True, exist_ok=True)
    logging.getLogger("fontTools").setLevel(logging.ERROR)
    with ProcessPoolExecutor() as pool:
        rules = [rule for rules in pool.map(_parts, FACES.values(), repeat(out)) for rule in rules]
    (out / "fonts.css").write_text("\n".join(rules) + "\n")


def _parts(face: Face, out: Path) -> list[str]:
    """Write the parts of one face and give their rules."""
    usual = {code for first, last in _USUAL for code in range(first, last + 1)}
    codes = set(TTFont(face.path, lazy=True).getBestCmap())
    rules = []
    for part, kept in (("usual", codes & usual), ("rest", codes - usual)):
        if kept:
            name = f"{face.id}-{part}.woff2"
            _cut(face, kept, out / name)
            rules.append(_rule(face, name, kept))
    return rules


def _cut(face: Face, codes: set[int], out: Path) -> None:
    options = subset.Options(flavor="woff2", layout_features=["*"], notdef_outline=True, hinting=False, name_IDs=[])
    font = subset.load_font(str(face.path), options)
    cutter = subset.Subsetter(options)
    cutter.populate(unicodes=codes | {0x20, 0x200C, 0x200D})
    cutter.subset(font)
    subset.save_font(font, str(out), options)


def _rule(face: Face, name: str, codes: set[int]) -> str:
    return (
        f"@font-face {{ font-family: 'Echelle {face.id}'; font-weight: 400; font-display: block; "
        f"src: url('./{name}') format('woff2'); unicode-range: {_ranges(codes)}; }}"
    )


def _ranges(codes: set[int]) -> str:
    """The codes as U+ ranges."""
    ranges: list[list[int]] = []
    for code in sorted(codes):
        if ranges and code == ranges[-1][1] + 1:
            ranges[-1][1] = code
        else:
            ranges.append([code, code])
    return ", ".join(f"U+{first:X}" if first == last else f"U+{first:X}-{last:X}" for first, last in ranges)


if __name__ == "__main__":
    main(sys.argv[1])
