"""Lanes and panels: who is drawn where, and what became of everyone else."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from echelle.catalogue.catalogue import Catalogue
from echelle.numbers.bins import recording_step
from echelle.numbers.moments import Moments, moments
from echelle.numbers.sample import Floats, Sample, merged, sample_of_unordered
from echelle.tables.gathered import Gathered
from echelle.tables.subjects import SubjectNoun, subject_noun
from echelle.tables.table import Kind, RowChange

Rows = NDArray[np.int64]
Codes = NDArray[np.int32]
MOST_LANES = 1_000
# So many single values are a list of them.
_MANY = 8
_EXCERPT = 500
# Why a row is in no lane, or in one without a number.
Aside = Literal["missing", "beyond a limit", "left out", "ungrouped", "not shown"]


@dataclass(frozen=True)
class SummaryStatistics:
    """What a table of summaries says of a group; None for what it does not give."""

    n: int | None
    mean: float
    sd: float | None
    se: float | None
    low: float | None
    high: float | None


@dataclass(frozen=True, eq=False)
class AtLimit:
    """Records that stand in no number, with their rows (shape (k,)): known only by a limit ("<0.4"), or left out."""

    limits: Floats = field(default_factory=lambda: np.empty(0))
    rows: Rows = field(default_factory=lambda: np.empty(0, dtype=np.int64))


@dataclass(frozen=True, eq=False)
class Extra:
    """What another column says of a lane's rows: codes into its levels (−1 for none), or numbers; shape (n,)."""

    codes: Codes
    levels: tuple[str, ...]
    numbers: Floats | None = None


@dataclass(frozen=True)
class Level:
    """A place among the groups, subgroups or panels: its key, its level (None without a column), its name, its number; its
    name with signs where marks were written into it; its place among all levels of its column, which decides its colour,
    and of how many, where they have an order (numbers, years, stages).
    """

    key: str
    level: str | None
    name: str
    value: float | None = None
    signed: str = ""
    hue: int | None = None
    of: int | None = None

    @property
    def shown(self) -> str:
        """The name as it is set on the sheet."""
        return self.signed or self.name


@dataclass(frozen=True)
class PanelOf:
    """One panel: its place in the grid and what stands over it; its level, where one role makes the panels."""

    key: str
    name: str
    row: int
    column: int
    shown: str = ""
    level: str | None = None


@dataclass(frozen=True, eq=False, kw_only=True)
class Lane:
    """The values of one group, or of one subgroup of it, in one panel. ``values`` and ``rows`` (shape (n,)) are in row order:
    all of them, or some where ``tally`` holds all values with how often each occurs. ``group`` is None without groups.
    ``slot`` and ``part`` are the places of its group and subgroup. ``given`` stands for the rows that a table of summaries
    does not hold; ``below`` and ``above`` are the censored ones, ``out`` those left out (with the value that counts nowhere).
    ``hue`` is the place of its colour and ``tint`` the colour, where they are not its own.
    """

    key: str
    group: str | None
    name: str
    values: Floats
    rows: Rows
    people: int | None
    missing: int
    censored: int
    left_out: int
    given: SummaryStatistics | None = None
    below: AtLimit = field(default_factory=AtLimit)
    above: AtLimit = field(default_factory=AtLimit)
    out: AtLimit = field(default_factory=AtLimit)
    subgroup: str | None = None
    panel: str = "p1"
    slot: int = 0
    part: int = 0
    extras: dict[str, Extra] = field(default_factory=dict)
    hue: int | None = None
    tint: str | None = None
    tally: Sample | None = None

    @property
    def n(self) -> int:
        """How many values there are."""
        if self.given is not None:
            return self.given.n or 0
        return len(self.values) if self.tally is None else len(self.tally)

    @property
    def level_names(self) -> tuple[str | None, str | None]:
        """Its levels of the groups and subgroups."""
        return self.group, self.subgroup

    @property
    def filled(self) -> bool:
        """Whether it holds values, and not only what a table of summaries says of them."""
        return self.given is None and self.n > 0

    @cached_property
    def extent(self) -> tuple[float, float] | None:
        """From where to where the values reach, or mean and spread where only those are given; None for an empty lane."""
        if self.given is None:
            return (self.ordered[0], self.ordered[-1]) if self.n else None
        spread = self.given.sd or self.given.se or 0.0
        ends = [self.given.mean - spread, self.given.mean + spread, self.given.low, self.given.high]
        known = [end for end in ends if end is not None]
        return min(known), max(known)

    @cached_property
    def ordered(self) -> Sample:
        """The values sorted upwards."""
        return sample_of_unordered(self.values) if self.tally is None else self.tally

    @cached_property
    def moments(self) -> Moments:
        """Mean, spread and shape."""
        if self.given is None:
            return moments(self.ordered)
        sd = self.given.sd
        return Moments(self.given.mean, None if sd is None else sd * sd, sd, self.given.se, None, None)

    @cached_property
    def small(self) -> dict[object, Any]:
        """What layers computed of this lane, by the settings that decide it: curves, bins, intervals."""
        return {}

    @cached_property
    def long(self) -> dict[object, Any]:
        """The same for what has a number for each value: places of points, steps."""
        return {}


