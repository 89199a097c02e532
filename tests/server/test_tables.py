"""Tables on the server: preparation and its revisions, rows, newer files, what goes out."""

from __future__ import annotations

import csv
import io
import json
from pathlib import Path
from typing import Any

import openpyxl
import polars as pl
import pytest
from django.test import Client

from echelle.tables.reading.read import read_bytes
from echelle.tables.steps.files import steps_from
from echelle.tables.steps.prepare import prepare
from server.comparisons.models import Comparison
from server.studies.models import Study
from server.tables.models import DataTable, Preparation, RawFile, RawPiece
from server.tables.services.cache import prepared_of
from tests.support.command import run
from tests.support.steps import cells, ids
from tests.support.uploads import bring, send
from tests.support.worker import work

SAMPLES = "participant,ward,level (nmol/L),note\n" + "".join(
    f"P-{i // 2:02d},{'North' if i % 3 else 'South'},{i + 0.5 if i % 7 else 'QNS'},{'=1+1' if i == 4 else 'plain'}\n"
    for i in range(20)
)
PEOPLE = "participant,age (years)\n" + "".join(f"P-{i:02d},{30 + i}\n" for i in range(8))
KEEP = {"step": "keep", "on": True, "where": {"column": "ward", "is": ["North"]}}


@pytest.fixture
def owner(people: dict[str, Client]) -> Client:
    return people["owner"]


@pytest.fixture
def table(owner: Client, study: Study) -> str:
    """The address of a table of samples."""
    answer = bring(owner, SAMPLES, study=str(study.pk), name="samples.csv")
    assert answer.status_code == 200, answer.content
    return f"tables/{answer.json()['table']}"


def settle(client: Client, table: str, *steps: dict[str, Any], status: int = 200) -> dict[str, Any]:
    revision = client.get(f"/api/{table}").json()["newest"]
    answer = send(client, "post", f"{table}/preparation", {"revision": revision, "steps": list(steps)})
    assert answer.status_code == status, answer.content
    return answer.json()


def window(client: Client, table: str, steps: list[Any], **more: Any) -> dict[str, Any]:
    answer = send(client, "post", f"{table}/rows", {"steps": steps, "start": 0, "count": 50, **more})
    assert answer.status_code == 200, answer.content
    return answer.json()


def test_revisions_follow_one_another_and_none_is_overwritten(owner: Client, people: dict[str, Client], table: str) -> None:
    first = settle(owner, table, KEEP)
    assert (first["newest"], first["outcome"]["rows"], first["outcome"]["steps"][0]["note"]) == (1, 13, "7 rows left out")
    assert first["outcome"]["steps"][0]["words"] == "keep ward = North"
    stale = send(people["editor"], "post", f"{table}/preparation", {"revision": 0, "steps": []})
    assert stale.status_code == 409
    second = settle(people["editor"], table, {**KEEP, "on": False})
    assert second["outcome"]["rows"] == 20 and second["history"][-1]["words"] == "off: keep ward = North"
    assert settle(owner, table, {**KEEP, "on": False})["newest"] == 2
    older = owner.get(f"/api/{table}?revision=1").json()
    assert older["outcome"]["rows"] == 13 and older["newest"] == 2
    assert [p.steps[0]["on"] for p in Preparation.objects.order_by("revision")] == [True, False]


def test_a_step_that_does_not_fit_stops_there_and_is_kept(owner: Client, table: str) -> None:
    gone = {"step": "rename", "column": "levle", "to": "x"}
    state = settle(owner, table, KEEP, gone, {"step": "unit", "column": "level", "unit": "g"})
    outcome = state["outcome"]
    assert [step["rows"] for step in outcome["steps"]] == [13, None, None] and outcome["rows"] == 13
    assert "no column “levle”" in outcome["stopped"]["what"] and "“level”" in outcome["stopped"]["remedy"]
    refused = owner.get(f"/api/{table}/rows/csv")
    assert refused.status_code == 422 and "step 2" in refused.json()["where"]


def test_rows_come_in_windows_sorted_found_and_with_their_changes(owner: Client, table: str) -> None:
    rows = window(owner, table, [], start=3, count=2)
    assert rows["keys"] == [4, 5] and rows["total"] == 20 and rows["cells"][3] == ["plain", "=1+1"]
    down = window(owner, table, [], sort={"column": "level", "down": True})
    assert [down["cells"][2][i] for i in (0, 1)] == ["19.5", "18.5"]
    assert down["states"][2].endswith("mmm") and down["cells"][2][-1] == "QNS"
    tried = window(owner, table, [{"step": "join levels", "column": "ward", "levels": ["South"], "into": "North"}], against=[])
    assert tried["changed"][1].count("+") == 7 and set(tried["changed"][0]) == {"."}
    result = send(owner, "post", f"{table}/find", {"steps": [KEEP], "text": "p-09"}).json()
    assert result == {"places": [12], "total": 1}
    assert send(owner, "post", f"{table}/find", {"steps": [KEEP], "key": 20}).json()["places"] == [12]


