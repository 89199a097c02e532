"""What a layout is made of, and what both ways of laying lanes share."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from echelle.errors import InputError
from echelle.figures.geometry.axes import Ticks, domain_of, ticks_of, ticks_on
from echelle.figures.geometry.count_axis import only_counts, only_means
from echelle.figures.geometry.frame import Band, Frame
from echelle.figures.geometry.guide_labels import GuideLabel
from echelle.figures.geometry.lane_bands import Slots, bands_of, is_overlaid, lane_fill, parts_placed, slots_of
from echelle.figures.geometry.lane_regions import rise_over_lane
from echelle.figures.geometry.lettering import LEADING, Block, Lettering
from echelle.figures.geometry.secondary_axis import MeasuredLayers, SecondaryAxis, second_shown
from echelle.figures.lanes.figure_context import FigureContext, hull
from echelle.figures.lanes.lane import Arrangement, Lane, PanelOf
from echelle.figures.layout.legend import Key
from echelle.figures.words.ledger_columns import LedgerColumn, ledger_columns
from echelle.recipes.layers.base import RisingLayer
from echelle.recipes.recipe import Recipe
from echelle.recipes.roles import Scales
from echelle.recipes.style import Runs, points

MARGIN = 8.0
# Subgroups whose numbers stand beside a group, each on its own.
_MOST_COUNTED = 4
GAP = 6.0
_HEADING = 0.94
# Headings at the left of upright lanes are so many letters' sizes wide at most; no number is set smaller than this, in pt.
_LEDGER_HEADING, _LEAST_LEDGER = 8.0, 4.0
PANEL_GAP = 9.0
LANE_NAME = 1.06
Laid = tuple[float, tuple["PanelPlace", ...], Block]


@dataclass(frozen=True)
class SlotName:
    """A group's name and the count under it (or beside it, where the lane is low)."""

    slot: int
    name: Block
    count: Block | None

    @property
    def height(self) -> float:
        """Of both, in points."""
        return self.name.height + (self.count.height if self.count else 0.0)

    @property
    def width(self) -> float:
        """Of the wider one, in points."""
        return max(self.name.width, self.count.width if self.count else 0.0)


NO_TICKS = Ticks((), ())


@dataclass(frozen=True, kw_only=True)
class PanelPlace:
    """One panel on the sheet: its frame, its lanes' bands, and which texts stand around it."""

    panel: PanelOf
    frame: Frame
    bands: tuple[Band, ...]
    slots: Slots
    ticks: Ticks = NO_TICKS
    labelled: bool = False
    title: Block | None = None
    names: tuple[SlotName, ...] = ()
    counted: bool = False
    second: bool = False
    names_apart: bool = False
    second_room: float = 0.0
    spans: tuple[float, float] | None = None
    rise: float = 0.0
    labels: tuple[GuideLabel, ...] = ()
    parts: int = 0


@dataclass(frozen=True, kw_only=True)
class SheetTexts:
    """The blocks of text around the panels; None where there is none."""

    title: Block | None = None
    subtitle: Block | None = None
    groups_title: Block | None = None
    second_title: Block | None = None
    source: Block | None = None
    credit: Block | None = None
    caption: Block | None = None
    note: Block | None = None


@dataclass(frozen=True)
class PlacedColumn:
    """A column of the ledger: its heading, the size of its letters, and where its right edge stands beyond the panel's. Under
    lanes that run up it is a line, its lower edge so far under what stands under the panel, its heading at the left.
    """

    column: LedgerColumn
    heading: Block
    size: float
    at: float


def stands_beside(title: Block | None, ledger: Sequence[PlacedColumn]) -> bool:
    """Whether the title of a second axis finds room at its ticks: where headings of a ledger leave some at the left."""
    return title is not None and title.width <= max((placed.heading.width for placed in ledger), default=0.0)


@dataclass(frozen=True)
class Layout:
    """The sheet, its panels, its key and the texts around them; coordinates in points. ``turned``: lanes run across though they
    were to stand upright.
    """

    width: float
    height: float
    panels: tuple[PanelPlace, ...]
    axis_title: Block
    texts: SheetTexts = SheetTexts()
    key: Key | None = None
    turned: bool = False
    ledger: tuple[PlacedColumn, ...] = ()

    @property
    def frame(self) -> Frame:
        """The first panel's."""
        return self.panels[0].frame

    @property
    def shortened(self) -> int:
        """How many names were cut."""
        return sum(name.name.cut for panel in self.panels for name in panel.names)


