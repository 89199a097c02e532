"""A folio, drawn."""

from __future__ import annotations

from echelle.drawing.fonts.typesetter import set_line
from echelle.figures.scene import Scene
from echelle.folios.compose import FolioFigure, compose_folio
from echelle.folios.models import FolioPage
from server.comparisons.models import Comparison
from server.comparisons.scenes import dressed, rowless, without_rows
from server.comparisons.trail import data_of, recipe_at
from server.folios.models import Folio
from server.tables.cache import lanes_of


def pages_of(folio: Folio) -> list[Scene]:
    """Its pages, each figure as its comparison shows it now, without row ids."""
    figures = []
    for comparison in comparisons_of(folio):
        entry = comparison.head_entry
        data = data_of(comparison, entry)
        lanes = lanes_of(recipe_at(entry), data.table, data.steps)
        told = rowless(dressed(recipe_at(entry), comparison)).model_copy(update={"made": entry.at})
        figures.append(FolioFigure(told, lanes))
    pages = compose_folio(FolioPage.model_validate(folio.page), figures, set_line)
    for page in pages:
        without_rows(page)
    return pages


def comparisons_of(folio: Folio) -> list[Comparison]:
    """In the folio's order; those that are gone are left out."""
    found = {str(one.pk): one for one in folio.study.comparison_set.filter(pk__in=folio.figures)}
    return [found[pk] for pk in folio.figures if pk in found]
