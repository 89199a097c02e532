"""An answer as lines of text, for the command line and for copying."""

from __future__ import annotations

from collections.abc import Iterator

from echelle.comparison.models import EstimateLine, LaneDifferences, TestLine, VarianceAnswer
from echelle.numbers.differences.hypothesis_tests import p_words
from echelle.numbers.rounding import display_number, fixed


def lines_of(found: LaneDifferences, decimals: int) -> Iterator[str]:
    """Sizes with their intervals first, tests after them, what fits and why at the end."""
    unit = f" ({found.unit})" if found.unit else ""
    yield f"{found.measure}{unit} across {found.groups or 'nothing'}"
    for pair in found.pairs:
        yield ""
        yield f"{pair.other} − {pair.reference}" + (f"   {pair.note}" if pair.note else "")
        yield from (f"  {_estimate(estimate, decimals)}" for estimate in pair.estimates)
        yield from (f"  {_test(test)}" for test in pair.tests)
    for title, tests in (("All lanes", found.overall), ("Pairs that know of one another", found.pairwise)):
        if tests:
            yield from ("", title)
            yield from (f"  {_test(test)}" for test in tests)
    if found.two_factors is not None:
        yield from ("", "Two factors")
        yield from (f"  {_estimate(difference, decimals)}" for difference in found.two_factors.differences)
        for title, table in (
            ("Analysis of variance, type II", found.two_factors.variance),
            ("By ranks", found.two_factors.ranks),
        ):
            yield f"  {title}"
            yield from (f"    {_variance(line)}" for line in table)
    yield from _laboratory(found, decimals)
    yield from _control(found, decimals)
    yield from ("", f"What fits here: {', '.join(found.guide.fits)}.")
    yield from (f"- {remark}" for remark in [*found.guide.why, *found.remarks, found.guide.not_said])


def _laboratory(found: LaneDifferences, decimals: int) -> Iterator[str]:
    if found.limits is not None:
        yield from (
            "",
            f"Reference limits, central {100 * found.limits.share:g} %, each with its {100 * found.limits.level:g} % interval",
        )
        for limit in found.limits.limits:
            ends = [
                f"{display_number(value, decimals)} ({display_number(low, decimals)} to {display_number(high, decimals)})"
                for value, (low, high) in ((limit.lower, limit.lower_interval), (limit.upper, limit.upper_interval))
                if value is not None
            ]
            words = " – ".join(ends) or "none"
            yield f"  {limit.lane}: {words}, {limit.method}, n = {limit.n}" + (f"; {limit.remark}" if limit.remark else "")
        apart = ["/".join(two.lanes) for two in found.limits.partitions if two.apart]
        yield f"  Limits of their own (Harris & Boyd 1990): {', '.join(apart) or 'no two lanes'}."
    if found.components is not None:
        yield from ("", f"Spread components by {found.components.runs}")
        for part in found.components.parts:
            cv = "" if part.cv is None else f", CV {fixed(part.cv, 1)} %"
            held = (
                ""
                if part.low is None
                else f" ({display_number(part.low, decimals + 1)} to {display_number(part.high, decimals + 1)})"
            )
            yield f"  {part.lane}, {part.name}: SD {display_number(part.sd, decimals + 1)}{held}{cv}"
        yield from (f"  {remark}" for remark in found.components.remarks)


def _control(found: LaneDifferences, decimals: int) -> Iterator[str]:
    if found.control is None:
        return
    yield from ("", "Control rules in row order")
    for line in found.control.targets:
        of = f"{line.lane}, lot {line.lot} (values {line.first} to {line.last})" if line.lot else line.lane
        if line.mean is None or line.sd is None:
            yield f"  {of}: no target"
            continue
        yield f"  {of}: target {display_number(line.mean, decimals)}, SD {display_number(line.sd, decimals)}"
    for hit in found.control.hits:
        yield f"  {hit.lane}, {hit.rule}: row{'s' * (len(hit.rows) > 1)} {', '.join(map(str, hit.rows))}"


def _estimate(one: EstimateLine, decimals: int) -> str:
    free = any(word in one.name for word in ("ratio", "Hedges", "superiority", "delta"))
    places = 2 if free else decimals
    ends = (
        ""
        if one.low is None
        else f"  {100 * one.level:.4g} % interval {display_number(one.low, places)} to {display_number(one.high, places)}"
    )
    value = "–" if one.value is None else display_number(one.value, places)
    rest = "; ".join(part for part in (one.method, one.remark) if part)
    return f"{one.name}: {value}{ends}" + (f"  [{rest}]" if rest else "")


def _test(one: TestLine) -> str:
    if one.p is None or one.statistic is None:
        return f"{one.name}: –  [{one.remark}]"
    df = f", df {' and '.join(f'{value:.4g}' for value in one.df)}" if one.df else ""
    adjusted = "" if one.p_adjusted is None or one.p_adjusted == one.p else f", adjusted {p_words(one.p_adjusted)}"
    how = "exact" if one.exact else "approximate"
    rest = f"; {one.remark}" if one.remark else ""
    return (
        f"{one.name}: {one.statistic:.4g}{df}, {p_words(one.p)}{adjusted}  [{how}, n = {' and '.join(map(str, one.n))}{rest}]"
    )


def _variance(line: VarianceAnswer) -> str:
    tail = "" if line.f is None or line.p is None else f", F {line.f:.4g}, {p_words(line.p)}"
    return f"{line.source}: sum of squares {line.squares:.5g}, df {line.df}{tail}"
