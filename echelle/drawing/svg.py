"""Scenes to SVG 1.1: live text or outlines, grouped and named parts."""

from __future__ import annotations

import base64
from typing import Literal
from xml.sax.saxutils import escape, quoteattr

import uharfbuzz as hb

from echelle.drawing.cairo import MOST_VECTOR_POINTS, points_png
from echelle.drawing.fonts.faces import open_face
from echelle.drawing.fonts.font_files import FACES
from echelle.drawing.fonts.typesetter import shape
from echelle.drawing.shapes import DASHES, OUTLINES
from echelle.scene.models import (
    GroupPart,
    LinePart,
    Paint,
    PathPart,
    PointsPart,
    RectPart,
    Scene,
    ScenePart,
    TextPart,
    unpack,
)  # fmt: skip

SvgText = Literal["live", "outlines"]


def to_svg(scene: Scene, text: SvgText = "live", dpi: float = 300.0) -> bytes:
    """The scene as SVG bytes (UTF-8). All text is escaped; points above 20 000 in one part become an image."""
    width, height = _n(scene.width), _n(scene.height)
    out = [
        '<?xml version="1.0" encoding="UTF-8"?>\n',
        '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" version="1.1" '
        f'width="{width}pt" height="{height}pt" viewBox="0 0 {width} {height}" role="img">\n',
        f"<title>{_escape(scene.title)}</title>\n<desc>{_escape(scene.description)}</desc>\n",
    ]
    if scene.ground:
        out.append(f'<rect width="{width}" height="{height}" fill="{scene.ground}"/>\n')
    for part in scene.parts:
        _part(out, part, scene, text, dpi)
    out.append("</svg>\n")
    return "".join(out).encode()


def _n(value: float) -> str:
    return f"{value:.3f}".rstrip("0").rstrip(".")


def _escape(text: str) -> str:
    return escape("".join(c for c in text if c >= " " and c not in "\ufffe\uffff"))


def _paint(paint: Paint) -> str:
    words = f'fill="{paint.fill or "none"}"'
    if paint.stroke:
        words += f' stroke="{paint.stroke}" stroke-width="{_n(paint.stroke_width)}"'
        if paint.dash != "solid":
            words += f' stroke-dasharray="{" ".join(map(_n, DASHES[paint.dash]))}"'
    if paint.opacity < 1:
        words += f' fill-opacity="{_n(paint.opacity)}" stroke-opacity="{_n(paint.opacity)}"'
    return words


def _part(out: list[str], part: ScenePart, scene: Scene, text: SvgText, dpi: float) -> None:
    name = f'id={quoteattr(part.key)} class="{part.role}"'
    if isinstance(part, GroupPart):
        out.append(f"<g {name}>\n")
        for child in part.parts:
            _part(out, child, scene, text, dpi)
        out.append("</g>\n")
    elif isinstance(part, RectPart):
        place = f'x="{_n(part.x)}" y="{_n(part.y)}" width="{_n(part.width)}" height="{_n(part.height)}"'
        out.append(f"<rect {name} {place} {_paint(part.paint)}/>\n")
    elif isinstance(part, LinePart):
        place = f'x1="{_n(part.x1)}" y1="{_n(part.y1)}" x2="{_n(part.x2)}" y2="{_n(part.y2)}"'
        out.append(f"<line {name} {place} {_paint(part.paint)}/>\n")
    elif isinstance(part, PathPart):
        out.append(f'<path {name} d="{part.d}" {_paint(part.paint)}/>\n')
    elif isinstance(part, TextPart):
        out.append(_live(part, name) if text == "live" else _outlines(part, name))
    elif part.columns.count > MOST_VECTOR_POINTS:
        data = base64.b64encode(points_png(part, scene, dpi)).decode()
        size = f'width="{_n(scene.width)}" height="{_n(scene.height)}"'
        out.append(f'<image {name} {size} preserveAspectRatio="none" xlink:href="data:image/png;base64,{data}"/>\n')
    else:
        out.append(f"<g {name} {_paint(part.paint)}>\n{_points(part)}</g>\n")


