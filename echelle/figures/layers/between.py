"""What layers that set two lanes against one another share: how a difference is called, computed and said."""

from __future__ import annotations

from collections.abc import Iterable

from echelle.catalogue.catalogue import Catalogue
from echelle.figures.lanes.pair_estimates import DifferenceOf, Way
from echelle.numbers.differences.estimate import Estimate
from echelle.numbers.rounding import display_number
from echelle.recipes.differences import Differences


def size_words(estimate: Estimate, decimals: int, words: Catalogue, interval: bool = True) -> str:
    """ "+1.5 (0.2 to 2.8)": a difference with its sign, and its interval where it has one."""
    sign = "+" if (estimate.value or 0.0) > 0 else ""
    value = f"{sign}{display_number(estimate.value, decimals)}"
    if not interval or estimate.low is None or estimate.high is None:
        return value
    return f"{value} ({words.ends(display_number(estimate.low, decimals), display_number(estimate.high, decimals))})"


def level_words(asked: float, each: float, words: Catalogue) -> str:
    """The level of an interval in per cent; where several hold together, of each and of all."""
    said = f"{100 * each:.4g}"
    return said if asked == each else words.say("level-together", each=said, level=f"{100 * asked:g}")


def difference_words(ways: Iterable[Way], of: DifferenceOf, differences: Differences, words: Catalogue) -> str:
    """What the differences are, by each of the ways that pairs were compared."""
    subject = differences.paired_by or words.say("pair-row")
    repeats = "none" if differences.paired_by is None else "median" if differences.repeats == "median" else "mean"
    said: dict[Way, str] = {
        "rows": words.say("difference", of=of),
        "subjects": words.say("difference-within", of=of, subject=subject, repeats=repeats),
        "mixed model": words.say("difference-mixed", subject=subject),
    }
    return words.say("and").join(said[way] for way in dict.fromkeys(ways))


def method_words(ways: Iterable[Way], of: DifferenceOf, seed: int, words: Catalogue) -> str:
    """Where the intervals come from."""
    said = (words.say("difference-interval" if way == "rows" else "within-interval", of=of, seed=str(seed)) for way in ways)
    return words.say("and").join(dict.fromkeys(said))
