"""Which estimate and test fit the data at hand, and why; what a result does not say."""

from __future__ import annotations

from collections.abc import Sequence

from echelle.comparison.models import FittingGuide
from echelle.figures.lanes.lane import Arrangement, Lane
from echelle.plurals import list_words
from echelle.recipes.differences import Differences

_SKEWED = 1.0
_SPREAD = 2.0
_FEW = 15
NOT_SAID = (
    "A p-value says how surprising the data were if nothing differed; it says neither how large a difference is nor how likely "
    "it is. No evidence of a difference is no evidence of none: that is what the interval, or a test of equivalence, is for."
)


def guide_of(arrangement: Arrangement, differences: Differences) -> FittingGuide:
    """By pairing, repeats, skew, spread and n."""
    lanes = [lane for lane in arrangement.lanes if len(lane.values)]
    why = []
    if differences.paired_by is not None:
        fits = ["mean paired difference", "paired t"]
        why.append("The same subjects stand in both lanes: differences within them leave out how subjects differ.")
    else:
        fits, why = _by_shape(lanes)
        people = arrangement.account.people
        if people is not None and people < arrangement.used and arrangement.identifier is not None:
            why.append(
                f"{arrangement.used} rows come from {people} subjects, here counted as independent: intervals are "
                f"too narrow. Pair by {arrangement.identifier}, or combine the repeats in the table."
            )
    return FittingGuide(fits=fits, why=why, not_said=NOT_SAID)


def _by_shape(lanes: Sequence[Lane]) -> tuple[list[str], list[str]]:
    skewed = [lane.name for lane in lanes if abs(lane.moments.skewness or 0.0) > _SKEWED]
    few = [lane.name for lane in lanes if lane.n < _FEW]
    spreads = sorted(lane.moments.sd for lane in lanes if lane.moments.sd)
    why = []
    if skewed and few:
        is_or_are = "are" if len(skewed) > 1 else "is"
        why.append(f"{list_words(skewed)} {is_or_are} skewed and {list_words(few)} small: means wander, orders do not.")
        fits = ["Hodges–Lehmann shift", "difference of medians", "Mann–Whitney"]
    elif skewed:
        why.append(f"{list_words(skewed)}: skewed, so medians and orders say more than means; Welch's t holds for this many.")
        fits = ["difference of medians", "Hodges–Lehmann shift", "Mann–Whitney"]
        if all(lane.ordered[0] > 0 for lane in lanes):
            fits.append("ratio of geometric means")
            why.append("All values are above zero: a ratio of geometric means is a difference on a logarithmic axis.")
    else:
        why.append("No lane is strongly skewed: means stand for their lanes.")
        fits = ["difference of means", "Welch t"]
    if len(spreads) > 1 and spreads[-1] > _SPREAD * spreads[0]:
        why.append("Spreads differ by more than a factor of two: Welch's t allows for it, a pooled SD (Hedges g) does not.")
        fits.append("ratio of SDs")
    return fits, why
