"""Options of ``echelle describe`` as they are typed."""

from __future__ import annotations

import itertools
import math
import re
from typing import Any, cast

from echelle.command_line.lane_readings import DescribeOptions, Edges, Width
from echelle.errors import InputError
from echelle.numbers.bandwidth import BANDWIDTH_RULES, BandwidthRule
from echelle.numbers.bins import BIN_RULES, MOST_BINS, BinRule
from echelle.numbers.kernels import KernelName
from echelle.numbers.quantiles import QuantileType


def describe_options(
    quantile_type: int, quantiles: str | None, fence: float, bins: str | None, common_bins: bool, bandwidth: str | None,
    kernel: str | None, density_at: str | None, limits_in_order: bool, all_readings: bool,
) -> DescribeOptions:  # fmt: skip
    """What the options ask. Raises InputError that names the option."""
    if not math.isfinite(fence):
        raise InputError("the fence is no number", where="--fence", remedy="Give one such as 1.5.")
    return DescribeOptions(
        quantile_type=cast(QuantileType, quantile_type),
        fence=fence,
        quantiles=None if quantiles is None else _probabilities(quantiles),
        bins=_bins("freedman-diaconis" if bins is None and common_bins else bins),
        common_bins=common_bins,
        bandwidth=None if bandwidth is None else _bandwidth(bandwidth),
        kernel=cast(KernelName | None, kernel),
        at=None if density_at is None else tuple(_numbers(density_at, "--density-at")),
        in_order=limits_in_order,
        further=all_readings,
    )


def control_option(text: str | None, lots: str | None) -> dict[str, Any] | None:
    """What control rules are held against: "own", a mean and an SD, or a stretch such as 1-20. Raises InputError that names the
    option.
    """
    if text is None:
        return None
    if stretch := re.fullmatch(r"(\d+)[-–](\d+)", text):
        first, last = map(int, stretch.groups())
        if not 1 <= first < last:
            raise InputError(
                "a stretch runs from an earlier to a later value", where="--control", remedy="Give one such as 1-20."
            )
        return {"target": {"first": first, "last": last}, "lots": lots}
    if text == "own":
        return {"target": "own", "lots": lots}
    numbers = _numbers(text, "--control")
    if len(numbers) != 2 or not numbers[1] > 0:
        raise InputError("a target is a mean and an SD above zero", where="--control", remedy="Give one such as 5.2,0.3.")
    return {"target": {"mean": numbers[0], "sd": numbers[1]}, "lots": lots}


def _numbers(text: str, option: str) -> list[float]:
    result = []
    for part in text.split(","):
        try:
            result.append(float(part))
        except ValueError:
            raise InputError(f"“{part}” is no number", where=option, remedy="Give numbers with commas.") from None
        if not math.isfinite(result[-1]):
            raise InputError(f"“{part}” is not finite", where=option, remedy="Give finite numbers.")
    return result


def _edges(text: str) -> list[float]:
    """Numbers; the first may be -inf and the last inf, for an open bin."""
    parts = [part.strip() for part in text.split(",")]
    below, above = parts[0] == "-inf", len(parts) > 1 and parts[-1] in ("inf", "+inf")
    inner = parts[int(below) : len(parts) - int(above)]
    result = _numbers(",".join(inner), "--bins") if inner else []
    return [*([-math.inf] if below else []), *result, *([math.inf] if above else [])]


def _probabilities(text: str) -> tuple[str, ...]:
    for part, p in zip(text.split(","), _numbers(text, "--quantiles"), strict=True):
        if not 0 <= p <= 1:
            raise InputError(f"“{part}” is no probability", where="--quantiles", remedy="Give numbers from 0 to 1.")
    return tuple(part.strip() for part in text.split(","))


def _bins(text: str | None) -> BinRule | int | Width | Edges | None:
    if text is None:
        return None
    for rule in BIN_RULES:
        if text == rule:
            return rule
    kind, _, rest = text.partition(":")
    if kind == "edges":
        edges = _edges(rest)
        if len(edges) < 2 or any(b <= a for a, b in itertools.pairwise(edges)):
            raise InputError("edges rise, and there are two at least", where="--bins", remedy="Give such as edges:0,5,10.")
        return Edges(tuple(edges))
    if kind == "width":
        widths = _numbers(rest, "--bins")
        if len(widths) > 1 or widths[0] <= 0:
            raise InputError("a bin's width is above zero", where="--bins", remedy="Give such as width:2.5.")
        return Width(widths[0])
    if text.isdecimal() and 0 < int(text) <= MOST_BINS:
        return int(text)
    raise InputError(
        f"“{text}” names no bins", where="--bins", remedy=f"Give {', '.join(BIN_RULES)}, a count, width:W or edges:a,b,c."
    )


def _bandwidth(text: str) -> BandwidthRule | float:
    for rule in BANDWIDTH_RULES:
        if text == rule:
            return rule
    try:
        value = float(text)
    except ValueError:
        value = math.nan
    if not (math.isfinite(value) and value > 0):
        raise InputError(
            f"“{text}” is no bandwidth", where="--bandwidth", remedy=f"Give {', '.join(BANDWIDTH_RULES)} or a number above 0."
        )
    return value
