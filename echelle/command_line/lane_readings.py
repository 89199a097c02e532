"""The readings of a table's lanes as plain data, for ``echelle describe``."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np

from echelle.catalogue.catalogue import catalogue
from echelle.command_line.rows import RowsOf
from echelle.command_line.shared import refuse_subgroups_of_several
from echelle.errors import InputError
from echelle.figures.lanes.arrange import arrange
from echelle.figures.lanes.extra_readings import extra_readings
from echelle.figures.lanes.lane import Lane
from echelle.figures.lanes.readings import ReadingRules, read_lane
from echelle.numbers.bandwidth import BandwidthRule, bandwidth_of
from echelle.numbers.bins import BinRule, NoBins, bin_count, count_in_bins, edges_of_width, even_edges
from echelle.numbers.censored_quantiles import Limit, quantile_in_order
from echelle.numbers.density import density_at, density_curve
from echelle.numbers.kernels import KernelName
from echelle.numbers.quantiles import QuantileType, quantiles
from echelle.numbers.sample import Sample, merged
from echelle.recipes.forms import recipe_of_form
from echelle.recipes.recipe import Recipe
from echelle.recipes.roles import Subgroups
from echelle.tables.table import Table

_COUNTS = ("n", "missing", "censored")
_NUMBERS = (
    "min", "q1", "median", "q3", "max", "iqr", "mean", "variance", "sd", "se", "skewness", "kurtosis",
    "fence_low", "fence_high", "whisker_low", "whisker_high",
)  # fmt: skip


@dataclass(frozen=True)
class Width:
    """Bins of one width, at its multiples."""

    width: float


@dataclass(frozen=True)
class Edges:
    """Bins between edges that rise; the first may be −∞, the last ∞."""

    edges: tuple[float, ...]


@dataclass(frozen=True, kw_only=True)
class DescribeOptions:
    """What a person asks of every lane. ``quantiles`` are probabilities as typed; ``bins`` a rule, a count, a width or
    edges; None leaves a part out."""

    quantile_type: QuantileType = 7
    fence: float = 1.5
    quantiles: tuple[str, ...] | None = None
    bins: BinRule | int | Width | Edges | None = None
    common_bins: bool = False
    bandwidth: BandwidthRule | float | None = None
    kernel: KernelName | None = None
    at: tuple[float, ...] | None = None
    in_order: bool = False
    further: bool = False

    @property
    def density(self) -> bool:
        """Whether any option asks for a density."""
        return not (self.bandwidth is None and self.kernel is None and self.at is None)


def _used(recipe: Recipe, options: DescribeOptions, table: Table) -> None:
    lanes = arrange(recipe, table).lanes
    pooled = _pooled(lanes, options)
    for lane in lanes:
        _readings_of(lane, options, pooled, lane.group, lane.subgroup, [])


def _pooled(lanes: Sequence[Lane], options: DescribeOptions) -> Sample:
    """The values of all lanes, where bins are asked over them."""
    return merged(lane.ordered for lane in lanes if options.bins is not None and options.common_bins)


def describe_lanes(
    rows: RowsOf,
    measures: Sequence[str],
    groups: str | None = None,
    subgroups: str | None = None,
    options: DescribeOptions | None = None,
) -> dict[str, Any]:
    """Readings with full digits; what has no value is None. Several measures give one lane each, or one in each group.

    Raises InputError for a column that is not there or holds no numbers, for several measures with subgroups, and
    for subgroups without groups.
    """
    options = options or DescribeOptions()
    refuse_subgroups_of_several(measures, subgroups)
    if subgroups and not groups:
        raise InputError("subgroups need groups", where="--subgroups", remedy="Name --groups too.")
    result: list[tuple[str | None, str | None, Lane]] = []
    ungrouped = 0
    remarks: list[str] = []
    names: list[str] = []
    records = 0
    for measure in measures:
        recipe = recipe_of_form("box", measure, groups)
        if subgroups:
            recipe = recipe.model_copy(update={"subgroups": Subgroups(column=subgroups)})
        table = rows(recipe, partial(_used, recipe, options))
        arrangement = arrange(recipe, table)
        names.append(table.column(measure).name)
        records = table.records
        ungrouped += arrangement.account.ungrouped
        remarks += [
            catalogue().say("advice-read-as-codes", column=name, kind=kind) for name, kind in arrangement.reread.items()
        ]
        for lane in arrangement.lanes:
            group, subgroup = lane.group, lane.subgroup
            if len(measures) > 1:
                # A measure stands where the finer of both would.
                group, subgroup = (group, arrangement.name) if groups else (arrangement.name, None)
            result.append((group, subgroup, lane))
    pooled = _pooled([lane for _, _, lane in result], options)
    lanes = [_readings_of(lane, options, pooled, group, subgroup, remarks) for group, subgroup, lane in result]
    return {
        "measure": names[0] if len(names) == 1 else names,
        "rows": records,
        "ungrouped": ungrouped,
        "lanes": lanes,
        "remarks": remarks,
    }


def _readings_of(
    lane: Lane, options: DescribeOptions, pooled: Sample, group: str | None, subgroup: str | None, remarks: list[str]
) -> dict[str, Any]:
    readings = read_lane(lane, ReadingRules(options.quantile_type, k=options.fence, in_order=options.in_order))
    result: dict[str, Any] = {"group": group, "subgroup": subgroup}
    result |= {key: getattr(readings, key) for key in (*_COUNTS, *_NUMBERS)} | readings.limits
    result["quantiles"] = _quantiles(lane, options)
    result["beyond"] = readings.beyond
    result["outliers"] = [{"row": o.row, "value": o.value} for o in readings.outliers]
    name = " · ".join(part for part in (group, subgroup) if part) or "all rows"
    for key, made in (("bins", _bins(lane, options, pooled)), ("density", _density(lane, options))):
        result[key] = None if made is None else made[0]
        if made is not None and made[1]:
            remarks.append(f"{name}: {made[1]}")
    return (
        result | extra_readings(lane, options.bandwidth or "silverman", options.kernel or "gaussian")
        if options.further
        else result
    )


def _quantiles(lane: Lane, options: DescribeOptions) -> dict[str, float | str | None] | None:
    if options.quantiles is None:
        return None
    if options.in_order and lane.censored:
        result = [
            quantile_in_order(lane.values, lane.below.limits, lane.above.limits, float(p), options.quantile_type)
            for p in options.quantiles
        ]
        return {p: str(v) if isinstance(v, Limit) else v for p, v in zip(options.quantiles, result, strict=True)}
    if not lane.filled:
        return dict.fromkeys(options.quantiles)
    values = quantiles(lane.ordered, [float(p) for p in options.quantiles], options.quantile_type)
    return dict(zip(options.quantiles, values, strict=True))


def _bins(lane: Lane, options: DescribeOptions, pooled: Sample) -> tuple[dict[str, Any], str] | None:
    """Edges and counts, with how many values lie below and above; None for an empty lane."""
    if options.bins is None or not lane.filled:
        return None
    over = pooled if options.common_bins else lane.ordered
    low, high, remark = float(over[0]), float(over[-1]), None
    if isinstance(options.bins, Edges):
        edges = np.array(options.bins.edges)
    elif isinstance(options.bins, Width):
        try:
            edges = edges_of_width(low, high, options.bins.width)
        except NoBins as error:
            raise InputError(catalogue().remark(error.remark), where="--bins", remedy="Choose another width.") from None
    elif isinstance(options.bins, int):
        edges = even_edges(low, high, options.bins)
    else:
        count, remark = bin_count(over, options.bins)
        edges = even_edges(low, high, count)
    bins = count_in_bins(lane.ordered, edges)
    # An open end has no number in JSON.
    ends = [edge if math.isfinite(edge) else None for edge in edges.tolist()]
    made = {"edges": ends, "counts": bins.counts.tolist(), "below": bins.below, "above": bins.above}
    return made, catalogue().remark(remark)


def _density(lane: Lane, options: DescribeOptions) -> tuple[dict[str, Any], str] | None:
    if not options.density:
        return None
    kernel, rule = options.kernel or "gaussian", options.bandwidth or "silverman"
    bandwidth = bandwidth_of(lane.ordered, rule)
    said = catalogue().remark(bandwidth.remark)
    at = None if options.at is None else np.array(options.at, dtype=np.float64)
    result: dict[str, Any] = {"bandwidth": bandwidth.value, "kernel": kernel, "at": None, "values": None}
    if at is not None:
        result["at"] = at.tolist()
    if bandwidth.value is None:
        return result, said
    if at is None:
        curve = density_curve(lane.ordered, bandwidth.value, kernel)
        return result | {"at": curve.at.tolist(), "values": curve.values.tolist()}, said
    return result | {"values": density_at(lane.ordered, at, bandwidth.value, kernel).tolist()}, said
