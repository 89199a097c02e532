"""A folio, drawn."""

from __future__ import annotations

from echelle.drawing.fonts.typesetter import set_line
from echelle.drawing.formats import PICTURES, Output, format_named, pages_bytes, scene_bytes
from echelle.errors import InputError
from echelle.folios.compose import FolioFigure, compose_folio
from echelle.folios.models import FolioPage
from echelle.recipes.style import Style
from echelle.scene.models import Scene
from server.comparisons.models import Comparison, TrailEntry
from server.comparisons.services.scenes import must_be_quick, recipe_without_rows, strip_rows, with_style
from server.comparisons.services.trail import data_of, entry_of, recipe_at
from server.exporting.services import ExportFile
from server.folios.models import Folio
from server.tables.services.cache import lanes_of
from server.tables.services.persons import Persons


def pages_of(folio: Folio, sees_rows: bool, quick: bool = False) -> list[Scene]:
    """Its pages, each figure as its comparison shows it now (or did when the folio was locked), without row ids. Raises
    InputError where a figure names persons and whoever looks may not see rows, LongWork where they are to be ``quick`` and
    are not.
    """
    figures, persons = [], []
    for comparison, entry, house in states_of(folio):
        recipe, data = recipe_at(entry), data_of(comparison, entry)
        if not sees_rows:
            persons.append(Persons(data.table, data.steps))
            persons[-1].must_not_divide(recipe)
        told = recipe_without_rows(with_style(recipe, comparison, house)).model_copy(update={"made": entry.at})
        figures.append(FolioFigure(told, lanes_of(recipe, data.table, data.steps)))
    if quick:
        must_be_quick((figure.recipe, figure.lanes) for figure in figures)
    pages = compose_folio(FolioPage.model_validate(folio.page), figures, set_line)
    for page in pages:
        strip_rows(page)
        for named in persons:
            named.mask(page)
    return pages


def folio_file(folio: Folio, kind: str, query: dict[str, str], sees_rows: bool, quick: bool = False) -> ExportFile:
    """One PDF of all pages, or one page as a picture. Raises as :func:`pages_of` does, and InputError for an unknown kind or
    page.
    """
    form, pages = format_named(kind, PICTURES), pages_of(folio, sees_rows, quick)
    if form.pages:
        return ExportFile(pages_bytes(pages, Output(kind), folio.name), form.media_type, f".{kind}")
    dpi, number = query.get("dpi", "300"), query.get("page", "1")
    if not (number.isdecimal() and 1 <= int(number) <= len(pages) and dpi.isdecimal()):
        what = f"the folio has {len(pages)} pages"
        raise InputError(what, where="page", remedy="Choose one of them, and dpi such as 300.")
    ending = f" {number}.{kind}" if len(pages) > 1 else f".{kind}"
    return ExportFile(scene_bytes(pages[int(number) - 1], Output(kind, float(dpi))), form.media_type, ending)


def states_of(folio: Folio) -> list[tuple[Comparison, TrailEntry, Style]]:
    """Each comparison with the state and the house style that the folio shows it in."""
    result = []
    for comparison in comparisons_of(folio):
        kept = folio.locked_states.get(str(comparison.pk))
        entry = entry_of(comparison, kept["entry"] if kept else None)
        result.append((comparison, entry, Style.model_validate(kept["house"]) if kept else comparison.house))
    return result


def comparisons_of(folio: Folio) -> list[Comparison]:
    """In the folio's order; those that are gone are left out."""
    result = {str(comparison.pk): comparison for comparison in folio.study.comparison_set.filter(pk__in=folio.figures)}
    return [result[pk] for pk in folio.figures if pk in result]
