"""Scenes to PDF and PNG through Cairo."""

from __future__ import annotations

import io
import math
from collections.abc import Sequence
from datetime import UTC, datetime
from typing import Any

import cairocffi
from PIL import Image

from echelle.drawing.fonts.cairo_faces import cairo_face
from echelle.drawing.fonts.typesetter import shape
from echelle.drawing.shapes import DASHES, OUTLINES
from echelle.errors import InputError
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

MOST_PIXELS = 32_767
MOST_AREA = 100_000_000
MOST_VECTOR_POINTS = 20_000
Context = Any


def pages_pdf(
    scenes: Sequence[Scene], title: str, subject: str = "", made: datetime | None = None, dpi: float = 300.0
) -> bytes:
    """A PDF with a page for each scene (one at least), each of its own size, with embedded subset fonts and selectable
    text; its date is ``made`` (1970 where None).
    """
    buffer = io.BytesIO()
    surface = cairocffi.PDFSurface(buffer, scenes[0].width, scenes[0].height)
    surface.set_metadata(cairocffi.PDF_METADATA_TITLE, title)
    surface.set_metadata(cairocffi.PDF_METADATA_SUBJECT, subject)
    surface.set_metadata(cairocffi.PDF_METADATA_CREATOR, "Echelle")
    when = (made or datetime.fromtimestamp(0, UTC)).astimezone(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")
    surface.set_metadata(cairocffi.PDF_METADATA_CREATE_DATE, when)
    surface.set_metadata(cairocffi.PDF_METADATA_MOD_DATE, when)
    context = cairocffi.Context(surface)
    for number, scene in enumerate(scenes):
        if number:
            surface.show_page()
            surface.set_size(scene.width, scene.height)
        _draw_scene(context, scene, dpi)
    surface.finish()
    return buffer.getvalue()


def to_png(scene: Scene, dpi: float = 300.0) -> bytes:
    """A PNG with its dpi recorded; clear where the scene has no ground. Raises InputError above 32 767 px a side or
    100 million in all.
    """
    buffer = io.BytesIO()
    _picture(scene, dpi).save(buffer, "PNG", dpi=(dpi, dpi))
    return buffer.getvalue()


def to_tiff(scene: Scene, dpi: float = 300.0) -> bytes:
    """A TIFF with LZW compression and its dpi recorded. Raises InputError as :func:`to_png` does."""
    buffer = io.BytesIO()
    _picture(scene, dpi).save(buffer, "TIFF", compression="tiff_lzw", dpi=(dpi, dpi))
    return buffer.getvalue()


def _picture(scene: Scene, dpi: float) -> Image.Image:
    width, height = math.ceil(scene.width * dpi / 72 - 1e-6), math.ceil(scene.height * dpi / 72 - 1e-6)
    if max(width, height) > MOST_PIXELS or width * height > MOST_AREA:
        raise InputError(
            f"the picture would be {width:,} × {height:,} px, more than {MOST_PIXELS:,} a side or {MOST_AREA:,} in all",
            where="--dpi",
            remedy="Choose fewer dpi or a smaller sheet.",
        )
    surface = cairocffi.ImageSurface(cairocffi.FORMAT_ARGB32, width, height)
    context = cairocffi.Context(surface)
    context.scale(dpi / 72)
    _draw_scene(context, scene, None)
    image = _image(surface)
    return image.convert("RGB") if scene.ground else image


def points_png(part: PointsPart, scene: Scene, dpi: float) -> bytes:
    """One points part alone on a clear sheet of the scene's size, as PNG."""
    surface = _points_surface(part, scene, dpi)
    buffer = io.BytesIO()
    _image(surface).save(buffer, "PNG", dpi=(dpi, dpi))
    return buffer.getvalue()


def _image(surface: cairocffi.ImageSurface) -> Image.Image:
    surface.flush()
    size = (surface.get_width(), surface.get_height())
    return Image.frombuffer("RGBa", size, bytes(surface.get_data()), "raw", "BGRa", surface.get_stride(), 1).convert("RGBA")


def _points_surface(part: PointsPart, scene: Scene, dpi: float) -> cairocffi.ImageSurface:
    size = [min(MOST_PIXELS, math.ceil(side * dpi / 72)) for side in (scene.width, scene.height)]
    surface = cairocffi.ImageSurface(cairocffi.FORMAT_ARGB32, *size)
    context = cairocffi.Context(surface)
    context.scale(dpi / 72)
    _draw_points(context, part)
    return surface


def _draw_scene(context: Context, scene: Scene, raster_dpi: float | None) -> None:
    if scene.ground:
        _colour(context, scene.ground, 1.0)
        context.paint()
    for part in scene.parts:
        _draw(context, part, scene, raster_dpi)


def _draw(context: Context, part: ScenePart, scene: Scene, raster_dpi: float | None) -> None:
    if isinstance(part, GroupPart):
        for child in part.parts:
            _draw(context, child, scene, raster_dpi)
    elif isinstance(part, RectPart):
        context.rectangle(part.x, part.y, part.width, part.height)
        _paint(context, part.paint)
    elif isinstance(part, LinePart):
        context.move_to(part.x1, part.y1)
        context.line_to(part.x2, part.y2)
        _paint(context, part.paint)
    elif isinstance(part, PathPart):
        _trace(context, part.d)
        _paint(context, part.paint)
    elif isinstance(part, TextPart):
        _write(context, part)
    elif raster_dpi and part.columns.count > MOST_VECTOR_POINTS:
        context.save()
        context.scale(72 / raster_dpi)
        context.set_source_surface(_points_surface(part, scene, raster_dpi), 0, 0)
        context.paint()
        context.restore()
    else:
        _draw_points(context, part)


def _colour(context: Context, colour: str, opacity: float) -> None:
    red, green, blue = (int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5))
    context.set_source_rgba(red, green, blue, opacity)


