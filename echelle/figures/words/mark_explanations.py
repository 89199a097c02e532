"""What a layer's marks are, in words that forestall the usual misreadings."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from echelle.figures.layers.box import fence_words
from echelle.figures.words.means import bar_words
from echelle.recipes.layers import (
    BinsLayer,
    BoxLayer,
    ControlLayer,
    CountsLayer,
    CumulativeLayer,
    DensityLayer,
    DifferenceLayer,
    Layer,
    LineLayer,
    MeanLayer,
    NormalCurveLayer,
    PointsLayer,
    TicksLayer,
    TrendLayer,
)  # fmt: skip
from echelle.scene.models import Role

# A mark's role (None where no single lane shows it) and what it is.
Explained = tuple[Role | None, str]


# Rows that stand in no number.
EXPLAINED_ASIDE: tuple[Explained, ...] = (
    ("limit", "An arrow is a value known only to lie beyond that limit; it stands in no number."),
    ("left-out", "A faint cross is a value that was left out of every number, for a reason that the method note names."),
)


def explained(layer: Layer) -> list[Explained]:
    """What a reader should know of a layer's marks, in reading order."""
    found: Callable[[Layer], Iterator[Explained]] = _OF[layer.layer]
    return list(found(layer))


def _box(layer: BoxLayer) -> Iterator[Explained]:
    yield "median", "The line in the box is the median: half of the values lie on either side. It is not the mean."
    share = f"{100 * layer.holds:g} %"
    ends = "from the lower to the upper quartile; " if layer.holds == 0.5 else ""
    yield (
        "box",
        f"The box holds the central {share} of values: {ends}their spread, and no confidence interval.",
    )
    reach = layer.whiskers or layer.fence
    if reach.rule in ("full range", "none"):
        yield "whisker", "The lines reach the smallest and the largest value."
    else:
        yield (
            "whisker",
            (
                f"A line ends at the furthest value within {fence_words(reach)}: its end is a value, no percentile, "
                "and not the fence."
            ),
        )
    if layer.fence.rule not in ("full range", "none"):
        yield "outlier", "A diamond is a single value beyond the fences. That alone does not make it wrong."
    yield from EXPLAINED_ASIDE


def _density(layer: DensityLayer) -> Iterator[Explained]:
    size = "areas follow n" if layer.size == "by n" else "not a number of points"
    yield "density", f"The curve shows how closely values lie: its width is a share of the lane's values, {size}."


def _points(layer: PointsLayer) -> Iterator[Explained]:
    if layer.spread == "in order":
        yield "point", f"Each point is one value, placed in the order of {layer.against or 'the rows'}."
    elif layer.spread == "line":
        yield "point", "Each point is one value; equal values hide one another."
    else:
        yield (
            "point",
            "Each point is one value. Its place across the lane means nothing: it only keeps points apart.",
        )
    mark = "A diamond" if layer.shaped is None else "An open mark"
    yield "outlier", f"{mark} is a single value beyond the fences. That alone does not make it wrong."
    yield from EXPLAINED_ASIDE


def _bins(layer: BinsLayer) -> Iterator[Explained]:
    what = {"count": "how many values", "share": "which share of the values", "density": "how closely values"}[layer.height]
    lie = "lie" if layer.height != "share" else "lies"
    heights = "up to and in" if layer.cumulative else "in"
    yield "bin", f"A column says {what} {lie} {heights} its interval; other intervals would give other columns."


def _mean(layer: MeanLayer) -> Iterator[Explained]:
    mark = {"dot": "dot", "bar": "end of the bar", "tick": "tick"}[layer.mark]
    yield "mean", f"The {mark} is the {layer.centre}" + (", not the median." if layer.centre == "mean" else ", not the mean.")
    if layer.interval in ("SD", "none"):
        if layer.interval == "SD":
            yield "interval", "The line is one standard deviation to each side: the spread of values, not how sure the mean is."
    else:
        yield "interval", f"The line is the {bar_words(layer)}: how sure the {layer.centre} is, not where values lie."


def _ticks(layer: TicksLayer) -> Iterator[Explained]:
    yield "tick", "Each tick is one value." if layer.quantiles is None else "Each tick is a quantile of the values."


def _line(layer: LineLayer) -> Iterator[Explained]:
    more = ", and steps of the standard deviation from it" if layer.at == "mean and SD" else ""
    yield "line", f"The bar across the lane is the {'mean' if layer.at.startswith('mean') else 'median'}{more}."


def _normal(layer: NormalCurveLayer) -> Iterator[Explained]:
    yield "normal-curve", f"The {layer.dash} curve is what a normal distribution with the same mean and SD would look like."


def _cumulative(layer: CumulativeLayer) -> Iterator[Explained]:
    if layer.against == "shares":
        yield "step", "The height of the steps is the share of values at or below: at half its height stands the median."
    else:
        yield "point", "Points near the line would come from a normal distribution; bends at the ends are heavy or light tails."


def _stem(layer: Layer) -> Iterator[Explained]:
    yield (
        "stem",
        "The stem gives leading digits, each leaf the next one of a value, or of several where the figure says so.",
    )


def _counts(layer: CountsLayer) -> Iterator[Explained]:
    more = "subjects." if layer.of == "subjects" else "rows, and says nothing of their values."
    yield "count", f"The bar is a number of {more}"
    if layer.of == "both":
        yield "subjects", "The light bar in it is the number of different subjects: some have several rows."


def _trend(layer: TrendLayer) -> Iterator[Explained]:
    yield None, f"The line from lane to lane goes through {layer.through}; between lanes it stands for no value."


def _difference(layer: DifferenceLayer) -> Iterator[Explained]:
    what = {"means": "difference of means", "medians": "difference of medians", "shift": "shift"}[layer.of]
    yield (
        None,
        (
            f"A black dot is the {what} to the reference lane, its line the {100 * layer.level:g} % interval: where it stays "
            "clear of the dashed line, the data speak against no difference."
        ),
    )


def _bracket(layer: Layer) -> Iterator[Explained]:
    yield None, "A bracket names the difference of the two lanes that its ends stand over."


def _control(layer: ControlLayer) -> Iterator[Explained]:
    yield "line", "The solid line is the target mean, dashed lines stand at steps of its SD."
    yield "outlier", "A ring marks values that break a control rule: a reason to look, and no proof of a fault."


_OF: dict[str, Callable[..., Iterator[Explained]]] = {
    "box": _box, "density": _density, "points": _points, "bins": _bins, "mean": _mean, "ticks": _ticks, "line": _line,
    "normal-curve": _normal, "cumulative": _cumulative, "stem": _stem, "counts": _counts, "trend": _trend,
    "difference": _difference, "bracket": _bracket, "control": _control,
}  # fmt: skip
