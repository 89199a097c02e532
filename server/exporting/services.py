"""What goes out of a comparison, as bytes: figures, readings, rows, recipe, note, report, bundle."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

from pydantic import ValidationError

from echelle.bundles.models import Contents, RawData, TrailPart
from echelle.bundles.pseudonyms import with_pseudonyms
from echelle.bundles.writer import bundle
from echelle.drawing.fonts.typesetter import set_line
from echelle.drawing.formats import FORMATS, Output, pages_bytes, scene_bytes
from echelle.drawing.readings import ReadingsFormat, readings_file
from echelle.drawing.svg import SvgText
from echelle.errors import InputError
from echelle.far.counted_file import ENDING
from echelle.figures.lanes.arrange import arrange
from echelle.figures.lanes.lane import Arrangement
from echelle.recipes.parse import recipe_text
from echelle.recipes.recipe import Recipe
from echelle.recipes.seal import seal
from echelle.recipes.style import Size, Style
from echelle.render import pages_of_lanes, reader_key_of, scene_of, scene_of_lanes
from echelle.reports.content import ReportPart
from echelle.reports.html import report
from echelle.reports.pdf import fit_to_page, report_pdf
from echelle.scene.models import Scene
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.steps.files import named_tables
from echelle.tables.storage.writers import rows_file
from echelle.tables.table import Table
from server.comparisons.models import Comparison, TrailEntry
from server.comparisons.services.scenes import must_be_quick, recipe_without_rows, strip_rows, with_style
from server.comparisons.services.trail import Data, data_of, entry_of, must_be_shown, recipe_at
from server.tables.models import DataTable, RawFile
from server.tables.services.cache import counted_bytes, rows_for
from server.tables.services.persons import Persons
from server.tables.services.preparation import table_named

_XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
READINGS: dict[str, str] = {"csv": "text/csv", "xlsx": _XLSX, "json": "application/json"}
REPORTS: dict[str, str] = {"html": "text/html; charset=utf-8", "pdf": "application/pdf"}
# What holds rows, or names some, is for those who may see rows.
OF_ROWS = ("recipe", "rows", "bundle", "report")
KINDS = (*FORMATS, "recipe", "readings", "rows", "note", "bundle", "report")
_UNDRAWN = ("recipe", "rows")


@dataclass(frozen=True, eq=False)
class ExportContext:
    """A sealed state with its data, and what was asked of its file."""

    comparison: Comparison
    entry: TrailEntry
    data: Data
    recipe: Recipe
    rows: Table
    query: dict[str, str]
    may_see_rows: bool

    @cached_property
    def lanes(self) -> Arrangement:
        """What is drawn."""
        return arrange(self.recipe, self.rows)

    def scene(self) -> Scene:
        """The figure, or its reader's key; without row ids for those who may not see rows."""
        return self._seen(lambda told: [self._drawn(told)])[0]

    def pages(self) -> list[Scene]:
        """The figure on pages."""
        return self._seen(lambda told: pages_of_lanes(told, self.lanes))

    def _drawn(self, told: Recipe) -> Scene:
        return reader_key_of(told, self.lanes) if self.query.get("page") == "key" else scene_of_lanes(told, self.lanes)

    def _seen(self, draw: Callable[[Recipe], list[Scene]]) -> list[Scene]:
        if self.may_see_rows:
            return draw(self.recipe)
        persons = Persons(self.data.table, self.data.steps)
        persons.must_not_divide(self.recipe)
        scenes = draw(recipe_without_rows(self.recipe))
        for scene in scenes:
            strip_rows(scene, persons)
        return scenes


def export_of(comparison: Comparison, kind: str, query: dict[str, str], sees: bool, quick: bool = False) -> ExportFile:
    """A state as a file: the command line makes the same bytes of the sealed recipe. Raises InputError for an unknown kind,
    LongWork where it is to be ``quick`` and is not.
    """
    entry = entry_of(comparison, _whole(query.get("entry")))
    must_be_shown(comparison, entry, query.get("state"))
    data = data_of(comparison, entry)
    sealed = sealed_at(comparison, entry)
    if kind == "recipe":
        return ExportFile(recipe_text(sealed), "application/json", ".recipe.json")
    out = ExportContext(comparison, entry, data, resize(sealed, query), rows_for(sealed, data.table, data.steps), query, sees)
    if quick and kind in KINDS and kind not in _UNDRAWN:
        must_be_quick([(out.recipe, out.lanes)])
    return _figure(out, kind) if kind in FORMATS else _OTHERS.get(kind, _unknown)(out)


def sealed_at(comparison: Comparison, entry: TrailEntry, house: Style | None = None) -> Recipe:
    """A state's recipe with everything in it that redraws it: look, date, preparation, how the file is read."""
    data = data_of(comparison, entry)
    told = ReadingOptions.model_validate(data.table.told)
    return seal(with_style(recipe_at(entry), comparison, house), entry.at, data.steps, told)


def report_part(comparison: Comparison, entry: TrailEntry, house: Style | None = None, printed: bool = False) -> ReportPart:
    """A state as it stands in a report; ``printed`` where a page of paper must hold its figure."""
    recipe, data = sealed_at(comparison, entry, house), data_of(comparison, entry)
    scene = scene_of(fit_to_page(recipe) if printed else recipe, rows_for(recipe, data.table, data.steps))
    settled = f"{entry.by}, {entry.at:%Y-%m-%d %H:%M} UTC"
    return ReportPart(
        name=comparison.name,
        scene=scene,
        recipe=recipe,
        file=data.table.name,
        sha256=data.table.raw.sha256,
        settled=settled,
        locked=comparison.lock_words,
    )


