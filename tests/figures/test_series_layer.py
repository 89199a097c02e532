"""Series on the figure: lines where their numbers are, areas from zero, slopes in the ledger, dates on the axis; and shares."""

from __future__ import annotations

import datetime

import numpy as np
import pytest
from scipy import stats

from echelle.errors import InputError
from echelle.figures.geometry.calendar_ticks import calendar_ticks
from echelle.recipes.forms import in_form, recipe_of_form
from echelle.recipes.layers.counts import CountsLayer
from echelle.recipes.layers.points import PointsLayer
from echelle.recipes.layers.series import SeriesLayer
from echelle.recipes.recipe import Recipe
from echelle.recipes.roles import Groups, Subgroups
from echelle.recipes.series_order import order_of
from echelle.recipes.style import Axis, Ledger
from echelle.render import scene_of
from echelle.scene.models import PathPart, RectPart, Scene
from echelle.tables.column_summary import summary_of
from tests.support.sheets import path_places
from tests.support.tables import table_of

RNG = np.random.default_rng(23)
WEEK = [w for _ in range(12) for w in range(5)]
ARM = ["a"] * 30 + ["b"] * 30
LEVEL = (5 + np.array(WEEK) * np.where(np.array(ARM) == "a", 0.5, -0.25) + RNG.normal(0, 1, 60)).round(2)
DAY = [(datetime.date(2023, 11, 1) + datetime.timedelta(days=9 * i)).isoformat() for i in range(60)]
TABLE = table_of(
    {"level": LEVEL.tolist(), "week": WEEK, "arm": ARM, "date": DAY, "subject": [f"S{i // 5}" for i in range(60)],
     "grade": ["none" if i % 3 else "mild" for i in range(60)]}
)  # fmt: skip


def recipe(*layers: SeriesLayer | PointsLayer, **more: object) -> Recipe:
    base = recipe_of_form("in-order", "level", "arm")
    return base.model_copy(update={"layers": list(layers), "axis": Axis(runs="up"), **more})


def paths(scene: Scene, role: str) -> list[PathPart]:
    return [part for part in scene.walk() if isinstance(part, PathPart) and part.role == role]


def values_of(scene: Scene, ys: list[float]) -> np.ndarray:
    scale = scene.panels[0].scale
    return np.interp(ys, sorted(scale.range), sorted(scale.domain, reverse=scale.range[0] > scale.range[1]))


def test_a_line_goes_through_the_means_of_each_place() -> None:
    scene = scene_of(recipe(SeriesLayer(id="s1", against="week")), TABLE)
    for arm, part in zip(("a", "b"), paths(scene, "series"), strict=True):
        _, ys = path_places(part)
        means = [LEVEL[(np.array(ARM) == arm) & (np.array(WEEK) == w)].mean() for w in range(5)]
        assert values_of(scene, ys) == pytest.approx(means, abs=0.02)


def test_a_straight_line_has_its_slope_and_interval_in_the_ledger() -> None:
    scene = scene_of(recipe(SeriesLayer(id="s1", against="week", through="least squares", level=0.9)), TABLE)
    for arm, lane in zip(("a", "b"), scene.readings, strict=True):
        of = np.array(ARM) == arm
        line = stats.linregress(np.array(WEEK)[of], LEVEL[of])
        [slope] = lane.named
        half = stats.t.ppf(0.95, of.sum() - 2) * line.stderr
        assert (slope.value, slope.low, slope.high) == pytest.approx((line.slope, line.slope - half, line.slope + half))
        assert slope.name == "Slope per week (90 %)"


def test_a_slope_over_long_dates_is_by_the_year() -> None:
    scene = scene_of(recipe(SeriesLayer(id="s1", against="date", through="least squares"), groups=None), TABLE)
    of = [datetime.date.fromisoformat(day).toordinal() for day in DAY]
    short = scene.readings[0].named[0]
    assert short.name.startswith("Slope per day") and short.value == pytest.approx(stats.linregress(of, LEVEL).slope)


