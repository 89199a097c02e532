"""What a laboratory asks of lanes: reference limits, spread components of runs, control rules."""

from __future__ import annotations

from itertools import combinations
from typing import Literal

from echelle.catalogue.catalogue import catalogue
from echelle.figures.lanes.control_charts import control_chart, extra_of
from echelle.figures.lanes.figure_context import cache_on_lane
from echelle.figures.lanes.lane import Arrangement, Lane
from echelle.figures.lanes.lane_pairs import MOST_PAIRS
from echelle.numbers.differences.control_rules import ControlRule
from echelle.numbers.differences.reference_limits import LimitMethod, partition, reference_limits
from echelle.numbers.differences.variance_components import components
from echelle.numbers.remarks import Remark
from echelle.recipes.control import Control
from echelle.strict_model import AnswerModel


class LimitsLine(AnswerModel):
    """Reference limits of a lane; null where its values allow none."""

    lane: str
    method: LimitMethod
    n: int
    lower: float | None
    lower_interval: tuple[float | None, float | None]
    upper: float | None
    upper_interval: tuple[float | None, float | None]
    remark: str


class PartitionLine(AnswerModel):
    """Whether two lanes need limits of their own (Harris & Boyd 1990)."""

    lanes: tuple[str, str]
    z: float
    critical: float
    sd_ratio: float
    apart: bool


class LimitsAnswer(AnswerModel):
    """Limits of each lane, and where lanes need their own."""

    share: float
    level: float
    limits: list[LimitsLine]
    partitions: list[PartitionLine]
    remarks: list[str]


class ComponentLine(AnswerModel):
    """A spread component of a lane."""

    lane: str
    name: Literal["within run", "between runs", "total"]
    sd: float
    cv: float | None
    low: float | None
    high: float | None
    df: float


class ComponentsAnswer(AnswerModel):
    """Spread components of each lane by runs."""

    runs: str
    level: float
    parts: list[ComponentLine]
    remarks: list[str]


class LotLine(AnswerModel):
    """Values in a row (``first`` to ``last``, counted from 1) of one lot (null without lots), and their target; null where they
    have none.
    """

    lane: str
    lot: str | None
    first: int
    last: int
    mean: float | None
    sd: float | None


class HitLine(AnswerModel):
    """A control rule that was broken, and the rows that break it (each 0 where the reader may not see rows)."""

    lane: str
    rule: ControlRule
    rows: list[int]


class ControlAnswer(AnswerModel):
    """Targets by lane and lot, and all hits against them."""

    targets: list[LotLine]
    hits: list[HitLine]


def limits_line(lane: Lane, method: LimitMethod, share: float = 0.95, level: float = 0.9) -> LimitsLine:
    """Reference limits of a lane, sought once for each way."""

    def make() -> LimitsLine:
        limits = reference_limits(lane.values, method, share, level)
        asked = {"lane": lane.name, "method": method, "n": lane.n}
        if isinstance(limits, Remark):
            none = {"lower": None, "upper": None, "lower_interval": (None, None), "upper_interval": (None, None)}
            return LimitsLine.model_validate(asked | none | {"remark": catalogue().remark(limits)})
        found = {
            "lower": limits.lower.value, "lower_interval": (limits.lower.low, limits.lower.high),
            "upper": limits.upper.value, "upper_interval": (limits.upper.low, limits.upper.high),
        }  # fmt: skip
        return LimitsLine.model_validate(asked | found | {"remark": catalogue().remark(limits.remark)})

    return cache_on_lane(lane, ("reference limits", method, share, level), make)


def limits_of(
    arrangement: Arrangement, method: LimitMethod = "non-parametric", share: float = 0.95, level: float = 0.9
) -> LimitsAnswer:
    """Reference limits of every lane."""
    lanes = [lane for lane in arrangement.lanes if lane.filled]
    lines = [limits_line(lane, method, share, level) for lane in lanes]
    apart = []
    pairs = list(combinations(lanes, 2))
    for a, b in pairs[:MOST_PAIRS]:
        test = partition(a.values, b.values)
        if test is not None:
            line = {"z": test.z, "critical": test.critical, "sd_ratio": test.sd_ratio, "apart": test.apart}
            apart.append(PartitionLine.model_validate({"lanes": (a.name, b.name), **line}))
    remarks = []
    if len(pairs) > MOST_PAIRS:
        remarks.append(catalogue().say("result-few-partitions", most=MOST_PAIRS, pairs=len(pairs)))
    return LimitsAnswer(share=share, level=level, limits=lines, partitions=apart, remarks=remarks)


def components_of(arrangement: Arrangement, runs: str, level: float = 0.95) -> ComponentsAnswer:
    """Within-run, between-run and total spread of every lane. Raises InputError for a column that lanes do not carry."""
    parts, remarks, words = [], [], catalogue()
    for lane in arrangement.lanes:
        result = components(lane.values, extra_of(lane, runs, "$.differences.runs").codes, level)
        if result is None:
            remarks.append(words.say("result-few-runs", lane=lane.name))
            continue
        if result.remark:
            remarks.append(words.say("result-remark", lane=lane.name, remark=words.remark(result.remark)))
        for part in result.parts:
            line = {"name": part.name, "sd": part.sd, "cv": part.cv, "low": part.low, "high": part.high, "df": part.df}
            parts.append(ComponentLine.model_validate({"lane": lane.name, **line}))
    return ComponentsAnswer(runs=runs, level=level, parts=parts, remarks=remarks)


def control_of(arrangement: Arrangement, control: Control) -> ControlAnswer:
    """Control rules of every lane in row order. Raises InputError for a column of lots that lanes do not carry."""
    targets, lines = [], []
    for lane in arrangement.lanes:
        chart = control_chart(lane, control)
        levels = lane.extras[control.lots].levels if control.lots else ()
        for run in chart.runs:
            lot = levels[run.lot] if control.lots and run.lot >= 0 else None
            line = {"lane": lane.name, "lot": lot, "first": run.first + 1, "last": run.end}
            targets.append(LotLine.model_validate({**line, "mean": run.mean, "sd": run.sd}))
        for hit in chart.hits:
            lines.append(HitLine(lane=lane.name, rule=hit.rule, rows=lane.rows[chart.places[list(hit.places)]].tolist()))
    return ControlAnswer(targets=targets, hits=lines)