def _excerpt(lane: Lane) -> Floats:
    return lane.values[:_EXCERPT] if lane.tally is None else lane.tally.values[:_EXCERPT]


@dataclass(frozen=True)
class SubstitutedLimits:
    """How many values in use stand for a limit ("<0.4"), from where to where they stand (NaN where none does), and how many
    were computed from such ones.
    """

    count: int
    low: float
    high: float
    computed: int


@dataclass(frozen=True)
class WithinSubjects:
    """Whose differences the values are: to which lane ("": from each lane to the next) and within what."""

    reference: str
    by: str


@dataclass(frozen=True, eq=False, kw_only=True)
class RowAccount:
    """Where all rows of the table went: how many there are, are kept, miss a value (by how that is written), are known only
    by a limit, were left out one by one, have no group, are not finite, or have a level that is not shown. Of several
    measures the counts are of values. ``read`` is how many rows the file has, ``prepared`` what the preparation did to
    them. ``people`` is the number of distinct subjects, None without an identifier; ``stand_ins`` tells of numbers that
    stand for limits; ``aside`` lists the rows (shape (k,)) that stand in no number;
    ``parts`` is of how many files, and of how many there are, the rows were counted, and
    ``gathered`` which of these stand for cells of a grid.
    """

    rows: int
    kept: int
    read: int = 0
    prepared: tuple[RowChange, ...] = ()
    people: int | None = None
    missing_by: dict[str, int] = field(default_factory=dict)
    censored: int = 0
    left_out: int = 0
    ungrouped: int = 0
    not_finite: int = 0
    dropped: int = 0
    stand_ins: SubstitutedLimits | None = None
    aside: dict[Aside, Rows] = field(default_factory=dict)
    parts: tuple[int, int] | None = None
    gathered: Gathered | None = None


