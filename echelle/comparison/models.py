"""What a comparison of lanes answers, with documented keys: command line and page show the same."""

from __future__ import annotations

from pydantic import Field

from echelle.catalogue.catalogue import catalogue
from echelle.comparison.laboratory import ComponentsAnswer, ControlAnswer, LimitsAnswer
from echelle.numbers.differences.estimate import Estimate
from echelle.numbers.differences.hypothesis_tests import Evidence
from echelle.recipes.differences import Differences
from echelle.strict_model import AnswerModel


class EstimateLine(AnswerModel):
    """A difference or ratio of the second lane to the first, with its interval; null where the values allow none."""

    name: str
    value: float | None
    low: float | None
    high: float | None
    level: float
    method: str
    n: tuple[int, int]
    remark: str = ""


class TestLine(AnswerModel):
    """Evidence beside the estimates; ``p_adjusted`` for the number of pairs."""

    name: str
    statistic: float | None
    df: list[float]
    p: float | None
    p_adjusted: float | None = None
    exact: bool
    n: list[int]
    remark: str = ""


class PairAnswer(AnswerModel):
    """Two lanes: ``other`` against ``reference``."""

    reference: str
    other: str
    estimates: list[EstimateLine]
    tests: list[TestLine]
    paired: bool = False
    note: str = Field(default="", description="what was done with repeats and rows without a partner")


class VarianceAnswer(AnswerModel):
    """A line of an analysis of variance."""

    source: str
    squares: float
    df: int
    mean_square: float | None
    f: float | None
    p: float | None


class TwoFactors(AnswerModel):
    """Groups × subgroups: the difference of differences of each pair of groups, and the analysis of variance."""

    differences: list[EstimateLine]
    variance: list[VarianceAnswer] = Field(description="type II sums of squares")
    ranks: list[VarianceAnswer] = Field(description="the companion by aligned ranks")


class FittingGuide(AnswerModel):
    """Which estimate and test fit the data at hand, why, and what a result does not say."""

    fits: list[str]
    why: list[str]
    not_said: str


class LaneDifferences(AnswerModel):
    """Everything about how large the differences are."""

    measure: str
    unit: str | None
    groups: str | None
    asked: Differences
    pairs: list[PairAnswer]
    overall: list[TestLine]
    pairwise: list[TestLine]
    two_factors: TwoFactors | None
    limits: LimitsAnswer | None
    components: ComponentsAnswer | None
    control: ControlAnswer | None
    guide: FittingGuide
    remarks: list[str]


def estimate_line(estimate: Estimate) -> EstimateLine:
    """An estimate as it is answered."""
    return EstimateLine(
        name=estimate.name, value=estimate.value, low=estimate.low, high=estimate.high, level=estimate.level,
        method=estimate.method, n=estimate.n, remark=catalogue().remark(estimate.remark),
    )  # fmt: skip


def test_line(test: Evidence, adjusted: float | None = None) -> TestLine:
    """A test as it is answered."""
    return TestLine(
        name=test.name, statistic=test.statistic, df=list(test.df), p=test.p, p_adjusted=adjusted, exact=test.exact,
        n=list(test.n), remark=catalogue().remark(test.remark),
    )  # fmt: skip