def _paint(context: Context, paint: Paint) -> None:
    if paint.fill:
        _colour(context, paint.fill, paint.opacity)
        if paint.stroke:
            context.fill_preserve()
        else:
            context.fill()
    if paint.stroke:
        _colour(context, paint.stroke, paint.opacity)
        context.set_line_width(paint.stroke_width)
        context.set_dash(DASHES[paint.dash])
        context.stroke()
    context.new_path()


def _trace(context: Context, d: str) -> None:
    moves = {"M": context.move_to, "L": context.line_to, "C": context.curve_to}
    words = d.replace("Z", " Z ").replace("M", " M ").replace("L", " L ").replace("C", " C ").split()
    place = 0
    while place < len(words):
        command = words[place]
        if command == "Z":
            context.close_path()
            place += 1
            continue
        size = 6 if command == "C" else 2
        moves[command](*(float(word.rstrip(",")) for word in words[place + 1 : place + 1 + size]))
        place += 1 + size


def _draw_points(context: Context, part: PointsPart) -> None:
    xs, ys = unpack(part.columns.x, "<f4"), unpack(part.columns.y, "<f4")
    hidden = set(unpack(part.hidden, "<i4").astype(int).tolist())
    radius = part.size / 2
    for place, (x, y) in enumerate(zip(xs.tolist(), ys.tolist(), strict=True)):
        if place in hidden:
            continue
        if part.shape == "circle":
            context.arc(x, y, radius, 0, 2 * math.pi)
        for corners, closed in OUTLINES[part.shape]:
            for i, (dx, dy) in enumerate(corners):
                (context.line_to if i else context.move_to)(x + dx * part.size, y + dy * part.size)
            if closed:
                context.close_path()
        _paint(context, part.paint)


def _write(context: Context, part: TextPart) -> None:
    context.save()
    context.translate(part.x, part.y)
    context.rotate(math.radians(part.turn))
    _colour(context, part.fill, 1.0)
    options = cairocffi.FontOptions(
        hint_style=cairocffi.HINT_STYLE_NONE, hint_metrics=cairocffi.HINT_METRICS_OFF,
        antialias=cairocffi.ANTIALIAS_GRAY,
    )  # fmt: skip
    context.set_font_options(options)
    for run in part.runs:
        context.set_font_face(cairo_face(run.face))
        at, size = run.at, part.size * run.scale
        context.set_font_size(size)
        glyphs = []
        shaped = shape(run.text, run.face, run.backwards)
        for glyph in shaped:
            glyphs.append((glyph.id, at + glyph.dx * size, -run.rise - glyph.dy * size))
            at += glyph.advance * size
        clusters = _clusters(run.text, [glyph.cluster for glyph in shaped])
        context.show_text_glyphs(run.text, glyphs, clusters, cairocffi.TEXT_CLUSTER_FLAG_BACKWARD if run.backwards else 0)
    context.restore()


def _clusters(text: str, starts: list[int]) -> list[tuple[int, int]]:
    """Pairs of (UTF-8 bytes, glyphs) that tell which characters a glyph stands for, in the text's order."""
    ordered = sorted(set(starts))
    ends = [*ordered[1:], len(text)]
    counts = {start: starts.count(start) for start in ordered}
    return [(len(text[start:end].encode()), counts[start]) for start, end in zip(ordered, ends, strict=True)]