def test_a_join_names_the_other_file_and_replays_fresh_and_cached(owner: Client, study: Study, table: str) -> None:
    bring(owner, PEOPLE, study=str(study.pk), name="people.csv")
    links = owner.get(f"/api/studies/{study.pk}/tables").json()
    link = next(entry for entry in links if entry["name"] == "people.csv")
    keys = [{"here": "participant", "there": "participant"}]
    overlap = send(owner, "post", f"{table}/keys", {"steps": [], "table": link["reference"], "keys": keys}).json()
    assert (overlap["matched"], overlap["unmatched"], overlap["unmatched_first"]) == (16, 4, ["P-08", "P-09"])
    steps = [{"step": "join", "table": link["reference"], "keys": keys}, KEEP]
    settle(owner, table, *steps)
    stored = DataTable.objects.get(name="samples.csv")
    fresh = prepare(read_bytes(SAMPLES.encode()).table, steps_from(steps), lambda ref: read_bytes(PEOPLE.encode()).table).table
    for _ in range(2):
        kept = prepared_of(stored, steps_from(steps)).table
        assert ids(kept) == ids(fresh) and cells(kept, "age") == cells(fresh, "age")
    lost = {"step": "join", "table": {**link["reference"], "sha256": "0" * 64}, "keys": keys}
    assert "not in this study" in settle(owner, table, lost)["outcome"]["stopped"]["what"]


def test_a_row_is_left_out_with_reason_and_name(owner: Client, table: str) -> None:
    state = send(owner, "post", f"{table}/left-out", {"revision": 0, "key": 5, "reason": "slip of the pen"}).json()
    state = send(owner, "post", f"{table}/left-out", {"revision": 1, "key": 6, "reason": "spilt"}).json()
    (step,) = state["outcome"]["steps"]
    first, second = step["step"]["rows"]
    assert (first["row"], first["reason"], first["by"], second["row"]) == (5, "slip of the pen", "owner", 6)
    assert first["fingerprint"] and first["sha256"] == state["sha256"] and first["at"]
    assert state["outcome"]["rows"] == 18 and state["outcome"]["rows_shown"] == 20
    again = send(owner, "post", f"{table}/left-out", {"revision": 2, "key": 5, "reason": "x"})
    assert again.status_code == 422 and "already" in again.json()["what"]


def read_again(owner: Client, table: str, options: dict) -> dict:
    """The table that comes of it."""
    answer = send(owner, "post", f"{table}/read", options)
    assert answer.status_code == 200, answer.content
    return dict(owner.get(f"/api/tables/{answer.json()['table']}").json())


def test_a_large_file_is_read_again_by_the_worker(transactional_db, owner: Client, table: str, settings) -> None:
    settings.JOB_ABOVE_MEGABYTES = 0
    asked = send(owner, "post", f"{table}/read", {"header_row": 2}).json()
    assert asked["state"] == "waiting"
    work()
    done = owner.get(f"/api/uploads/{asked['id']}").json()
    assert done["state"] == "done" and owner.get(f"/api/{table}").json()["newer"] == done["table"]


def test_a_file_read_as_it_is_stays_the_table(owner: Client, table: str) -> None:
    answer = send(owner, "post", f"{table}/read", {}).json()
    assert answer["same"] and f"tables/{answer['table']}" == table and DataTable.objects.count() == 1


def test_the_file_is_read_again_as_a_person_says(owner: Client, table: str) -> None:
    settle(owner, table, {"step": "unit", "column": "level", "unit": "g"})
    state = read_again(owner, table, {"header_row": 2})
    assert state["told"]["header_row"] == 2 and state["rows"] == 19 and state["older"] == table.removeprefix("tables/")
    assert state["outcome"]["stopped"] is not None and state["newest"] == 1
    assert owner.get(f"/api/{table}").json()["newer"] == state["id"]
    refused = send(owner, "post", f"tables/{state['id']}/read", {"header_row": 21})
    assert refused.status_code == 422 and DataTable.objects.count() == 2 and RawFile.objects.count() == 1
    assert owner.get(f"/api/studies/{state['study']}/tables").json()[0]["id"] == state["id"]


def test_the_same_file_is_recognised_and_stored_once(owner: Client, study: Study, table: str) -> None:
    again = bring(owner, SAMPLES, study=str(study.pk), name="copy.csv").json()
    assert again["same"] and f"tables/{again['table']}" == table and again["comparison"]
    assert RawPiece.objects.count() == 1 and DataTable.objects.count() == 1


