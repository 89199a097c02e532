"""What a newcomer does in the first hour, by mouse; the numbers on the page are those of the command line."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from server.comparisons.models import Comparison, TrailEntry
from tests.journeys.conftest import choose, described, enter, full_reading, open_demo, paste, reading

ROOT = Path(__file__).resolve().parents[2]


def test_from_the_link_to_an_export(desk: Page, demo: str, tmp_path: Path) -> None:
    open_demo(desk, demo)
    expect(desk.get_by_role("row", name="Rotating", exact=True)).to_be_visible()
    expect(desk.get_by_test_id("account")).to_contain_text("356 of 1 448 rows · 181 people · 1 086 not kept · 6 without")

    choose(desk, "Groups", "ward")
    expect(desk.get_by_role("row", name="Harbour", exact=True)).to_be_visible()
    desk.get_by_role("button", name="Rows kept").click()
    for level in ("+30 min", "Noon", "Bedtime"):
        desk.get_by_role("checkbox", name=level).click()
    desk.keyboard.press("Escape")
    expect(desk.get_by_test_id("account")).to_contain_text("1 403 of 1 448 rows")
    lanes = described("samples.csv", "cortisol", "ward")
    assert set(lanes) == {"Harbour", "Ridge", "Valley"}
    for ward, lane in lanes.items():
        expect(desk.get_by_role("row", name=ward, exact=True).locator("[data-reading='Median']")).to_have_attribute(
            "title", re.compile(rf"^{lane['median']!r}$".replace(".0$", r"(\.0)?$"))
        )
        assert float(full_reading(desk, ward, "Median")) == lane["median"]
        assert reading(desk, ward, "Beyond") == str(len(lane["outliers"]))

    choose(desk, "Measure", "nights in a row")
    expect(desk.get_by_role("button", name="Measure: nights in a row", exact=True)).to_be_visible()
    with desk.expect_download() as got:
        desk.get_by_role("button", name="Export").click()
        desk.get_by_role("button", name="Save SVG").click()
    assert b"nights in a row" in got.value.path().read_bytes()
    desk.keyboard.press("Escape")

    desk.reload()
    expect(desk.get_by_role("button", name="Measure: nights in a row", exact=True)).to_be_visible()
    expect(desk.get_by_role("row", name="Valley", exact=True)).to_be_visible()
    assert (
        desk.get_by_role("navigation", name="Trail").get_by_role("listitem").count()
        == TrailEntry.objects.filter(comparison=Comparison.objects.get(name="Waking level by shift")).count()
    )


def test_dragging_a_fence(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    in_flight: list[int] = [0, 0]

    def asked(request) -> None:
        if request.url.endswith("/scene") and '"recipe"' in (request.post_data or ""):
            in_flight[0] += 1
            in_flight[1] = max(in_flight)

    def answered(request) -> None:
        if request.url.endswith("/scene") and '"recipe"' in (request.post_data or ""):
            in_flight[0] -= 1

    desk.on("request", asked)
    desk.on("requestfinished", answered)
    before = int(reading(desk, "Night", "Beyond"))
    handle = desk.get_by_role("slider", name="upper fence of Night")
    box = handle.bounding_box()
    assert box
    desk.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    desk.mouse.down()
    seen = {before}
    for step in range(1, 41):
        desk.mouse.move(box["x"] + 6 + step * 5, box["y"] + box["height"] / 2)
        seen.add(int(reading(desk, "Night", "Beyond")))
    desk.mouse.up()
    expect(desk.get_by_role("navigation", name="Trail").get_by_role("listitem")).to_have_count(2)
    expect(desk.get_by_role("row", name="Night", exact=True).locator("[data-reading='Beyond']")).to_have_text("1")
    assert before == 8 and len(seen) > 2 and in_flight[1] == 1
    entry = TrailEntry.objects.order_by("-id")[0]
    assert entry.words.startswith("fence 1.5 → ") and entry.recipe["layers"][0]["fence"]["k"] > 3

    desk.get_by_role("button", name="Undo").click()
    expect(desk.get_by_role("row", name="Night", exact=True).locator("[data-reading='Beyond']")).to_have_text("8")
    desk.keyboard.press("Control+Shift+Z")
    expect(desk.get_by_role("row", name="Night", exact=True).locator("[data-reading='Beyond']")).to_have_text("1")


def test_pasting_cells_and_dropping_a_file(desk: Page, demo: str, tmp_path: Path) -> None:
    enter(desk, demo)
    rows = "".join(f"P-{i:02d}\t{'Lot A' if i % 2 else 'Lot B'}\t{20 + i * 0.3:.1f}\n" for i in range(40)).replace(".", ",")
    paste(desk, "sample\treagent lot\tclotting time (s)\n" + rows)
    expect(desk.get_by_role("button", name="Measure: clotting time", exact=True)).to_be_visible()
    expect(desk.get_by_role("row", name="Lot B", exact=True)).to_be_visible()
    table = tmp_path / "pasted.tsv"
    table.write_text("sample\treagent lot\tclotting time (s)\n" + rows, encoding="utf-8")
    lane = described(table, "clotting time", "reagent lot")["Lot B"]
    assert float(full_reading(desk, "Lot B", "Median")) == lane["median"]

    paste(
        desk,
        "Lot A\tLot B\tLot C\n" + "".join(f"{20 + i}.5\t{22 + i}.5\t{'' if i > 9 else f'{25 + i}.5'}\n" for i in range(15)),
    )
    expect(desk.get_by_role("row", name="Lot C", exact=True)).to_be_visible()
    assert [float(full_reading(desk, lot, "Median")) for lot in ("Lot A", "Lot B", "Lot C")] == [27.5, 29.5, 30.0]
    expect(desk.get_by_test_id("account")).to_contain_text("40 of 40 values")
    choose(desk, "Measure", "Lot B")
    expect(desk.get_by_role("row", name="all rows", exact=True)).to_be_visible()
    desk.get_by_role("button", name="Measure: Lot B", exact=True).click()
    desk.get_by_role("button", name="all 3 columns").click()
    expect(desk.get_by_role("row", name="Lot A", exact=True)).to_be_visible()

    dropped = "ward,level (mg/L)\n" + "".join(f"{'North' if i % 3 else 'South'},{i}.25\n" for i in range(30))
    desk.evaluate(
        """(text) => {
            const data = new DataTransfer();
            data.items.add(new File([text], "my levels.csv", { type: "text/csv" }));
            for (const name of ["dragover", "drop"])
                document.body.dispatchEvent(new DragEvent(name, { dataTransfer: data, bubbles: true, cancelable: true }));
        }""",
        dropped,
    )
    expect(desk.get_by_role("heading", name="my levels")).to_be_visible()
    expect(desk.get_by_role("row", name="South", exact=True)).to_be_visible()
    desk.get_by_role("link", name="Echelle: all studies").click()
    expect(desk.get_by_role("link", name="my levels changed")).to_be_visible()
    assert Comparison.objects.get(name="my levels").study == Comparison.objects.filter(name="pasted cells").last().study
