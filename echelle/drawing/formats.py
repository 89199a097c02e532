"""The formats that figures are written in: one entry a format, from which command line, server, page and docs derive."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Literal

import orjson
from pydantic import AfterValidator, WithJsonSchema

from echelle.drawing.cairo import pages_pdf, to_png, to_tiff
from echelle.drawing.svg import SvgText, to_svg
from echelle.errors import InputError
from echelle.scene.models import Scene

PictureSetting = Literal["dpi", "text", "clear"]


@dataclass(frozen=True)
class Output:
    """How a scene becomes a file: the format's name, dots an inch (of pictures, and of points drawn as an image), text of an
    SVG, whether the ground is clear, and a PDF's date (1970 where None).
    """

    file_format: str
    dpi: float = 300.0
    svg_text: SvgText = "live"
    clear: bool = False
    made: datetime | None = None


Writer = Callable[[Scene, Output], bytes]
PagesWriter = Callable[[Sequence[Scene], Output, str], bytes]


@dataclass(frozen=True, kw_only=True)
class Format:
    """A format's title and use for a person who chooses, its media type, its writer, and what can be set of it.

    ``pages`` writes several scenes as one file, under a title; None where each needs a file of its own. ``picture`` is False
    for a format that nobody looks at; ``linked`` is True where people with a link may fetch it; ``endings`` are other endings
    of a file's name.
    """

    title: str
    use: str
    media_type: str
    write: Writer
    settings: tuple[PictureSetting, ...] = ("dpi", "clear")
    vector: bool = False
    pages: PagesWriter | None = None
    picture: bool = True
    linked: bool = False
    endings: tuple[str, ...] = ()


def _svg(scene: Scene, output: Output) -> bytes:
    return to_svg(scene, output.svg_text, output.dpi)


# Beyond this, in points, programs cannot show a page of a PDF (ISO 32000-1, annex C).
_LONGEST = 14_400


def _pdf(scene: Scene, output: Output) -> bytes:
    _must_be_page(scene)
    return pages_pdf([scene], scene.title, scene.description, output.made, output.dpi)


def _pdf_pages(scenes: Sequence[Scene], output: Output, title: str) -> bytes:
    for scene in scenes:
        _must_be_page(scene)
    return pages_pdf(scenes, title, made=output.made, dpi=output.dpi)


def _must_be_page(scene: Scene) -> None:
    if max(scene.width, scene.height) > _LONGEST:
        what = f"a page of a PDF is {_LONGEST:,} points long at most"
        raise InputError(what, where="page", remedy="Save the figure on pages, or as SVG.")


def _png(scene: Scene, output: Output) -> bytes:
    return to_png(scene, output.dpi)


def _tiff(scene: Scene, output: Output) -> bytes:
    return to_tiff(scene, output.dpi)


def _json(scene: Scene, output: Output) -> bytes:
    return orjson.dumps(scene.model_dump(mode="json"), option=orjson.OPT_INDENT_2 | orjson.OPT_APPEND_NEWLINE)


FORMATS: dict[str, Format] = {
    "svg": Format(
        title="SVG", use="vector, for the web and for editing", media_type="image/svg+xml", write=_svg,
        settings=("text", "clear"), vector=True, linked=True,
    ),
    "pdf": Format(
        title="PDF", use="vector, fonts embedded", media_type="application/pdf", write=_pdf, settings=("clear",), vector=True,
        pages=_pdf_pages, linked=True,
    ),
    "png": Format(title="PNG", use="picture for slides and pages", media_type="image/png", write=_png, linked=True),
    "tiff": Format(
        title="TIFF", use="picture with LZW, as journals ask for", media_type="image/tiff", write=_tiff, endings=("tif",)
    ),
    "json": Format(
        title="Scene", use="the drawn scene as data", media_type="application/json", write=_json, settings=(), vector=True,
        picture=False,
    ),
}  # fmt: skip
# What a person chooses from.
PICTURES = tuple(name for name, form in FORMATS.items() if form.picture)


def _format_of(names: Sequence[str]) -> Callable[[str], str]:
    def check(name: str) -> str:
        if name not in names:
            raise ValueError(f"nothing is written in that format; choose one of {', '.join(names)}")
        return name

    return check


PictureFormat = Annotated[str, AfterValidator(_format_of(PICTURES)), WithJsonSchema({"type": "string", "enum": list(PICTURES)})]


def format_named(name: str, among: Sequence[str] = tuple(FORMATS)) -> Format:
    """The format of that name. Raises InputError for one that is not among those offered."""
    if name not in among:
        raise InputError("nothing is written in that format", remedy=f"Choose one of {', '.join(among)}.")
    return FORMATS[name]


def format_of_ending(ending: str) -> str | None:
    """The name of the format whose files end so ("svg", ".TIF"); None where there is none."""
    plain = ending.lower().removeprefix(".")
    return next((name for name, form in FORMATS.items() if plain == name or plain in form.endings), None)


def scene_bytes(scene: Scene, output: Output) -> bytes:
    """A scene as a file's bytes. Raises InputError for an unknown format and for dpi that nothing is drawn at."""
    return format_named(output.file_format).write(_check_options(scene, output), output)


def pages_bytes(scenes: Sequence[Scene], output: Output, title: str) -> bytes:
    """Scenes (one at least) as one file with a page each. Raises InputError where the format has no pages."""
    write = format_named(output.file_format, [name for name, form in FORMATS.items() if form.pages]).pages
    assert write is not None
    return write([_check_options(scene, output) for scene in scenes], output, title)


def _check_options(scene: Scene, output: Output) -> Scene:
    if not 18 <= output.dpi <= 2400:
        raise InputError(f"{output.dpi:g} dpi is no resolution to draw at", where="--dpi", remedy="Choose 72 to 1200.")
    return scene.model_copy(update={"ground": None}) if output.clear else scene