def newer_export() -> str:
    lines = SAMPLES.splitlines()
    rows = [*reversed(lines[1:]), "P-30,West,99.5,new"]
    return "\n".join([lines[0], *(row for row in rows if not row.startswith("P-00"))]) + "\n"


def test_a_newer_export_keeps_preparation_and_comparisons_and_says_what_changed(owner: Client, table: str) -> None:
    send(owner, "post", f"{table}/left-out", {"revision": 0, "key": 5, "reason": "slip of the pen"})
    comparison = Comparison.objects.get()
    before = send(owner, "post", f"comparisons/{comparison.pk}/scene", {}).json()
    newer = bring(owner, newer_export(), replaces=table.removeprefix("tables/"), name="samples 2.csv").json()
    state = owner.get(f"/api/tables/{newer['table']}").json()
    assert state["outcome"]["steps"][0]["step"]["rows"][0]["row"] == 5 and state["outcome"]["rows"] == 18
    shown = window(owner, f"tables/{newer['table']}", [s["step"] for s in state["outcome"]["steps"]])
    assert [shown["cells"][3][i] for i, out in enumerate(shown["left_out"]) if out] == ["=1+1"]
    changes = owner.get(f"/api/tables/{newer['table']}/changes").json()
    assert (changes["added"], changes["gone"], changes["same"]) == (1, 2, 18)
    assert changes["levels"][0] == {"column": "ward", "added": ["West"], "gone": []}
    # The comparison stays as it was until someone takes the newer data; undo brings the old data back.
    here = f"comparisons/{comparison.pk}"
    assert send(owner, "post", f"{here}/scene", {}).json() == before
    offered = owner.get(f"/api/{here}").json()
    assert offered["newer"]["table"] == newer["table"] and "newer file" in offered["newer"]["words"]
    assert send(owner, "post", f"{here}/scene", {"newest": True}).json()["counts"]["rows"] == 18
    taken = send(owner, "post", f"{here}/newest", {"revision": offered["revision"]}).json()
    assert taken["newer"] is None and taken["trail"][-1]["words"] == "newer data: samples 2.csv"
    back = send(owner, "put", f"{here}/head", {"revision": taken["revision"], "entry": 1}).json()
    assert back["table"] == table.removeprefix("tables/") and back["newer"] is not None
    again = bring(owner, "a,b\nx,1.5\n", replaces=table.removeprefix("tables/"))
    assert again.status_code == 422 and "newer file" in again.json()["what"]


def test_a_left_out_row_that_is_gone_stops_the_newer_preparation(owner: Client, table: str) -> None:
    send(owner, "post", f"{table}/left-out", {"revision": 0, "key": 1, "reason": "slip"})
    newer = bring(owner, newer_export(), replaces=table.removeprefix("tables/")).json()
    stopped = owner.get(f"/api/tables/{newer['table']}").json()["outcome"]["stopped"]
    assert "is not in the newer file" in stopped["what"] and stopped["remedy"]


def test_rows_go_out_with_formulas_made_harmless(owner: Client, table: str) -> None:
    settle(owner, table, KEEP, {"step": "leave out", "rows": [{"row": 2, "reason": "slip"}]})
    answer = owner.get(f"/api/{table}/rows/csv")
    rows = list(csv.DictReader(io.StringIO(answer.content.decode("utf-8-sig"))))
    assert answer["X-Guarded-Cells"] == "1" and len(rows) == 12 and [row["row"] for row in rows][:2] == ["3", "5"]
    assert next(row["note"] for row in rows if row["row"] == "5") == "'=1+1"
    again = read_bytes(answer.content).table
    assert again.column("level").unit == "nmol/L" and again.column("level").missing == 2
    book = openpyxl.load_workbook(io.BytesIO(owner.get(f"/api/{table}/rows/xlsx").content))
    values = [[cell.value for cell in row] for row in book.active]
    assert values[0] == ["row", "participant", "ward", "level (nmol/L)", "note"] and values[1][3] == 2.5
    assert {cell.data_type for row in book.active for cell in row} <= {"s", "n"}
    frame = pl.read_parquet(io.BytesIO(owner.get(f"/api/{table}/rows/parquet").content))
    assert frame["level (nmol/L)"].dtype == pl.Float64 and frame["level (nmol/L)"].null_count() == 2
    assert owner.get(f"/api/{table}/rows/docx").status_code == 422


def test_steps_and_raw_file_replay_on_the_command_line(owner: Client, table: str, tmp_path: Path) -> None:
    settle(owner, table, KEEP, {"step": "derive", "to": "double", "formula": "2 * level", "unit": "nmol/L"})
    (tmp_path / "samples.csv").write_text(SAMPLES)
    (tmp_path / "steps.json").write_bytes(owner.get(f"/api/{table}/rows/steps").content)
    words = ["describe", "samples.csv", "--measure", "double", "--groups", "ward", "--preparation", "steps.json", "--json"]
    lane = json.loads(run(*words, cwd=tmp_path, check=True).stdout)["lanes"][0]
    assert (lane["group"], lane["n"], lane["max"]) == ("North", 11, 39.0)


