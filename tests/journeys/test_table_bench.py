"""The table bench: from ugly cells to a figure, every step seen before it is taken, nothing lost."""

from __future__ import annotations

import csv
import io
from pathlib import Path

from playwright.sync_api import Page, expect

from echelle.tables.steps.files import steps_from
from server.accounts.models import Person
from server.comparisons.models import Comparison
from server.studies.models import Membership, Study
from server.tables.models import DataTable, Preparation
from server.tables.services.preparation import settle_steps
from tests.journeys.conftest import enter, full_reading, link_of, paste

ARMS = ("Low", "low", "High")
LEVELS = ["<0,5" if i % 10 == 3 else f"{i},25" for i in range(40)]
UGLY = "\n".join(
    [
        "Exported from the analyser;;;;",
        "participant;arm;visit;crp (mg/L);comment",
        *(f"P-{i // 2:02d};{ARMS[i % 3]};{1 + i % 2};{LEVELS[i]};{'clotted' if i == 7 else ''}" for i in range(40)),
        "Total;;;780,0;",
        "",
    ]
)


def open_table(desk: Page, demo: str, name: str) -> None:
    """Sign in and open a table of the demo."""
    enter(desk, demo)
    desk.get_by_role("link", name=name, exact=True).click()
    expect(desk.get_by_role("table", name="Rows")).to_be_visible()


def next_step(desk: Page, title: str) -> None:
    """Begin a step from the menu."""
    desk.get_by_role("button", name="+ Next step").click()
    desk.get_by_role("textbox", name="Search steps").fill(title)
    desk.get_by_role("button", name=title).first.click()
    expect(desk.get_by_role("form", name=title)).to_be_visible()


def take(desk: Page) -> None:
    """Take the step on trial."""
    desk.get_by_role("button", name="Take this step").click()
    expect(desk.get_by_role("form")).to_have_count(0)


def in_use(desk: Page, rows: str) -> None:
    """The account says how many rows are in use."""
    expect(desk.get_by_test_id("account")).to_contain_text(f"{rows} of ")


def test_from_ugly_cells_to_a_figure(desk: Page, demo: str) -> None:
    enter(desk, demo)
    paste(desk, UGLY)
    expect(desk.get_by_role("row", name="Low", exact=True)).to_be_visible()
    desk.get_by_role("link", name="pasted cells", exact=True).first.click()
    bar = desk.get_by_role("region", name="Remarks")
    bar.get_by_role("button", name="All").click()
    expect(bar).to_contain_text("Above the heading, left out: “Exported from the analyser”.")
    expect(bar).to_contain_text("Left out below the records, a total: “Total")
    in_use(desk, "40")

    bar.get_by_role("button", name="Join them").click()
    band = desk.get_by_role("region", name="Preparation")
    expect(band).to_contain_text("low joins Low")
    expect(bar).to_contain_text("✓ Join them")
    desk.get_by_role("button", name="crp, measure").click()
    desk.get_by_role("menuitem", name="Stand-ins for limits").click()
    expect(desk.get_by_test_id("step-effect")).to_contain_text("4 values, below: half")
    take(desk)
    next_step(desk, "Keep rows")
    desk.get_by_role("combobox", name="Column of the condition").select_option("comment")
    desk.get_by_role("combobox", name="How comment must be").select_option("is missing")
    expect(desk.get_by_test_id("step-effect")).to_contain_text("40 → 39 rows")
    take(desk)
    next_step(desk, "Combine repeats")
    expect(desk.get_by_test_id("step-effect")).to_contain_text("39 → 20 rows")
    desk.get_by_role("button", name="Cancel").click()
    in_use(desk, "39")

    desk.get_by_role("button", name="crp, measure").click()
    desk.get_by_role("menuitem", name="Compare this").click()
    expect(desk.get_by_role("row", name="Low", exact=True)).to_be_visible()
    low = [0.25 if i % 10 == 3 else i + 0.25 for i in range(40) if i % 3 != 2 and i != 7]
    low.sort()
    assert float(full_reading(desk, "Low", "Median")) == (low[12] + low[13]) / 2 and len(low) == 26


