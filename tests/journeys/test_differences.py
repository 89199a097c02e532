"""How large the difference is: sizes with intervals on the bench, the same as the command line's; limits become a guide."""

from __future__ import annotations

import json

from playwright.sync_api import Page, Route, expect

from tests.journeys.conftest import choose, eventually, last_recipe, open_demo
from tests.journeys.test_accessible import nothing_serious
from tests.support.command import run


def compared(tmp_path, *options: str) -> dict:  # type: ignore[no-untyped-def]
    """What ``echelle compare`` says of the waking samples."""
    steps = tmp_path / "waking.json"
    steps.write_text(json.dumps([{"step": "keep", "where": {"column": "sample", "is": ["Waking"]}}]))
    words = ["compare", "demo/samples.csv", "--measure", "cortisol", "--groups", "shift pattern", "--preparation", str(steps)]
    return dict(json.loads(run(*words, *options, "--json", check=True).stdout))


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
    result = compared(tmp_path, "--reference", "Day")
    for name in ("difference of means", "Hodges–Lehmann shift", "ratio of means"):
        desk.get_by_label("Estimate").select_option(name)
        for pair in result["pairs"]:
            if pair["other"] in ("Evening", "Night", "Rotating"):
                line = next(entry for entry in pair["estimates"] if entry["name"] == name)
                assert size(desk, pair["other"], "Day") == line["value"]
    nothing_serious(desk)
    desk.get_by_label("Reference").select_option("Night")
    expect(desk.get_by_role("listitem", name="Day to Night", exact=True)).to_be_visible()
    desk.get_by_label("Paired by").select_option("participant")
    expect(desk.get_by_label("Estimate")).to_have_value("mean paired difference")
    expect(sizes).to_contain_text("stand in one lane only")
    assert eventually(desk, lambda: last_recipe()["differences"]["paired_by"] == "participant")
    assert last_recipe()["differences"]["reference"] == "Night"


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
    expect(desk.get_by_role("region", name="Spread components").get_by_role("row")).to_have_count(1 + 4 * 4)
    desk.get_by_role("button", name="Split the lanes by plate").click()
    expect(desk.get_by_role("button", name="Subgroups: plate")).to_be_visible()
    desk.get_by_role("button", name="Undo", exact=True).click()
    expect(desk.get_by_role("button", name="Subgroups: nothing")).to_be_visible()
    desk.get_by_label("Control", exact=True).select_option("own mean and SD")
    expect(desk.get_by_role("region", name="Control rules")).to_contain_text("Night: 1-3s")
    desk.get_by_label("Margin").fill("-1")
    desk.get_by_label("Margin").press("Enter")
    # What is not understood stays as it was typed, with a word about it.
    expect(desk.get_by_label("Margin")).to_have_value("-1")
    expect(desk.get_by_role("alert")).to_contain_text("not understood")
    desk.get_by_label("Margin").fill("2")
    desk.get_by_label("Margin").press("Enter")
    desk.get_by_text("Tests, as evidence").click()
    expect(desk.get_by_role("complementary", name="Settings")).to_contain_text("equivalence: Evening to Day")