@dataclass(frozen=True, eq=False, kw_only=True)
class Arrangement:
    """Lanes in drawing order, with the account of all rows.

    Several measures give one lane each; ``units`` holds each unit once. ``identifier`` is the column that names subjects,
    where they repeat. ``slots`` are the groups' places, the same in every panel; ``parts`` the subgroups. ``differs`` says
    whose differences the values are, where they are some. ``counted`` is set where the column holds no numbers: its lanes have
    rows to count, and nothing to read. ``reread`` names measures that were guessed to be of another kind, which gave way.
    ``whole`` is what these are a part of, such as those of a page.
    """

    name: str
    heading: str
    units: tuple[str | None, ...]
    groups: str | None
    lanes: tuple[Lane, ...]
    account: RowAccount
    slots: tuple[Level, ...] = ()
    parts: tuple[Level, ...] = ()
    subgroups: str | None = None
    panels: tuple[PanelOf, ...] = (PanelOf("p1", "", 0, 0),)
    panelled: tuple[str, ...] = ()
    extras: dict[str, tuple[str, ...]] = field(default_factory=dict)
    identifier: str | None = None
    differs: WithinSubjects | None = None
    counted: bool = False
    reread: dict[str, Kind] = field(default_factory=dict)
    whole: Arrangement | None = None

    @property
    def all_lanes(self) -> tuple[Lane, ...]:
        """All lanes of the figure, also where these are some of them."""
        return self.lanes if self.whole is None else self.whole.lanes

    @property
    def subject_noun(self) -> SubjectNoun:
        """What those are called whom the identifier names."""
        return subject_noun(self.identifier)

    @cached_property
    def single_values(self) -> bool:
        """Whether many lanes hold one value each: a list of values with their names."""
        return len(self.all_lanes) >= _MANY and all(lane.given is None and lane.n <= 1 for lane in self.all_lanes)

    @property
    def unkept(self) -> int:
        """How many rows the conditions of the comparison leave out."""
        return self.account.rows - self.account.kept

    @property
    def used(self) -> int:
        """How many rows have a value in a lane."""
        return sum(1 if lane.given else lane.n for lane in self.lanes)

    def within(self, heading: str, words: Catalogue) -> str:
        """A heading of the measure, and whose differences its values are."""
        if self.differs is None:
            return heading
        return words.say("heading-within", heading=heading, reference=self.differs.reference or "none", by=self.differs.by)

    @property
    def drawn(self) -> int:
        """How many values are at hand to be drawn one by one."""
        return sum(len(lane.values) for lane in self.lanes)

    @cached_property
    def extent(self) -> tuple[float, float] | None:
        """From where to where all lanes reach."""
        ends = [lane.extent for lane in self.all_lanes if lane.extent is not None]
        return (min(low for low, _ in ends), max(high for _, high in ends)) if ends else None

    @cached_property
    def pooled(self) -> Sample:
        """All values, sorted upwards."""
        return merged(lane.ordered for lane in self.all_lanes)

    @cached_property
    def excerpt(self) -> Floats:
        """Some values of every lane, in row order: enough to see how many decimals they are written with."""
        each = [_excerpt(lane) if lane.given is None else np.array([lane.given.mean]) for lane in self.all_lanes]
        return np.concatenate(each) if each else np.empty(0)

    @cached_property
    def step(self) -> float | None:
        """The step in which the values were recorded; None where there is none."""
        return recording_step(self.pooled)

    def full_name(self, lane: Lane) -> str:
        """A lane's name, with that of its panel where there are several."""
        panel = next((panel.name for panel in self.panels if panel.key == lane.panel), "")
        return f"{panel} · {lane.name}" if panel else lane.name

    @cached_property
    def fullest(self) -> int:
        """How many values the fullest lane has."""
        return max((lane.n for lane in self.all_lanes), default=0)

    def of_panel(self, key: str) -> list[Lane]:
        """The lanes of a panel."""
        return [lane for lane in self.lanes if lane.panel == key]

    def of_slot(self, panel: str, slot: int) -> list[Lane]:
        """The lanes of a group in a panel."""
        return self._by_slot.get((panel, slot), [])

    def of_slots(self, slots: range) -> Arrangement:
        """Some groups alone, which move together; what is computed over all lanes stays that of the ``whole``."""
        lanes = tuple(replace(lane, slot=slots.index(lane.slot)) for lane in self.lanes if lane.slot in slots)
        return replace(self, lanes=lanes, slots=tuple(self.slots[slot] for slot in slots), whole=self)

    @cached_property
    def _by_slot(self) -> dict[tuple[str, int], list[Lane]]:
        result: dict[tuple[str, int], list[Lane]] = {}
        for lane in self.lanes:
            result.setdefault((lane.panel, lane.slot), []).append(lane)
        return result