def test_steps_are_edited_moved_switched_and_undone(desk: Page, demo: str, tmp_path: Path) -> None:
    open_table(desk, demo, "samples.csv")
    next_step(desk, "Join a table")
    expect(desk.get_by_test_id("key-overlap")).to_contain_text("1 432 rows match · 16 here without a match")
    take(desk)
    desk.get_by_role("button", name="chronotype, category").click()
    desk.get_by_role("menuitem", name="Keep rows").click()
    expect(desk.get_by_test_id("step-effect")).to_contain_text("1 448 → 488 rows")
    take(desk)
    in_use(desk, "488")
    band = desk.get_by_role("region", name="Preparation")
    band.get_by_role("button", name="Step 2: keep chronotype = early").click()
    desk.get_by_role("menuitem", name="Move earlier").click()
    expect(band).to_contain_text("Stops here: The table has no column “chronotype”")
    in_use(desk, "1 448")
    desk.get_by_role("button", name="Undo", exact=True).click()
    in_use(desk, "488")
    band.get_by_role("button", name="Step 2: keep chronotype = early").click()
    desk.get_by_role("menuitem", name="Edit…").click()
    desk.get_by_role("button", name="late", exact=True).click()
    expect(desk.get_by_test_id("step-effect")).to_contain_text("1 448 → 760 rows")
    desk.get_by_role("button", name="Keep the change").click()
    in_use(desk, "760")
    band.get_by_role("button", name="Step 2: keep chronotype = early, late").click()
    desk.get_by_role("menuitem", name="Switch off").click()
    in_use(desk, "1 448")

    desk.get_by_role("button", name="Row 3", exact=True).click()
    desk.get_by_role("textbox", name="Reason").fill("slip of the pen")
    desk.get_by_role("button", name="Leave it out").click()
    in_use(desk, "1 447")
    with desk.expect_download() as waiting:
        desk.get_by_role("button", name="Save the rows").click()
        desk.get_by_role("menuitem", name="CSV").click()
    rows = list(csv.DictReader(io.StringIO(Path(waiting.value.path()).read_text("utf-8-sig"))))
    assert len(rows) == 1447 and "3" not in {row["row"] for row in rows} and rows[30]["age (years)"] != ""
    assert [p.words for p in Preparation.objects.order_by("revision")][-1] == "+ leave out row 3"

    # The comparison drawn before is offered all this, and takes it when asked.
    desk.get_by_role("link", name="Echelle: all studies").click()
    desk.get_by_role("link", name="Waking level by shift").click()
    desk.get_by_role("button", name="Old and new side by side").click()
    expect(desk.get_by_role("dialog").get_by_role("figure")).to_have_count(2)
    desk.get_by_role("button", name="Take the newest data").click()
    expect(desk.get_by_text("changed since this figure was drawn")).to_have_count(0)
    taken = Comparison.objects.get(name="Waking level by shift").head_entry
    assert taken.preparation == Preparation.objects.count() and taken.words.startswith("preparation 0 →")


