"""Where guides stand, and how many values of each lane they hold."""

from __future__ import annotations

from dataclasses import dataclass, field

from echelle.catalogue.catalogue import Catalogue
from echelle.figures.lanes.lane import Arrangement, Lane
from echelle.figures.lanes.readings import rules_of
from echelle.numbers.moments import moments
from echelle.numbers.quantiles import QuantileType, quantiles
from echelle.numbers.rounding import DecimalMark, decimals_of, display_number, with_decimal_mark
from echelle.numbers.sample import Sample, merged
from echelle.recipes.guides import FromMean, Guide, GuidePlace, Percentile, guide_name, place_words
from echelle.recipes.markup import has_marks, plain
from echelle.recipes.recipe import Recipe
from echelle.scene.models import Inside, LaneReadings

Ends = tuple[float, float]


@dataclass(frozen=True, eq=False)
class PlacedGuide:
    """A guide with both its ends (the same for a line): ``ends`` of all values that it holds for, or ``own`` by lane key; None
    and nothing where the values give none.
    """

    guide: Guide
    ends: Ends | None
    own: dict[str, Ends] = field(default_factory=dict)
    decimals: int = 0
    mark: DecimalMark = "point"

    @property
    def label(self) -> str:
        """Its label with signs, and what was computed for it where that is asked for and is one for all lanes."""
        written = has_marks(self.guide.label)
        if not self.guide.valued or self.guide.fixed or self.ends is None:
            return written
        ends = dict.fromkeys(display_number(end, self.decimals) for end in self.ends)
        return f"{written} {with_decimal_mark('–'.join(ends), self.mark)}"

    def name(self, words: Catalogue) -> str:
        """Its label as it was written, or where it stands, with the figure's decimal mark."""
        name = guide_name(self.guide, words)
        return name if self.guide.label else with_decimal_mark(name, self.mark)

    def of(self, lane: Lane) -> Ends | None:
        """Its ends for one lane; None where it does not hold for it."""
        if self.guide.group not in (None, lane.group):
            return None
        return self.own.get(lane.key) if self.guide.own else self.ends


def placed_guides(recipe: Recipe, arrangement: Arrangement) -> tuple[PlacedGuide, ...]:
    """All guides of a recipe over its lanes."""
    kind, decimals, mark = rules_of(recipe).quantile_type, decimals_of(arrangement.excerpt), recipe.axis.decimal_mark

    def placed(guide: Guide) -> PlacedGuide:
        lanes = [lane for lane in arrangement.lanes if guide.group in (None, lane.group)]
        if guide.own:
            own = {lane.key: ends for lane in lanes if (ends := _ends(guide, lane.ordered, kind)) is not None}
            return PlacedGuide(guide, None, own, mark=mark)
        values = arrangement.pooled if guide.group is None else merged(lane.ordered for lane in lanes)
        # One decimal more than the readings have.
        ends = _ends(guide, values, kind) if lanes else None
        return PlacedGuide(guide, ends, decimals=decimals + 1, mark=mark)

    return tuple(map(placed, recipe.guides))


def with_inside(
    guides: tuple[PlacedGuide, ...], arrangement: Arrangement, readings: dict[str, LaneReadings], words: Catalogue
) -> dict[str, LaneReadings]:
    """Readings with how many of each lane's values lie in each band (both ends inside), and above each line at a number."""
    if not guides:
        return readings
    held = {
        lane.key: [inside for guide in guides if (inside := _inside(guide, lane, words)) is not None]
        for lane in arrangement.lanes
    }
    return {key: lane.model_copy(update={"inside": held[key]}) for key, lane in readings.items()}


def guide_notes(guides: tuple[PlacedGuide, ...], recipe: Recipe, arrangement: Arrangement, words: Catalogue) -> list[str]:
    """A clause of the method note for each guide that the values give: how it stands, and at what."""
    decimals = decimals_of(arrangement.excerpt)
    return [_guide_note(guide, recipe, decimals, words) for guide in guides if not guide.guide.fixed]


def _guide_note(placed: PlacedGuide, recipe: Recipe, decimals: int, words: Catalogue) -> str:
    guide = placed.guide
    if guide.own:
        whose = words.say("note-guide-own")
    else:
        whose = words.say("note-guide-group", group=guide.group) if guide.group else words.say("note-guide-all")
    at = ""
    if placed.ends is not None:
        low, high = (display_number(end, decimals + 1) for end in placed.ends)
        at = words.say("note-guide-at", ends=words.ends(low, high))
    ranked = any(isinstance(end, Percentile) for end in guide.ends)
    low, high = (place_words(place, words) for place in guide.ends)
    return words.say(
        "note-guide", band="no" if guide.band is None else "yes", places=words.ends(low, high), whose=whose,
        label=words.say("note-guide-label", label=plain(guide.label)) if guide.label else "", at=at,
        definition=words.say("note-guide-definition", type=rules_of(recipe).quantile_type) if ranked else "",
    )  # fmt: skip


def _inside(placed: PlacedGuide, lane: Lane, words: Catalogue) -> Inside | None:
    ends, line = placed.of(lane), placed.guide.band is None
    if ends is None or not len(lane.ordered) or (line and not placed.guide.fixed):
        return None
    name = placed.name(words)
    if line:
        count = len(lane.ordered) - lane.ordered.searchsorted(ends[0], "right")
        return Inside(name=words.say("guide-above", guide=name), count=count, share=count / lane.n)
    count = lane.ordered.searchsorted(ends[1], "right") - lane.ordered.searchsorted(ends[0], "left")
    return Inside(name=name, count=count, share=count / lane.n)


def _ends(guide: Guide, ordered: Sample, kind: QuantileType) -> Ends | None:
    """Both ends over values sorted upwards; None where these give none, or none that rise."""
    low, high = (_value(end, ordered, kind) for end in guide.ends)
    if low is None or high is None or (guide.band is not None and not low < high):
        return None
    return low, high


def _value(place: GuidePlace, ordered: Sample, kind: QuantileType) -> float | None:
    if isinstance(place, float | int):
        return float(place)
    if len(ordered) == 0:
        return None
    if isinstance(place, Percentile):
        return quantiles(ordered, (place.percentile / 100,), kind)[0]
    if place == "median":
        return quantiles(ordered, (0.5,), kind)[0]
    shape = moments(ordered)
    if not isinstance(place, FromMean):
        return shape.mean
    return None if shape.mean is None or shape.sd is None else shape.mean + place.sds * shape.sd
