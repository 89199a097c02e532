"""What comes in and goes out about files that the worker makes."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field, RootModel

from echelle.drawing.formats import PictureFormat
from server.api.bodies import RequestBody
from server.api.faults import Fault
from server.file_jobs.states import FileJobStateName


class AskBatch(RequestBody):
    """The same figure for every level of a column, for measures (empty: all), or both: one PDF, or a zip of pictures."""

    what: Literal["batch"]
    comparison: str
    entry: int | None = None
    each: str | None = None
    measures: list[str] | None = Field(default=None, max_length=400)
    file_format: PictureFormat = "pdf"
    dpi: float = Field(default=300, ge=72, le=1200)
    width: str | None = Field(default=None, description="of the sheet, such as 85mm; the recipe's when left out")


class AskReport(RequestBody):
    """The report of a folio's figures."""

    what: Literal["report"]
    folio: str
    file_format: Literal["html", "pdf"] = "html"


class AskExport(RequestBody):
    """What a comparison's export gives at once, where it takes long: the same kinds and choices."""

    what: Literal["export"]
    comparison: str
    kind: str
    choices: dict[str, str] = Field(default_factory=dict, max_length=12)


class AskSeveral(RequestBody):
    """The exports of several comparisons of a study, each as its own file, in one zip."""

    what: Literal["several"]
    study: str
    comparisons: list[str] = Field(min_length=1, max_length=200)
    kind: str
    choices: dict[str, str] = Field(default_factory=dict, max_length=12)


class AskPages(RequestBody):
    """What a folio's pages are at once, where they take long: scenes as JSON."""

    what: Literal["pages"]
    folio: str


class AskFolio(RequestBody):
    """What a folio's export gives at once, where it takes long: the same kinds and choices."""

    what: Literal["folio"]
    folio: str
    kind: str
    choices: dict[str, str] = Field(default_factory=dict, max_length=12)


Asked = AskBatch | AskReport | AskExport | AskSeveral | AskPages | AskFolio


class AskFileJob(RootModel[Annotated[Asked, Field(discriminator="what")]]):
    """A file to make."""


class FileJobState(BaseModel):
    """How far a file has come."""

    id: str
    state: FileJobStateName
    done: int
    of: int
    name: str
    fault: Fault | None = Field(description="why there is no file, or what a file that is done misses")