def test_a_sealed_recipe_carries_its_preparation_and_draws_the_same_bytes(owner: Client, table: str, tmp_path: Path) -> None:
    settle(owner, table, KEEP)
    made = send(owner, "post", "comparisons", {"table": table.removeprefix("tables/"), "measure": "level"}).json()
    assert made["name"] == "level by note" and made["preparation"] == 1
    here = f"/api/comparisons/{made['id']}/export"
    (tmp_path / "recipe.json").write_bytes(owner.get(f"{here}/recipe").content)
    (tmp_path / "samples.csv").write_text(SAMPLES)
    run("draw", "recipe.json", "--table", "samples.csv", "--out", "figure.svg", cwd=tmp_path, check=True)
    assert (tmp_path / "figure.svg").read_bytes() == owner.get(f"{here}/svg").content


def test_a_table_without_numbers_comes_in_too(owner: Client, study: Study) -> None:
    state = bring(owner, "a,b\nx,y\nz,w\n", study=str(study.pk)).json()
    assert owner.get(f"/api/tables/{state['table']}").json()["rows"] == 2
    recipe = owner.get(f"/api/comparisons/{state['comparison']}").json()["recipe"]
    assert recipe["groups"]["column"] == "a" and [layer["layer"] for layer in recipe["layers"]] == ["counts"]
    again = send(owner, "post", "comparisons", {"table": state["table"]})
    assert again.status_code == 200


def test_sheets_of_one_workbook_are_appended_with_their_names(owner: Client, study: Study) -> None:
    book = openpyxl.Workbook()
    book.active.title = "Lot A"
    for sheet, values in ((book.active, (1.5, 2.5)), (book.create_sheet("Lot B"), (3.5, 4.5))):
        sheet.append(["run", "time (s)"])
        for i, value in enumerate(values):
            sheet.append([f"r{i}", value])
    out = io.BytesIO()
    book.save(out)
    made = bring(owner, out.getvalue(), study=str(study.pk), name="lots.xlsx").json()
    table = f"tables/{made['table']}"
    remark = next(r for r in owner.get(f"/api/{table}").json()["remarks"] if "Lot B" in r["text"])
    state = settle(owner, table, *next(r["steps"] for r in remark["remedies"] if r["words"] == "Append the sheets like it"))
    assert state["outcome"]["stopped"] is None and state["outcome"]["rows"] == 4
    rows = window(owner, table, [step["step"] for step in state["outcome"]["steps"]])
    assert rows["cells"][2] == ["Lot A", "Lot A", "Lot B", "Lot B"] and rows["ids"][2:] == ["1 · Lot B", "2 · Lot B"]
    read = read_again(owner, table, {"sheet": "Lot B"})
    assert read["read"]["sheet"] == "Lot B" and read["read"]["sheets"] == ["Lot A", "Lot B"]


def test_steps_of_a_file_read_in_another_way_replay_so(owner: Client, study: Study, tmp_path: Path) -> None:
    text = "a;b\nward;level\nx;1,234\ny;2,500\nz;3,125\n"
    made = bring(owner, text, study=str(study.pk), name="t.csv").json()
    again = read_again(owner, f"tables/{made['table']}", {"header_row": 2, "decimal": "comma"})
    settle(owner, f"tables/{again['id']}", {"step": "unit", "column": "level", "unit": "mg"})
    (tmp_path / "t.csv").write_text(text)
    (tmp_path / "t.steps.json").write_bytes(owner.get(f"/api/tables/{again['id']}/rows/steps").content)
    words = ["describe", "t.csv", "--measure", "level (mg)", "--preparation", "t.steps.json", "--json"]
    assert json.loads(run(*words, cwd=tmp_path, check=True).stdout)["lanes"][0]["max"] == 3.125
    refused = send(owner, "post", f"tables/{made['table']}/read", {"header_row": 1})
    assert refused.status_code == 422 and "newer table" in refused.json()["what"]


def test_a_viewer_is_not_told_which_rows_were_left_out(
    owner: Client, people: dict[str, Client], study: Study, table: str
) -> None:
    send(owner, "post", f"{table}/left-out", {"revision": 0, "key": 5, "reason": "Mr P asked for it"})
    seen = people["viewer"].get(f"/api/{table}").content.decode()
    assert "asked for it" not in seen and "fingerprint" in seen and '"row":5' not in seen and "leave out 1 row" in seen
    assert people["viewer"].get(f"/api/studies/{study.pk}/tables").status_code == 403
    comparison = Comparison.objects.get()
    assert people["viewer"].get(f"/api/comparisons/{comparison.pk}/export/recipe").status_code == 403