def test_subjects_have_lines_of_their_own_and_a_lane_of_one_place_a_mark() -> None:
    scene = scene_of(recipe(SeriesLayer(id="s1", against="week", through="values", by="subject")), TABLE)
    assert len(paths(scene, "series")) == 12
    alone = table_of({"level": [1.0, 2.0, 3.0], "week": [1, 1, 2], "arm": ["a", "a", "b"]})
    assert len(paths(scene_of(recipe(SeriesLayer(id="s1", against="week")), alone), "series")) == 2


@pytest.mark.parametrize("scale", ["linear", "square-root", "log10"])
def test_an_area_stands_on_zero_or_says_that_it_does_not(scale: str) -> None:
    scene = scene_of(recipe(SeriesLayer(id="s1", against="week", fill=0.3), axis=Axis(runs="up", scale=scale)), TABLE)  # type: ignore[arg-type]
    assert len(paths(scene, "series-area")) == 2
    assert ("reaches down to zero" in scene.note) == (scale != "log10")
    assert (scene.panels[0].scale.domain[0] <= 0) == (scale != "log10")


def test_two_orders_on_one_axis_are_said() -> None:
    points = PointsLayer(id="p1", place="on", spread="in order", against="date")
    said = [advice.key for advice in scene_of(recipe(points, SeriesLayer(id="s1", against="week")), TABLE).advice]
    assert "s1/order" in said
    same = recipe(points, SeriesLayer(id="s1", against="date"))
    assert "s1/order" not in [advice.key for advice in scene_of(same, TABLE).advice]


def test_a_series_follows_visits_before_dates_and_what_it_followed_before() -> None:
    columns, box = [summary_of(column) for column in TABLE.columns], recipe_of_form("box", "level", "arm")
    assert order_of(box, columns) == "week"
    assert order_of(box, [column for column in columns if column.name != "week"]) == "date"
    assert order_of(box, [column for column in columns if column.name in ("level", "arm")]) is None
    visits = table_of({"level": LEVEL.tolist(), "date": DAY, "Visit": ["Baseline", "Wk 4", "End"] * 20})
    assert order_of(box, [summary_of(column) for column in visits.columns]) == "Visit"
    made = in_form(box, "series", "week")
    assert [layer.against for layer in made.layers if isinstance(layer, SeriesLayer | PointsLayer)] == ["week", "week"]
    dated = made.model_copy(update={"layers": [layer.in_order("date") for layer in made.layers]})
    assert in_form(dated, "series", "week").layers[0].order() == "date"


@pytest.mark.parametrize(
    ("low", "high", "most", "labels"),
    [
        ("2024-01-30", "2024-02-02", 5, ["2024-01-30", "2024-01-31", "2024-02-01", "2024-02-02"]),
        ("2023-11-15", "2024-03-15", 5, ["2023-12", "2024-01", "2024-02", "2024-03"]),
        ("2023-11-15", "2025-03-15", 4, ["2024-01", "2024-07", "2025-01"]),
        ("1987-05-01", "2026-02-01", 5, ["1990", "2000", "2010", "2020"]),
        ("0001-01-01", "9999-12-31", 5, ["2000", "4000", "6000", "8000"]),
        ("0987-05-01", "2026-02-01", 4, ["1000", "1500", "2000"]),
    ],
)
def test_dates_have_ticks_where_the_calendar_turns(low: str, high: str, most: int, labels: list[str]) -> None:
    days = [(datetime.date.fromisoformat(end) - datetime.date(1970, 1, 1)).days for end in (low, high)]
    ticks = calendar_ticks(days[0], days[1], most)
    assert [label for _, label in ticks] == labels and all(days[0] <= day <= days[1] for day, _ in ticks)
    for day, label in ticks:
        assert (datetime.date(1970, 1, 1) + datetime.timedelta(days=day)).isoformat().startswith(label)


def counted(**settings: object) -> Recipe:
    layer = CountsLayer(id="n1", of_value="mild", height="percent", **settings)  # type: ignore[arg-type]
    return recipe_of_form("counts", "grade", "arm").model_copy(update={"layers": [layer]})


