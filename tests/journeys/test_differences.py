"""How large the difference is: sizes with intervals on the bench, the same as the command line's; limits become a guide."""

from __future__ import annotations

import json
import subprocess
import sys

from playwright.sync_api import Page, expect

from server.comparisons.models import TrailEntry
from tests.journeys.conftest import ROOT, open_demo
from tests.journeys.test_accessible import nothing_serious


def compared(tmp_path, *options: str) -> dict:  # type: ignore[no-untyped-def]
    """What ``echelle compare`` says of the waking samples."""
    steps = tmp_path / "waking.json"
    steps.write_text(json.dumps([{"step": "keep", "where": {"column": "sample", "is": ["Waking"]}}]))
    words = ["compare", "demo/samples.csv", "--measure", "cortisol", "--groups", "shift pattern", "--preparation", str(steps)]
    done = subprocess.run(
        [sys.executable, "-m", "echelle.cli", *words, *options, "--json"], cwd=ROOT, capture_output=True, check=True
    )
    return dict(json.loads(done.stdout))


def size(page: Page, other: str, reference: str) -> float:
    """The size shown for a pair, in full digits."""
    line = page.get_by_role("listitem", name=f"{other} to {reference}", exact=True)
    return float(str(line.get_by_test_id("size").get_attribute("title")))


def test_sizes_to_a_reference_are_those_of_the_command(desk: Page, demo: str, tmp_path) -> None:  # type: ignore[no-untyped-def]
    open_demo(desk, demo)
    desk.get_by_role("tab", name="Differences").click()
    sizes = desk.get_by_role("region", name="Sizes")
    expect(sizes.get_by_role("listitem")).to_have_count(3)
    expect(desk.get_by_role("complementary", name="Settings")).to_contain_text("says how surprising the data were")
    found = compared(tmp_path, "--reference", "Day")
    for name in ("difference of means", "Hodges–Lehmann shift", "ratio of means"):
        desk.get_by_label("Estimate").select_option(name)
        for pair in found["pairs"]:
            if pair["other"] in ("Evening", "Night", "Rotating"):
                line = next(one for one in pair["estimates"] if one["name"] == name)
                assert size(desk, pair["other"], "Day") == line["value"]
    nothing_serious(desk)
    desk.get_by_label("Reference").select_option("Night")
    expect(desk.get_by_role("listitem", name="Day to Night", exact=True)).to_be_visible()
    desk.get_by_label("Paired by").select_option("participant")
    expect(desk.get_by_label("Estimate")).to_have_value("mean paired difference")
    expect(sizes).to_contain_text("stand in one lane only")
    entry = TrailEntry.objects.order_by("-id")[0]
    assert entry.recipe["differences"]["reference"] == "Night" and entry.recipe["differences"]["paired_by"] == "participant"


def test_limits_become_a_guide_and_runs_show_their_spread(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.get_by_role("tab", name="Differences").click()
    desk.get_by_label("Ref. limits").select_option("robust")
    limits = desk.get_by_role("region", name="Reference limits")
    expect(limits).to_contain_text("fewer than 120 values")
    limits.get_by_role("button", name="Guide from the limits of Day").click()
    expect(desk.get_by_test_id("figure").locator("rect[data-role='guide']")).to_have_count(1)
    desk.get_by_label("Runs").select_option("plate")
    expect(desk.get_by_role("region", name="Spread components")).to_contain_text("between runs")
    desk.get_by_label("Control").select_option("own")
    expect(desk.get_by_role("region", name="Control rules")).to_contain_text("Night: 1-3s")
    desk.get_by_label("Margin").fill("-1")
    desk.get_by_label("Margin").press("Enter")
    expect(desk.get_by_label("Margin")).to_have_value("")
    desk.get_by_label("Margin").fill("2")
    desk.get_by_label("Margin").press("Enter")
    desk.get_by_text("Tests, as evidence").click()
    expect(desk.get_by_role("complementary", name="Settings")).to_contain_text("equivalence: Evening to Day")
