"""How a folio's page is set."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from echelle.strict_model import StrictModel

PageName = Literal["A4", "Letter", "slide", "one column", "one and a half columns", "two columns"]
# Width and height in pt; a height of None grows with the figures. Column widths are those that journals commonly ask for.
PAGES: dict[PageName, tuple[float, float | None]] = {
    "A4": (595.276, 841.89), "Letter": (612.0, 792.0), "slide": (720.0, 405.0),
    "one column": (240.945, None), "one and a half columns": (323.15, None), "two columns": (493.228, None),
}  # fmt: skip


class FolioPage(StrictModel):
    """The page, its columns, and what all figures share."""

    page: PageName = "two columns"
    columns: int = Field(default=2, ge=1, le=4)
    letters: Literal["A", "a", "none"] = "A"
    one_axis: bool = Field(default=False, description="figures of one measure share an axis")
    note: bool = Field(default=True, description="one method note under all")
    key: bool = Field(default=False, description="one reader's key under all")
    title: str = Field(default="", max_length=500)