def test_the_share_of_a_value_is_a_bar_with_its_interval_and_a_reading() -> None:
    asked = counted(interval=True, labels="percent").model_copy(update={"ledger": Ledger(shares=["mild", "absent"])})
    scene = scene_of(asked, TABLE)
    scale = scene.panels[0].scale
    bars = [part for part in scene.walk() if isinstance(part, RectPart) and part.role == "count"]
    for bar, lane in zip(bars, scene.readings, strict=True):
        share, absent = lane.named
        assert share.value == 10 / 30 and (absent.value, absent.low) == (0.0, 0.0)
        assert np.interp(bar.x + bar.width, scale.range, scale.domain) == pytest.approx(100 / 3, abs=0.1)
        interval = stats.binomtest(10, 30).proportion_ci(method="wilson")
        assert (share.low, share.high) == pytest.approx((interval.low, interval.high))
        assert share.text == "10 · 33 % (19 to 51)"
    assert "share of rows whose value is mild" in scene.note and "Wilson" in scene.note


def test_shares_of_numbers_are_of_all_that_is_known_and_stacks_are_refused() -> None:
    table = table_of({"level": ["0", "0.0", "1.5", "<0.4", ""], "arm": ["a"] * 5})
    base = recipe_of_form("box", "level", "arm").model_copy(update={"ledger": Ledger(shares=["0", "beyond a limit"])})
    zeros, limits = scene_of(base, table).readings[0].named
    assert (zeros.value, limits.value) == (0.5, 0.25)
    stacked = counted().model_copy(
        update={"groups": Groups(column="arm"), "subgroups": Subgroups(column="week", placed="stacked")}
    )
    with pytest.raises(InputError, match="cannot stand on one another") as caught:
        scene_of(stacked, TABLE)
    assert caught.value.mends


@pytest.mark.parametrize("through", ["values", "means", "medians", "least squares", "running total"])
def test_awkward_orders_are_drawn(through: str) -> None:
    tables = {
        "one": table_of({"level": [3.5], "x": ["1"], "arm": ["a"]}),
        "ends of the calendar": table_of({"level": [1.5, 2.5], "x": ["0001-01-01", "9999-12-31"], "arm": ["a", "a"]}),
        "gaps": table_of({"level": [-3.5, 0.0, 2.0, 5.0], "x": ["1", "", "3", ""], "arm": ["a", "b", "", "b"]}),
        "no values": table_of({"level": ["", "<2", "3.5"], "x": ["", "", ""], "arm": ["a", "b", "a"]}),
        "hostile": table_of({"level": [1.5, 2.5, 3.5], "x": ["=1+1", "<script>", "x" * 3_000], "arm": ["<b>", "{n}", "*a*"]}),
    }
    for name, table in tables.items():
        for runs, band in (("up", "interval"), ("across", "spread")):
            layer = SeriesLayer(id="s1", against="x", through=through, band=band, fill=0.2, step=2.5)  # type: ignore[arg-type]
            scene = scene_of(recipe(layer, axis=Axis(runs=runs)), table)  # type: ignore[arg-type]
            assert np.isfinite(scene.width) and "nan" not in scene.note, name
            assert all("nan" not in part.d and "inf" not in part.d for part in scene.walk() if isinstance(part, PathPart)), name


def test_places_too_few_for_a_band_are_said_with_a_step_that_gathers_them() -> None:
    asked = recipe(SeriesLayer(id="s1", against="date", band="interval"))
    [said] = [advice for advice in scene_of(asked, TABLE).advice if advice.key == "s1/band"]
    assert said.text.startswith("No band at 60 of 60 places")
    [way] = said.remedies
    [change] = way.changes
    assert (way.words, change.path, change.value) == ("In steps of 91 days", ["layers", 0, "step"], 91.0)
    gathered = recipe(SeriesLayer(id="s1", against="date", band="interval", step=91.0))
    scene = scene_of(gathered, TABLE)
    assert "in steps of 91 days; band" in scene.note and paths(scene, "series-band")
    assert not [advice for advice in scene.advice if advice.key == "s1/band"]
    visits = TABLE.column("week").name
    assert not [
        a for a in scene_of(recipe(SeriesLayer(id="s1", against=visits, band="interval")), TABLE).advice if "band" in a.key
    ]