def _points(part: PointsPart) -> str:
    xs, ys = unpack(part.columns.x, "<f4"), unpack(part.columns.y, "<f4")
    hidden = set(unpack(part.hidden, "<i4").astype(int).tolist())
    radius = _n(part.size / 2)
    marks = []
    for place, (x, y) in enumerate(zip(xs.tolist(), ys.tolist(), strict=True)):
        if place in hidden:
            continue
        if part.shape == "circle":
            marks.append(f'<circle cx="{_n(x)}" cy="{_n(y)}" r="{radius}"/>\n')
            continue
        d = ""
        for corners, closed in OUTLINES[part.shape]:
            spots = (f"{_n(x + dx * part.size)} {_n(y + dy * part.size)}" for dx, dy in corners)
            d += "M" + "L".join(spots) + ("Z" if closed else "")
        marks.append(f'<path d="{d}"/>\n')
    return "".join(marks)


def _turn(part: TextPart) -> str:
    return f' transform="rotate({part.turn} {_n(part.x)} {_n(part.y)})"' if part.turn else ""


def _live(part: TextPart, name: str) -> str:
    """Each run at its own place, in its own face: a reader without the font keeps the places."""
    spans = []
    for run in part.runs:
        face = FACES[run.face]
        # A run of right-to-left text is anchored at its right end, where its first character stands.
        at = part.x + run.at + (run.width if run.backwards else 0.0)
        way = ' direction="rtl" unicode-bidi="bidi-override"' if run.backwards else ""
        if face.italic:
            way += ' font-style="italic"'
        # A run off the baseline would pull what follows with it: each says its own line and size.
        if any(part_run.scale != 1 for part_run in part.runs):
            way += f' y="{_n(part.y - run.rise)}" font-size="{_n(part.size * run.scale)}"'
        family = f"'{face.family}', sans-serif"
        spans.append(f'<tspan x="{_n(at)}" font-family="{family}" font-weight="{face.weight}"{way}>{_escape(run.text)}</tspan>')
    body = "".join(spans)
    return (
        f'<text {name} x="{_n(part.x)}" y="{_n(part.y)}" font-size="{_n(part.size)}" fill="{part.fill}" '
        f'xml:space="preserve"{_turn(part)}>{body}</text>\n'
    )


def _outlines(part: TextPart, name: str) -> str:
    d = []
    for run in part.runs:
        opened = open_face(run.face)
        at, size = part.x + run.at, part.size * run.scale
        for glyph in shape(run.text, run.face, run.backwards):
            pen = _Pen(at + glyph.dx * size, part.y - run.rise - glyph.dy * size, size / opened.units)
            opened.font.draw_glyph(glyph.id, _PEN_FUNCTIONS, pen)
            d += pen.words
            at += glyph.advance * size
    label = quoteattr(_escape(part.text))
    return f'<path {name} role="img" aria-label={label} d="{"".join(d)}" fill="{part.fill}"{_turn(part)}/>\n'


class _Pen:
    """Collects a glyph's outline as path commands on the sheet."""

    def __init__(self, x: float, y: float, scale: float) -> None:
        self.x, self.y, self.scale = x, y, scale
        self.words: list[str] = []

    def add(self, command: str, *spots: float) -> None:
        places = zip(spots[::2], spots[1::2], strict=True)
        written = " ".join(f"{_n(self.x + px * self.scale)} {_n(self.y - py * self.scale)}" for px, py in places)
        self.words.append(command + written)


def _pen_functions() -> hb.DrawFuncs:
    functions = hb.DrawFuncs()
    functions.set_move_to_func(lambda x, y, pen: pen.add("M", x, y))
    functions.set_line_to_func(lambda x, y, pen: pen.add("L", x, y))
    functions.set_quadratic_to_func(lambda a, b, x, y, pen: pen.add("Q", a, b, x, y))
    functions.set_cubic_to_func(lambda a, b, c, d, x, y, pen: pen.add("C", a, b, c, d, x, y))
    functions.set_close_path_func(lambda pen: pen.words.append("Z"))
    return functions


_PEN_FUNCTIONS = _pen_functions()
