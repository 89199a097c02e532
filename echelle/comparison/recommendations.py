"""Which estimate and test fit the data at hand, and why; what a result does not say."""

from __future__ import annotations

from collections.abc import Sequence

from echelle.catalogue.catalogue import Catalogue, catalogue
from echelle.comparison.models import FittingGuide
from echelle.comparison.pairs import PairEvidence
from echelle.figures.lanes.lane import Arrangement, Lane
from echelle.numbers.differences.mixed import NAME as MIXED
from echelle.recipes.differences import Differences

_SKEWED = 1.0
_SPREAD = 2.0
_FEW = 15
# The skewness of fewer values is chance.
_FEWEST = 8


def guide_of(arrangement: Arrangement, differences: Differences, computed: Sequence[PairEvidence]) -> FittingGuide:
    """By pairing, repeats, skew, spread and n; of what was computed alone."""
    lanes, words = [lane for lane in arrangement.lanes if lane.filled], catalogue()
    why = []
    names = {line.name for evidence in computed for line in evidence.estimates}
    names |= {line.name for evidence in computed for line in evidence.tests}
    if any(evidence.paired for evidence in computed):
        fits = ["mean paired difference", "paired t", MIXED, "t of the mixed model"]
        why.append(words.say("fit-paired"))
    else:
        fits, why = _by_shape(lanes, words)
        people = arrangement.account.people
        if people is not None and people < arrangement.used and arrangement.identifier is not None:
            counts = {"rows": arrangement.used, "people": people}
            why.append(words.say("fit-repeats", **counts, identifier=arrangement.identifier))
    return FittingGuide(fits=[name for name in fits if name in names], why=why, not_said=words.say("fit-not-said"))


def _by_shape(lanes: Sequence[Lane], words: Catalogue) -> tuple[list[str], list[str]]:
    skewed = [lane.name for lane in lanes if lane.n >= _FEWEST and abs(lane.moments.skewness or 0.0) > _SKEWED]
    few = [lane.name for lane in lanes if lane.n < _FEW]
    spreads = sorted(lane.moments.sd for lane in lanes if lane.moments.sd)
    why = []
    if skewed and few:
        why.append(words.say("fit-skewed-and-few", skewed=skewed, count=len(skewed), few=few))
        fits = ["Hodges–Lehmann shift", "difference of medians", "Mann–Whitney"]
    elif skewed:
        why.append(words.say("fit-skewed", skewed=skewed))
        fits = ["difference of medians", "Hodges–Lehmann shift", "Mann–Whitney"]
        if all(lane.ordered[0] > 0 for lane in lanes):
            fits.append("ratio of geometric means")
            why.append(words.say("fit-above-zero"))
    else:
        why.append(words.say("fit-means"))
        fits = ["difference of means", "Welch t"]
    if len(spreads) > 1 and spreads[-1] > _SPREAD * spreads[0]:
        why.append(words.say("fit-spreads"))
        fits.append("ratio of SDs")
    return fits, why