@dataclass(frozen=True)
class LayoutPlan:
    """What decides the layout."""

    recipe: Recipe
    context: FigureContext
    measured: MeasuredLayers
    seconds: dict[str, SecondaryAxis]
    letters: Lettering
    runs: Runs

    @classmethod
    def of(
        cls, context: FigureContext, measured: MeasuredLayers, seconds: dict[str, SecondaryAxis], letters: Lettering
    ) -> LayoutPlan:
        """The plan of a context: stems, which are text, always run up."""
        runs: Runs = "up" if _stems(measured) else context.recipe.axis.runs
        return cls(context.recipe, context, measured, seconds, letters, runs)

    @property
    def may_turn(self) -> bool:
        """Whether lanes that run up may be turned across where their names collide."""
        return self.runs == "up" and not _stems(self.measured)

    @property
    def arrangement(self) -> Arrangement:
        return self.context.arrangement

    @property
    def rows(self) -> int:
        return max(panel.row for panel in self.arrangement.panels) + 1

    @property
    def columns(self) -> int:
        return max(panel.column for panel in self.arrangement.panels) + 1

    @property
    def slots(self) -> int:
        return 1 if is_overlaid(self.recipe) else max(len(self.arrangement.slots), 1)

    @property
    def scales(self) -> Scales:
        """Which panels share an axis; measures in different units never do."""
        return self.recipe.panels.scales if len(self.arrangement.units) == 1 else "each-its-own"

    @property
    def far(self) -> float:
        """Room for an axis on the far side, across the measure: its labels and its title, in points; 0 for none."""
        if not any(measurement.far for _, measurement in self.measured):
            return 0.0
        size = self.letters.style.text_size
        labels = size * LEADING
        if self.runs == "up":
            spans = {end - start for start, end in domains(self).values()}
            ends = {label for span in spans for most in range(4, 11) for label in ticks_of(-span, span, 2 * most).labels}
            labels = max((self.letters.width(label, size) for label in ends), default=0.0)
        return labels + 5 + size * LEADING

    @cached_property
    def ledger(self) -> tuple[PlacedColumn, ...]:
        """The columns of the ledger beside one column of panels whose lanes have strips of their own; under one panel, whose
        lanes run up, its lines.
        """
        if not self.recipe.ledger.drawn or is_overlaid(self.recipe) or self.columns > 1:
            return ()
        size = self.letters.style.text_size
        columns = ledger_columns(self.context)
        if self.runs == "up":
            return self._ledger_lines(columns) if self.rows == 1 else ()
        placed, right = list[PlacedColumn](), 2.0
        for column in columns:
            widest = max((self.letters.width(text, size) for text in column.texts.values()), default=0.0)
            heading = self.letters.block(column.name, max(widest, 5 * size), size * _HEADING, 400, 2)
            right += max(widest, heading.width) + 1.4 * size
            placed.append(PlacedColumn(column, heading, size, right))
        return tuple(placed)

    def _ledger_lines(self, columns: list[LedgerColumn]) -> tuple[PlacedColumn, ...]:
        """A line for each reading, in letters small enough for the lanes. Raises InputError where none are."""
        usual = self.letters.style.text_size
        widest = max((self.letters.width(text, 1.0) for column in columns for text in column.texts.values()), default=1.0)
        lanes = self.slots * (len(self.arrangement.parts) if parts_placed(self.recipe, self.arrangement) == "beside" else 1)
        headings = [self.letters.block(column.name, _LEDGER_HEADING * usual, usual * _HEADING, 400, 2) for column in columns]
        room = points(self.recipe.size.width) - 2 * MARGIN - max((block.width for block in headings), default=0.0) - 2 * usual
        size = min(usual, room / max(lanes, 1) * 0.94 / widest)
        if size < _LEAST_LEDGER:
            raise too_small()
        placed, at = list[PlacedColumn](), 3.0
        for column, heading in zip(columns, headings, strict=True):
            at += max(heading.height, size * LEADING) + 1.5
            placed.append(PlacedColumn(column, heading, size, at))
        return tuple(placed)

    @property
    def ledger_room(self) -> float:
        """What the ledger takes at the right, or under upright lanes, in points."""
        return self.ledger[-1].at if self.ledger else 0.0

    @property
    def second(self) -> bool:
        return second_shown(self.recipe, self.seconds)


def _stems(measured: MeasuredLayers) -> bool:
    return any(layer.even_axis for layer, _ in measured)


def domains(plan: LayoutPlan) -> dict[str, tuple[float, float]]:
    """From where to where each panel's axis looks: one for all, one for panels that share an axis, or each its own."""
    recipe, arrangement, scales = plan.recipe, plan.arrangement, plan.scales

    def line(panel: PanelOf) -> object:
        if scales == "one":
            return 0
        return panel.key if scales == "each-its-own" else (panel.column if plan.runs == "across" else panel.row)

    result: dict[str, tuple[float, float]] = {}
    for panel in arrangement.panels:
        lanes = [lane for other in arrangement.panels if line(other) == line(panel) for lane in arrangement.of_panel(other.key)]
        extent, own = hull(extents_of(plan, lanes, tails=True)), hull([lane.extent for lane in lanes])
        # What layers add below the place where the scale begins is cut off there.
        if extent is not None and own is not None and not plan.context.transform.holds(extent[0]):
            extent = (own[0], extent[1])
        result[panel.key] = domain_of(extent, recipe.axis)
    return result