def test_by_keyboard_alone_a_kind_an_order_and_a_find(desk: Page, demo: str) -> None:
    open_table(desk, demo, "samples.csv")
    desk.get_by_role("button", name="plate, category").focus()
    desk.keyboard.press("Enter")
    desk.get_by_role("menuitemradio", name="measure").focus()
    desk.keyboard.press("Enter")
    expect(desk.get_by_role("button", name="plate, measure")).to_be_visible()
    desk.get_by_role("button", name="sample, category").focus()
    desk.keyboard.press("Enter")
    desk.get_by_role("menuitem", name="Order levels").focus()
    desk.keyboard.press("Enter")
    desk.get_by_role("button", name="Bedtime, place 4").focus()
    for key in ("Space", "ArrowLeft", "Space"):
        desk.keyboard.press(key)
        desk.wait_for_timeout(300)
    expect(desk.get_by_role("button", name="Bedtime, place 3")).to_be_visible()
    take(desk)
    desk.keyboard.press("Control+f")
    desk.keyboard.type("QNS")
    expect(desk.get_by_role("status").filter(has_text="of 27")).to_have_text("1 of 27")
    desk.keyboard.press("Enter")
    expect(desk.get_by_role("status").filter(has_text="of 27")).to_have_text("2 of 27")
    expect(desk.get_by_text("QNS", exact=True).first).to_be_visible()


def test_the_reading_is_overruled_and_a_newer_file_shows_its_changes(desk: Page, demo: str) -> None:
    open_table(desk, demo, "participants.csv")
    desk.get_by_role("button", name="Names on line 1").click()
    desk.get_by_role("textbox", name="The names stand on line").fill("0")
    desk.keyboard.press("Enter")
    expect(desk.get_by_role("button", name="Names on no line")).to_be_visible()
    in_use(desk, "183")
    desk.get_by_role("button", name="Names on no line").click()
    desk.get_by_role("textbox", name="The names stand on line").fill("1")
    desk.keyboard.press("Enter")
    in_use(desk, "182")
    text = (Path(__file__).parents[2] / "demo" / "participants.csv").read_text()
    newer = text.replace("P-0103,31,", "P-0103,32,") + "P-0999,40,1.5,early\n"
    desk.get_by_label("Newer file").set_input_files(
        {"name": "participants 2.csv", "mimeType": "text/csv", "buffer": newer.encode()}
    )
    expect(desk.get_by_test_id("changes")).to_contain_text("matched by participant): 1 row added · 1 row changed")
    in_use(desk, "183")


def test_one_file_per_group_becomes_one_table(desk: Page, demo: str) -> None:
    enter(desk, demo)
    desk.get_by_label("Table file").set_input_files(
        [
            {"name": f"lot {lot}.csv", "mimeType": "text/csv", "buffer": f"run,time (s)\na,{lot}.5\nb,{lot}.75\n".encode()}
            for lot in (1, 2, 3)
        ]
    )
    desk.get_by_role("button", name="Append them").click()
    in_use(desk, "6")
    expect(desk.get_by_role("button", name="file, category")).to_contain_text("lot 1.csv")
    expect(desk.get_by_role("region", name="Preparation")).to_contain_text("append lot 3.csv")


def test_a_formula_is_told_its_fault_and_changes_nothing(desk: Page, demo: str) -> None:
    open_table(desk, demo, "samples.csv")
    next_step(desk, "Derive by a formula")
    desk.get_by_label("New column").fill("ratio")
    effect = desk.get_by_test_id("step-effect")
    field = desk.get_by_label("=", exact=True)
    field.fill("cortisol / nights in a row")
    expect(effect).to_contain_text("“in” does not fit here")
    expect(desk.get_by_role("button", name="Take this step")).to_be_disabled()
    field.fill('cortisol / "nights in a row"')
    expect(effect).to_contain_text("without an answer")
    expect(desk.get_by_role("button", name="ratio, measure")).to_be_visible()
    desk.get_by_role("button", name="Cancel").click()
    expect(desk.get_by_role("button", name="ratio, measure")).to_have_count(0)
    assert Preparation.objects.count() == 0