def test_control_lines_stand_on_the_figure_at_a_target_or_a_stretch(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    desk.get_by_role("tab", name="Differences").click()
    desk.get_by_label("Control", exact=True).select_option("a stretch")
    desk.get_by_label("Last value").fill("30")
    desk.get_by_label("Last value").press("Enter")
    desk.get_by_role("button", name="Control lines").click()
    figure = desk.get_by_test_id("figure")
    expect(figure.locator("line[data-role='limit']").first).to_be_attached()
    expect(desk.get_by_test_id("method-note")).to_contain_text("mean and SD of each lane's values 1 to 30")
    desk.get_by_label("Lots").select_option("plate")
    expect(figure.locator("line[data-role='tick']").first).to_be_attached()
    expect(desk.get_by_role("region", name="Control rules")).to_contain_text("Day, 1")
    desk.get_by_label("Control", exact=True).select_option("a target")
    for name, value in (("Target mean", "12"), ("Target SD", "4")):
        desk.get_by_label(name).fill(value)
        desk.get_by_label(name).press("Enter")
    expect(desk.get_by_test_id("method-note")).to_contain_text("target 12, SD 4")
    desk.get_by_label("Target SD").fill("-4")
    desk.get_by_label("Target SD").press("Enter")
    expect(desk.get_by_role("alert")).to_contain_text("not understood")
    nothing_serious(desk)
    asked = {"target": {"mean": 12, "sd": 4}, "order": None, "lots": "plate"}
    assert eventually(desk, lambda: last_recipe()["differences"]["control"] == asked)


def by_sample(page: Page) -> None:
    """All samples of all people, compared with one another."""
    page.get_by_role("button", name="Rows kept: Waking").click()
    for sample in ("+30 min", "Noon", "Bedtime"):
        page.get_by_role("checkbox", name=sample).check()
    page.keyboard.press("Escape")
    choose(page, "Groups", "sample")


def test_samples_of_one_person_are_paired_and_become_lanes(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    by_sample(desk)
    desk.get_by_role("tab", name="Differences").click()
    desk.get_by_label("Paired by").select_option("participant")
    expect(desk.get_by_role("region", name="Sizes")).to_contain_text("pairs by participant")
    desk.get_by_label("Estimate").select_option("mean paired difference")
    sizes = desk.get_by_role("region", name="Sizes")
    result = float(str(sizes.get_by_test_id("size").first.get_attribute("title")))
    desk.get_by_role("button", name="Paired lanes").click()
    figure = desk.get_by_test_id("figure")
    expect(figure).to_contain_text("at waking (nmol/L): difference to Waking within")
    expect(desk.get_by_role("button", name="Paired lanes")).to_have_attribute("aria-pressed", "true")
    assert eventually(desk, lambda: [guide["at"] for guide in last_recipe()["guides"]] == [0])
    assert {"points", "mean"} <= {layer["layer"] for layer in last_recipe()["layers"]}
    # The sizes beside the figure are still those of the lanes themselves.
    assert float(str(sizes.get_by_test_id("size").first.get_attribute("title"))) == result
    desk.get_by_label("Repeats").select_option("mixed model")
    expect(sizes).to_contain_text("in a mixed model", timeout=20_000)
    desk.get_by_role("button", name="Paired lanes").click()
    expect(figure).not_to_contain_text("difference to Waking")
    assert eventually(desk, lambda: last_recipe()["guides"] == [])
    assert "mean" not in {layer["layer"] for layer in last_recipe()["layers"]}


def test_two_factors_show_how_differences_differ(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    choose(desk, "Subgroups", "ward")
    desk.get_by_role("tab", name="Differences").click()
    desk.get_by_text("Tests, as evidence").click()
    settings = desk.get_by_role("complementary", name="Settings")
    expect(settings).to_contain_text("Differences of differences")
    title = "Analysis of variance, sums of squares of type II"
    expect(settings.get_by_role("table", name=title)).to_contain_text("shift pattern")
    expect(settings.get_by_role("table", name="The same by aligned ranks")).to_contain_text("shift pattern × ward")


def test_long_work_shows_how_far_it_is_and_can_be_stopped(desk: Page, demo: str) -> None:
    open_demo(desk, demo)
    answer: list[Route] = []
    desk.route("**/differences", lambda route: answer.append(route))
    desk.get_by_role("tab", name="Differences").click()
    status = desk.get_by_role("status").filter(has=desk.get_by_role("progressbar", name="Pieces done"))
    expect(status).to_contain_text("begins")
    status.get_by_role("button", name="Stop").click()
    expect(desk.get_by_text("Not computed.")).to_be_visible()
    desk.unroute_all()
    desk.get_by_role("button", name="Compute", exact=True).click()
    expect(desk.get_by_role("region", name="Sizes").get_by_role("listitem")).to_have_count(3)
