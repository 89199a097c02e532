"""What a person may say about how a file is read."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from echelle.strict_model import StrictModel
from echelle.tables.numerals import Decimal
from echelle.tables.reading.encoding import Encoding


class ReadingOptions(StrictModel):
    """What a person overrules; None leaves it to the reader. ``header_row`` 0 says that there are no headings."""

    delimiter: str | None = Field(default=None, min_length=1, max_length=1, description="a blank stands for runs of blanks")
    decimal: Decimal | None = None
    header_row: int | None = Field(default=None, ge=0)
    sheet: str | None = None
    encoding: Encoding | None = None
    day_numbers: Literal["numbers"] | None = Field(default=None, description="leave numbers that look like days as they are")
    merged: Literal["first"] | None = Field(default=None, description="leave a merged cell's value in its first row")
    tail: Literal["keep"] | None = Field(default=None, description="keep rows of totals and notes below the table")


USUAL = ReadingOptions()
