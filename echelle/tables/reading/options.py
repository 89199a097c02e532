"""What a person may say about how a file is read."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from echelle.strict_model import StrictModel
from echelle.tables.numerals import Decimal


class ReadingOptions(StrictModel):
    """What a person overrules; None leaves it to the reader. ``header_row`` 0 says that there are no headings."""

    delimiter: str | None = Field(default=None, min_length=1, max_length=1)
    decimal: Decimal | None = None
    header_row: int | None = Field(default=None, ge=0)
    sheet: str | None = None
    encoding: Literal["utf-8", "utf-16", "windows-1252"] | None = None
    tail: Literal["keep"] | None = Field(default=None, description="keep rows of totals and notes below the table")


USUAL = ReadingOptions()