def test_conditions_with_and_and_or(desk: Page, demo: str) -> None:
    open_table(desk, demo, "samples.csv")
    desk.get_by_role("button", name="ward, category").click()
    desk.get_by_role("menuitem", name="Keep rows").click()
    effect = desk.get_by_test_id("step-effect")
    expect(effect).to_contain_text("1 448 → 400 rows")
    desk.get_by_role("button", name="+ condition").click()
    form = desk.get_by_role("form", name="Keep rows")
    form.get_by_role("combobox", name="How ward must be").last.wait_for()
    form.get_by_role("button", name="Harbour", exact=True).last.click()
    form.get_by_role("button", name="Valley", exact=True).last.click()
    expect(effect).to_contain_text("→ 0 rows")
    form.get_by_role("button", name="and", exact=True).click()
    expect(effect).to_contain_text("→ 912 rows")
    form.get_by_role("button", name="Remove the condition on ward").first.click()
    expect(effect).to_contain_text("→ 512 rows")


def test_one_column_per_group_becomes_one_of_names_and_one_of_values(desk: Page, demo: str) -> None:
    open_table(desk, demo, "clotting_lots.csv")
    next_step(desk, "Wide to long")
    desk.get_by_label("Names to").fill("lot")
    desk.get_by_label("Values to").fill("time")
    expect(desk.get_by_test_id("step-effect")).to_contain_text("4 columns into one")
    take(desk)
    expect(desk.get_by_role("button", name="lot, category")).to_contain_text("Lot 2201")
    desk.get_by_role("button", name="lot, category").click()
    desk.get_by_role("menuitem", name="Compare this").click()
    expect(desk.get_by_role("row", name="Lot 2204", exact=True)).to_be_visible()
    expect(desk.get_by_role("heading", name="time by lot")).to_be_visible()


def test_a_preparation_that_someone_else_changed_is_not_overwritten(desk: Page, demo: str) -> None:
    open_table(desk, demo, "participants.csv")
    table = DataTable.objects.get(name="participants.csv")
    theirs = [{"step": "unit", "column": "age", "unit": "y"}]
    settle_steps(table, 0, steps_from(theirs), Person.objects.get(username="demo"))
    desk.get_by_role("button", name="chronotype, category").click()
    desk.get_by_role("menuitem", name="Keep rows").click()
    desk.get_by_role("button", name="Take this step").click()
    expect(desk.get_by_test_id("notice")).to_contain_text("Someone changed")
    desk.get_by_role("button", name="Show theirs").click()
    expect(desk.get_by_role("region", name="Preparation")).to_contain_text("age in y")
    assert Preparation.objects.count() == 1


def test_a_viewer_sees_columns_and_no_rows(desk: Page, demo: str, address: str) -> None:
    viewer = Person.objects.create(username="guest")
    Membership.objects.create(study=Study.objects.get(), person=viewer, role="viewer")
    enter(desk, link_of("guest", address))
    desk.get_by_role("link", name="samples.csv", exact=True).click()
    expect(desk.get_by_text("Viewers see columns, not rows.")).to_be_visible()
    expect(desk.get_by_role("button", name="cortisol, measure")).to_be_visible()
    assert desk.get_by_role("cell").count() == 0
    for name in ("+ Next step", "Save the rows", "Compare", "Undo"):
        expect(desk.get_by_role("button", name=name, exact=True)).to_have_count(0)


def test_nothing_is_cut_off_at_1024(desk: Page, demo: str) -> None:
    desk.set_viewport_size({"width": 1024, "height": 768})
    open_table(desk, demo, "samples.csv")
    wide = desk.evaluate("document.documentElement.scrollWidth")
    assert wide <= 1024
    for name in ("Compare", "Save the rows", "+ Next step", "All 5"):
        box = desk.get_by_role("button", name=name, exact=True).bounding_box()
        assert box is not None and box["x"] >= 0 and box["x"] + box["width"] <= 1024 and box["height"] < 44
    heads, cells = desk.get_by_role("columnheader"), desk.get_by_role("row").nth(1).get_by_role("cell")
    for place in range(4):
        head, cell = heads.nth(place).bounding_box(), cells.nth(place).bounding_box()
        assert head is not None and cell is not None and abs(head["x"] - cell["x"]) < 1
