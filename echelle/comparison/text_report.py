"""An answer as lines of text, for the command line and for copying."""

from __future__ import annotations

from collections.abc import Iterator

from echelle.comparison.models import EstimateLine, LaneDifferences, TestLine, VarianceAnswer
from echelle.numbers.differences.hypothesis_tests import p_words
from echelle.numbers.rounding import display_number, fixed_decimals


def lines_of(differences: LaneDifferences, decimals: int) -> Iterator[str]:
    """Sizes with their intervals first, tests after them, what fits and why at the end."""
    unit = f" ({differences.unit})" if differences.unit else ""
    yield f"{differences.measure}{unit} across {differences.groups or 'nothing'}"
    for pair in differences.pairs:
        yield ""
        yield f"{pair.other} − {pair.reference}" + (f"   {pair.note}" if pair.note else "")
        yield from (f"  {_estimate(estimate, decimals)}" for estimate in pair.estimates)
        yield from (f"  {_test(test)}" for test in pair.tests)
    for title, tests in (("All lanes", differences.overall), ("Pairs that know of one another", differences.pairwise)):
        if tests:
            yield from ("", title)
            yield from (f"  {_test(test)}" for test in tests)
    if differences.two_factors is not None:
        yield from ("", "Two factors")
        yield from (f"  {_estimate(difference, decimals)}" for difference in differences.two_factors.differences)
        for title, table in (
            ("Analysis of variance, type II", differences.two_factors.variance),
            ("By ranks", differences.two_factors.ranks),
        ):
            yield f"  {title}"
            yield from (f"    {_variance(line)}" for line in table)
    yield from _laboratory(differences, decimals)
    yield from _control(differences, decimals)
    yield from ("", f"What fits here: {', '.join(differences.guide.fits)}.")
    yield from (f"- {remark}" for remark in [*differences.guide.why, *differences.remarks, differences.guide.not_said])


def _laboratory(differences: LaneDifferences, decimals: int) -> Iterator[str]:
    if differences.limits is not None:
        yield from (
            "",
            f"Reference limits, central {100 * differences.limits.share:g} %, "
            f"each with its {100 * differences.limits.level:g} % interval",
        )
        for limit in differences.limits.limits:
            ends = [
                f"{display_number(value, decimals)} ({display_number(low, decimals)} to {display_number(high, decimals)})"
                if value is not None
                else "none"
                for value, (low, high) in ((limit.lower, limit.lower_interval), (limit.upper, limit.upper_interval))
            ]
            words = "none" if limit.lower is None and limit.upper is None else " – ".join(ends)
            yield f"  {limit.lane}: {words}, {limit.method}, n = {limit.n}" + (f"; {limit.remark}" if limit.remark else "")
        yield from (f"  {remark}" for remark in differences.limits.remarks)
        apart = ["/".join(two.lanes) for two in differences.limits.partitions if two.apart]
        yield f"  Limits of their own (Harris & Boyd 1990): {', '.join(apart) or 'no two lanes'}."
    if differences.components is not None:
        yield from ("", f"Spread components by {differences.components.runs}")
        for part in differences.components.parts:
            cv = "" if part.cv is None else f", CV {fixed_decimals(part.cv, 1)} %"
            held = (
                ""
                if part.low is None
                else f" ({display_number(part.low, decimals + 1)} to {display_number(part.high, decimals + 1)})"
            )
            yield f"  {part.lane}, {part.name}: SD {display_number(part.sd, decimals + 1)}{held}{cv}"
        yield from (f"  {remark}" for remark in differences.components.remarks)


def _control(differences: LaneDifferences, decimals: int) -> Iterator[str]:
    if differences.control is None:
        return
    yield from ("", "Control rules in row order")
    for line in differences.control.targets:
        of = f"{line.lane}, lot {line.lot} (values {line.first} to {line.last})" if line.lot else line.lane
        if line.mean is None or line.sd is None:
            yield f"  {of}: no target"
            continue
        yield f"  {of}: target {display_number(line.mean, decimals)}, SD {display_number(line.sd, decimals)}"
    for hit in differences.control.hits:
        yield f"  {hit.lane}, {hit.rule}: row{'s' * (len(hit.rows) > 1)} {', '.join(map(str, hit.rows))}"


def _estimate(line: EstimateLine, decimals: int) -> str:
    free = any(word in line.name for word in ("ratio", "Hedges", "superiority", "delta"))
    places = 2 if free else decimals
    ends = (
        ""
        if line.low is None
        else f"  {100 * line.level:.4g} % interval {display_number(line.low, places)} to {display_number(line.high, places)}"
    )
    value = "–" if line.value is None else display_number(line.value, places)
    rest = "; ".join(part for part in (line.method, line.remark) if part)
    return f"{line.name}: {value}{ends}" + (f"  [{rest}]" if rest else "")


def _test(line: TestLine) -> str:
    if line.p is None or line.statistic is None:
        return f"{line.name}: –  [{line.remark}]"
    df = f", df {' and '.join(f'{value:.4g}' for value in line.df)}" if line.df else ""
    adjusted = "" if line.p_adjusted is None or line.p_adjusted == line.p else f", adjusted {p_words(line.p_adjusted)}"
    how = "exact" if line.exact else "approximate"
    rest = f"; {line.remark}" if line.remark else ""
    counts = " and ".join(map(str, line.n))
    statistic = f"{line.statistic:.4g}".replace("-", "−")
    return f"{line.name}: {statistic}{df}, {p_words(line.p)}{adjusted}  [{how}, n = {counts}{rest}]"


def _variance(line: VarianceAnswer) -> str:
    tail = "" if line.f is None or line.p is None else f", F {line.f:.4g}, {p_words(line.p)}"
    return f"{line.source}: sum of squares {line.squares:.5g}, df {line.df}{tail}"