@dataclass(frozen=True)
class ExportFile:
    """A file's bytes, its media type, and what its name ends in."""

    data: bytes
    type: str
    ending: str


def _figure(out: ExportContext, kind: str) -> ExportFile:
    text: SvgText = "outlines" if out.query.get("text") == "outlines" else "live"
    output = Output(kind, _number(out.query.get("dpi"), 300.0), text, out.query.get("clear") == "true", out.recipe.made)
    if out.query.get("page") == "pages":
        return ExportFile(pages_bytes(out.pages(), output, out.comparison.name), FORMATS[kind].media_type, f".{kind}")
    ending = f" key.{kind}" if out.query.get("page") == "key" else f".{kind}"
    return ExportFile(scene_bytes(out.scene(), output), FORMATS[kind].media_type, ending)


def _readings(out: ExportContext) -> ExportFile:
    kind: ReadingsFormat = _one_of(out.query.get("as"), READINGS)  # type: ignore[assignment]
    return ExportFile(readings_file(out.scene(), kind), READINGS[kind], f" readings.{kind}")


def _rows(out: ExportContext) -> ExportFile:
    kind = _one_of(out.query.get("as"), {"csv": "", "xlsx": ""})
    return ExportFile(rows_file(out.rows, kind).data, READINGS[kind], f" rows.{kind}")  # type: ignore[arg-type]


def _note(out: ExportContext) -> ExportFile:
    return ExportFile(out.scene().note.encode(), "text/plain; charset=utf-8", " method note.txt")


def _bundle(out: ExportContext) -> ExportFile:
    raw = out.data.table.raw
    refs = {ref.sha256: ref for ref in named_tables(out.data.steps) if ref.sha256 != raw.sha256}
    others = [_raw(_file_of(table_named(out.comparison.study_id, ref)), ref.name) for ref in refs.values()]
    coded, data = out.query.get("coded") == "true", _raw(raw, out.data.table.name)
    if out.data.table.is_far:
        if coded:
            out.data.table.must_be_near("No identifier is replaced")
        # The list of its files redraws nothing; what was counted of them does.
        data = RawData(f"{out.data.table.name}{ENDING}", counted_bytes(out.recipe, out.data.table, out.data.steps))
    contents = Contents(out.recipe, data, others, out.rows, _trail(out))
    made = bundle(with_pseudonyms(contents) if coded else contents)
    return ExportFile(made, "application/zip", ".zip")


def _trail(out: ExportContext) -> list[TrailPart]:
    """The states over the same rows, since those are in the bundle."""
    same = {"table": out.data.table, "preparation": out.data.preparation, "refused": False}
    entries = out.comparison.trailentry_set.filter(**same)
    return [
        TrailPart(number=e.number, parent=e.parent, words=e.words, name=e.name, by=e.by, at=e.at, recipe=recipe_at(e))
        for e in entries
    ]  # fmt: skip


def _report(out: ExportContext) -> ExportFile:
    kind, study = _one_of(out.query.get("as"), REPORTS), out.comparison.study.name
    if kind == "pdf":
        part = report_part(out.comparison, out.entry, printed=True)
        return ExportFile(report_pdf(study, [part], set_line, out.recipe.made), REPORTS[kind], " report.pdf")
    return ExportFile(report(study, [report_part(out.comparison, out.entry)]), REPORTS[kind], " report.html")


def _file_of(stored: DataTable | RawFile) -> RawFile:
    return stored.raw if isinstance(stored, DataTable) else stored


def _raw(raw: RawFile, name: str) -> RawData:
    return RawData(name, b"".join(raw.pieces()))


def _unknown(out: ExportContext) -> ExportFile:
    raise InputError("nothing is written in that format", remedy=f"Choose one of {', '.join(KINDS)}.")


_OTHERS: dict[str, Callable[[ExportContext], ExportFile]] = {
    "readings": _readings, "rows": _rows, "note": _note, "bundle": _bundle, "report": _report,
}  # fmt: skip


def resize(recipe: Recipe, query: dict[str, str]) -> Recipe:
    """The recipe on the sheet that was asked for."""
    if not query.get("width"):
        return recipe
    try:
        size = Size(width=query["width"], height=query.get("height") or None)
    except ValidationError:
        raise InputError("that is no size of a sheet", where="width", remedy="Give one such as 85mm.") from None
    return recipe.model_copy(update={"size": size})


def _one_of(asked: str | None, known: dict[str, str]) -> str:
    kind = asked or next(iter(known))
    if kind not in known:
        raise InputError(f"nothing is written as “{kind}”", where="as", remedy=f"Choose {' or '.join(known)}.")
    return kind


def _whole(text: str | None) -> int | None:
    return int(text) if text and text.isdecimal() and len(text) < 10 else None


def _number(text: str | None, usual: float) -> float:
    try:
        return float(text) if text else usual
    except ValueError:
        raise InputError(f"“{text}” is no number", where="dpi", remedy="Give dpi such as 300.") from None