def extents_of(plan: LayoutPlan, lanes: Sequence[Lane], tails: bool) -> list[tuple[float, float] | None]:
    """From where to where each lane reaches: its values where they are drawn, and with ``tails`` all that layers add."""
    values_drawn = not (only_means(plan.recipe) or only_counts(plan.recipe))
    extents = [lane.extent for lane in lanes] if values_drawn else []
    if tails or not values_drawn:
        extents += [measurement.extents.get(lane.key) for lane in lanes for _, measurement in plan.measured]
    return extents


def frame_at(
    plan: LayoutPlan, key: str, domain: tuple[float, float], left: float, top: float, width: float, height: float
) -> Frame:
    """The frame of a panel, whose axis runs over ``domain``."""
    return Frame(
        key=key, left=left, top=top, width=width, height=height, runs=plan.runs, domain=domain, transform=plan.context.transform
    )


def place_panel(
    plan: LayoutPlan, panel: PanelOf, frame: Frame, most: int, labelled: bool, title: Block | None,
    names: tuple[SlotName, ...], counted: bool, outer: bool, rise: float = 0.0, labels: tuple[GuideLabel, ...] = (),
) -> PanelPlace:  # fmt: skip
    """A panel with its bands and ticks; the second axis stands at the outer panels, or at all where tops differ."""
    arrangement = plan.arrangement
    bands = bands_of(plan.recipe, arrangement, arrangement.of_panel(panel.key), frame, plan.letters.style)
    ticks = panel_ticks(plan, panel, frame.domain, most)
    second = plan.second and (outer or not plan.recipe.second_axis.one_top)
    room = second_room(plan) if second and frame.runs == "across" else 0.0
    slots, apart = slots_of(plan.recipe, arrangement), not is_overlaid(plan.recipe)
    spans = hull(extents_of(plan, arrangement.of_panel(panel.key), tails=False))
    return PanelPlace(
        panel=panel, frame=frame, bands=bands, slots=slots, ticks=ticks, labelled=labelled, title=title, names=names,
        counted=counted, second=second, names_apart=apart, second_room=room, spans=spans, rise=rise, labels=labels,
        parts=len(arrangement.parts),
    )  # fmt: skip


def panel_ticks(plan: LayoutPlan, panel: PanelOf, domain: tuple[float, float], most: int) -> Ticks:
    """The ticks of a panel's axis."""
    first = next((measurement.edges for _, measurement in plan.measured if measurement.edges is not None), None)
    lanes = plan.arrangement.of_panel(panel.key)
    edges = [] if first is None else sorted({float(e) for lane in lanes for e in first.by_lane.get(lane.key, ())})
    names = [] if first is None else list(first.names)
    return ticks_on(domain, plan.recipe.axis, most, edges, names, only_counts(plan.recipe))


def too_small() -> InputError:
    """What a sheet without room for its axis is refused with."""
    return InputError(
        "the sheet is too small for this figure", where="$.size", remedy="Make it wider or higher, or shorten the names."
    )


def panel_title(panel: PanelOf, letters: Lettering, room: float) -> Block | None:
    """What stands over a panel."""
    return letters.block(panel.shown or panel.name, max(room, 20.0), letters.style.text_size, 700, 2) if panel.name else None


def n_words(lanes: Sequence[Lane], parts: int) -> str:
    """ "n = 118", or "n = 60, 58" of each of a few subgroups; "" for means whose n was not given."""
    counts = bare_counts(lanes, parts)
    return f"n = {counts}" if counts else ""


def bare_counts(lanes: Sequence[Lane], parts: int) -> str:
    """The same as numbers alone, where a heading says what they are."""
    if any(lane.given is not None and lane.given.n is None for lane in lanes):
        return ""
    if not 1 < parts <= _MOST_COUNTED:
        return str(sum(lane.n for lane in lanes))
    return ", ".join(str(sum(lane.n for lane in lanes if lane.part == part)) for part in range(parts))


def count_words(arrangement: Arrangement, lanes: Sequence[Lane]) -> str:
    """ "n = 118, 59 people": how many values, and of how many people where an identifier repeats; "" in a list of single
    values.
    """
    if arrangement.single_values:
        return ""
    people = lanes[0].people if len(lanes) == 1 else None
    words = n_words(lanes, len(arrangement.parts))
    if not words or people is None or people == lanes[0].n:
        return words
    return f"{words}, {people} {arrangement.subject_noun.many}"


def second_room(plan: LayoutPlan) -> float:
    """The width of the second axis' labels, in points."""
    size = plan.letters.style.text_size * 0.85
    # How many ticks there will be depends on the height of a lane.
    labels = {label for axis in plan.seconds.values() for most in range(2, 6) for _, label in axis.ticks(most)}
    return max((plan.letters.width(label, size) for label in labels), default=0.0) + 6


def overlap(plan: LayoutPlan) -> float:
    """How far the first lane rises over its own strip, in strips."""
    rises = [rise_over_lane(layer) for layer, _ in plan.measured if isinstance(layer, RisingLayer)]
    return max(rises, default=0.0) * lane_fill(plan.recipe)
