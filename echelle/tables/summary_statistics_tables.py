"""Tables of summaries: a mean with its SD, SE or interval for each group, and no rows behind it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from echelle.tables.table import Kind

_MEAN = re.compile(r"^(?:mean|average)\b|\bmean$", re.I)
_SD = re.compile(r"^(?:sd|s\.d\.|std|stdev|standard deviation)\b|\bsd$", re.I)
_SE = re.compile(r"^(?:se|s\.e\.|sem|standard error)\b|\bsem?$", re.I)
_LOW = re.compile(r"\b(?:lower|low|lcl)\b", re.I)
_HIGH = re.compile(r"\b(?:upper|high|ucl)\b", re.I)
_INTERVAL = re.compile(r"\b(?:ci|confidence|interval|limit|bound|lcl|ucl|lower|upper)\b", re.I)
_COUNT = re.compile(r"^(?:n|count|number|n\b.*)$", re.I)
MOST_SUMMARIES = 400


class FormCandidate(Protocol):
    """What must be known of a column."""

    @property
    def name(self) -> str: ...
    @property
    def kind(self) -> Kind: ...
    @property
    def distinct(self) -> int: ...
    @property
    def missing(self) -> int: ...


@dataclass(frozen=True, kw_only=True)
class SummaryColumns:
    """Which columns of a table of summaries hold what; None for what it does not give."""

    group: str
    mean: str
    n: str | None = None
    sd: str | None = None
    se: str | None = None
    low: str | None = None
    high: str | None = None

    def words(self) -> str:
        """What the table gives, in a few words."""
        given = [word for word, name in (("SD", self.sd), ("SE", self.se), ("interval", self.low), ("n", self.n)) if name]
        return ", ".join(["mean", *given])


def names_mean(name: str) -> bool:
    """Whether a column's name tells of means."""
    return bool(_MEAN.search(name))


def summary_columns(columns: Sequence[FormCandidate], rows: int) -> SummaryColumns | None:
    """The roles in a table of one row a group that gives a mean and its spread or interval; None for any other table."""
    if not 1 < rows <= MOST_SUMMARIES:
        return None
    numbers = [c.name for c in columns if c.kind == "measure"]
    means = [name for name in numbers if names_mean(name)]
    if len(means) != 1:
        return None
    names = [c for c in columns if c.kind in ("category", "identifier", "text") and c.distinct == rows and not c.missing]
    if not names:
        return None

    def first(pattern: re.Pattern[str], also: re.Pattern[str] | None = None) -> str | None:
        fits = (n for n in numbers if n != means[0] and pattern.search(n) and (also is None or also.search(n)))
        return next(fits, None)

    low, high = first(_LOW, _INTERVAL), first(_HIGH, _INTERVAL)
    sd, se = first(_SD), first(_SE)
    if low is None or high is None:
        low = high = None
    if sd is None and se is None and low is None:
        return None
    return SummaryColumns(group=names[0].name, mean=means[0], n=first(_COUNT), sd=sd, se=se, low=low, high=high)
