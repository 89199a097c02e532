"""Sources of many files: who brings them, what is counted and kept, who sees what, and what stops it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
import pytest
from django.core.management import CommandError, call_command
from django.test import Client

from echelle.bundles.models import Contents, RawData
from echelle.bundles.reader import open_bundle, rows_of
from echelle.bundles.writer import bundle
from echelle.far.count import count_piece
from echelle.far.part_batches import Piece
from echelle.numbers.moments import moments
from echelle.numbers.quantiles import quantiles
from echelle.tables.table import PART_KEYS
from server.accounts.models import Person
from server.comparisons.models import Comparison
from server.studies.models import Study
from server.tables.models import Counting, DataTable, Source, StoredTally
from server.tables.services import counting as service
from tests.far.parts import log, write_parts
from tests.support.uploads import send
from tests.support.worker import work

LOG = log(3_000, 5)


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    return write_parts(LOG, tmp_path / "network", [1_000, 2_000])


@pytest.fixture
def source(transactional_db, people: dict[str, Client], folder: Path, monkeypatch: pytest.MonkeyPatch, settings) -> Source:
    monkeypatch.setattr(service, "_PATIENCE", 0.0)
    service._held.clear()
    settings.UPLOADS = folder.parent / "uploads"
    call_command("source", "open", "Analyser network", str(folder), person=["owner", "viewer"])
    return Source.objects.get()


@pytest.fixture
def comparison(people: dict[str, Client], study: Study, source: Source) -> Comparison:
    job = brought(people["owner"], f"studies/{study.pk}/sources", {"source": source.pk})
    assert job["state"] == "done", job
    return Comparison.objects.get(pk=job["comparison"])


def brought(client: Client, path: str, body: Any = None) -> dict[str, Any]:
    answer = send(client, "post", path, body)
    assert answer.status_code == 200, answer.content
    work("counting")
    return dict(client.get(f"/api/uploads/{answer.json()['id']}").json())


def asked(client: Client, comparison: Comparison, **body: Any) -> Any:
    return send(client, "post", f"comparisons/{comparison.pk}/scene", body)


def counted(client: Client, comparison: Comparison, **body: Any) -> dict[str, Any]:
    """The scene once its files are counted."""
    assert asked(client, comparison, **body).status_code == 425
    work("counting")
    answer = asked(client, comparison, **body)
    assert answer.status_code == 200, answer.content
    return dict(answer.json())


def test_a_source_is_brought_by_those_it_is_open_to(people: dict[str, Client], study: Study, source: Source) -> None:
    assert people["owner"].get("/api/sources").json() == [{"id": source.pk, "name": "Analyser network"}]
    assert people["editor"].get("/api/sources").json() == []
    path, body = f"studies/{study.pk}/sources", {"source": source.pk}
    refused = send(people["editor"], "post", path, body)
    assert refused.status_code == 422 and "not open to you" in refused.json()["what"]
    assert send(people["viewer"], "post", path, body).status_code in (403, 404)
    assert send(people["stranger"], "post", path, body).status_code == 404
    assert not DataTable.objects.exists()


def test_what_it_brings_is_a_table_of_a_sample_and_a_first_question(
    people: dict[str, Client], comparison: Comparison, folder: Path
) -> None:
    table = DataTable.objects.get()
    assert (table.rows, table.rows_held, table.options["files"]) == (3_000, 3_000, 3)
    state = people["owner"].get(f"/api/tables/{table.pk}").json()
    assert state["far"] == {"source": "Analyser network", "files": 3, "rows": 3_000}
    assert [column["kind"] for column in state["outcome"]["columns"]] == ["category", "measure", "category", "measure"]
    kept = b"".join(table.raw.pieces())
    assert str(folder.parent).encode() not in kept and b"part-001.parquet" in kept
    assert str(folder.parent) not in people["owner"].get(f"/api/tables/{table.pk}").content.decode()
    shown = people["owner"].get(f"/api/comparisons/{comparison.pk}").json()["recipe"]
    assert shown["measure"]["columns"] == ["potassium"] and shown["groups"]["column"] == "sex"


def test_the_figure_comes_when_its_files_are_counted(people: dict[str, Client], comparison: Comparison) -> None:
    waits = asked(people["owner"], comparison)
    assert waits.status_code == 425 and waits.json()["what"] == "The files are being counted: 0 of 3"
    work("counting")
    scene = asked(people["owner"], comparison).json()
    assert scene["files"] == {"done": 3, "of": 3, "cells": False} and "3000 rows in 3 files" in scene["note"]
    assert sum(lane["n"] for lane in scene["readings"]) == LOG["potassium (mmol/l)"].count()
    # In other forms and for those who look it is there at once.
    assert asked(people["viewer"], comparison).status_code == 200
    forms = send(people["owner"], "post", f"comparisons/{comparison.pk}/forms", {"recipe": _recipe(people, comparison)}).json()
    assert sum(form["scene"] is not None for form in forms) > 8
    assert any("one by one" in (form["reason"] or "") for form in forms)


def _recipe(people: dict[str, Client], comparison: Comparison) -> dict[str, Any]:
    return dict(people["owner"].get(f"/api/comparisons/{comparison.pk}").json()["recipe"])


def test_only_files_that_are_new_are_counted_again(
    people: dict[str, Client], comparison: Comparison, folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    counted(people["owner"], comparison)
    table = DataTable.objects.get()
    same = brought(people["owner"], f"tables/{table.pk}/look-again")
    assert same["state"] == "done" and same["table"] == str(table.pk) and DataTable.objects.count() == 1
    log(500, 9).write_parquet(folder / "part-900.parquet")
    newer = brought(people["owner"], f"tables/{table.pk}/look-again")
    made = DataTable.objects.get(pk=newer["table"])
    assert made.replaces == table and made.rows == 3_500
    seen: list[int] = []
    monkeypatch.setattr(
        "echelle.far.engine.count_piece", lambda m, piece, *rest: (seen.append(piece.place), count_piece(m, piece, *rest))[1]
    )
    revision = people["owner"].get(f"/api/comparisons/{comparison.pk}").json()["revision"]
    assert send(people["owner"], "post", f"comparisons/{comparison.pk}/newest", {"revision": revision}).status_code == 200
    assert "3500 rows in 4 files" in counted(people["owner"], comparison)["note"] and seen == [3]


def test_a_counting_that_was_killed_goes_on_from_what_it_kept(
    people: dict[str, Client], comparison: Comparison, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert asked(people["owner"], comparison).status_code == 425
    begun = Counting.objects.get()

    def dies(manifest: Any, piece: Piece, *rest: Any) -> Any:
        if piece.place == 2:
            raise KeyboardInterrupt
        return count_piece(manifest, piece, *rest)

    monkeypatch.setattr("echelle.far.engine.count_piece", dies)
    monkeypatch.setattr("echelle.far.engine._THREADS", 1)
    with pytest.raises(KeyboardInterrupt):
        service.run_counting(begun, service_sample(begun))
    monkeypatch.undo()
    monkeypatch.setattr(service, "_PATIENCE", 0.0)
    assert StoredTally.objects.exclude(part="").count() == 2
    call_command("requeue_jobs", "counting")
    work("counting")
    assert asked(people["owner"], comparison).json()["files"] == {"done": 3, "of": 3, "cells": False}


def service_sample(counting: Counting) -> Any:
    from server.tables.services.cache import table_of

    return table_of(counting.table)


def test_a_figure_of_the_files_so_far_says_so_and_leaves_in_no_file(people: dict[str, Client], comparison: Comparison) -> None:
    assert asked(people["owner"], comparison).status_code == 425
    begun = Counting.objects.get()
    far = service.far_table_of(begun.table, service_sample(begun))
    question = service.question_from(begun.asked)
    part = count_piece(far.manifest, Piece(0), question)
    service._lay_down(begun.table, question, f"so far {begun.table.pk}", b"1\n" + part.packed())
    scene = asked(people["owner"], comparison).json()
    assert scene["files"] == {"done": 1, "of": 3, "cells": False} and "1 of 3 files so far" in scene["note"]
    left = people["owner"].get(f"/api/comparisons/{comparison.pk}/export/svg")
    assert left.status_code == 425
    work("counting")
    whole = people["owner"].get(f"/api/comparisons/{comparison.pk}/export/svg")
    assert whole.status_code == 200 and b"<svg" in whole.content


def test_counting_is_stopped_and_gone_on_with(people: dict[str, Client], comparison: Comparison) -> None:
    assert asked(people["owner"], comparison).status_code == 425
    table = DataTable.objects.get()
    [state] = people["owner"].get(f"/api/tables/{table.pk}/countings").json()
    assert (state["state"], state["done"], state["of"]) == ("waiting", 0, 3)
    assert send(people["viewer"], "post", f"countings/{state['id']}/stop").status_code in (403, 404)
    assert send(people["stranger"], "post", f"countings/{state['id']}/stop").status_code == 404
    assert send(people["owner"], "post", f"countings/{state['id']}/stop").json()["state"] == "stopped"
    work("counting")
    assert not StoredTally.objects.exists()
    assert send(people["owner"], "post", f"countings/{state['id']}/go-on").json()["state"] == "waiting"
    work("counting")
    assert asked(people["owner"], comparison).status_code == 200


def test_a_part_that_went_bad_is_named_and_counted_when_it_is_mended(
    people: dict[str, Client], comparison: Comparison, folder: Path
) -> None:
    whole = (folder / "part-001.parquet").read_bytes()
    (folder / "part-001.parquet").write_bytes(whole[:900])
    assert asked(people["owner"], comparison).status_code == 425
    work("counting")
    refused = asked(people["owner"], comparison)
    assert refused.status_code == 422 and refused.json()["where"] == "part-001.parquet"
    (folder / "part-001.parquet").write_bytes(whole)
    counting = Counting.objects.get()
    send(people["owner"], "post", f"countings/{counting.pk}/go-on")
    work("counting")
    assert asked(people["owner"], comparison).status_code == 200


def test_a_row_behind_a_point_is_read_whole_from_its_file(people: dict[str, Client], comparison: Comparison) -> None:
    counted(people["owner"], comparison)
    recipe, key = _recipe(people, comparison), 2 * PART_KEYS + 11
    card = send(people["owner"], "post", f"comparisons/{comparison.pk}/row", {"recipe": recipe, "row": key}).json()
    there = LOG.row(1_010, named=True)
    assert card["row"] == "11 · part-001.parquet"
    assert {cell["column"]: cell["value"] for cell in card["cells"]}["ward"] == there["ward"]
    body = {"recipe": recipe, "row": key}
    assert send(people["viewer"], "post", f"comparisons/{comparison.pk}/row", body).status_code in (403, 404)


def test_a_row_is_left_out_of_a_comparison_and_of_no_other(people: dict[str, Client], comparison: Comparison) -> None:
    before, table = counted(people["owner"], comparison), DataTable.objects.get()
    assert LOG["potassium (mmol/l)"][1_010] is not None
    body = {"recipe": _recipe(people, comparison), "row": 2 * PART_KEYS + 11, "reason": "haemolysed"}
    recipe = send(people["owner"], "post", f"comparisons/{comparison.pk}/left-out", body).json()
    after = asked(people["owner"], comparison, recipe=recipe).json()
    assert after["counts"]["left_out"] == 1 and after["counts"]["used"] == before["counts"]["used"] - 1
    body = {"revision": people["owner"].get(f"/api/tables/{table.pk}").json()["revision"], "key": body["row"], "reason": "x"}
    refused = send(people["owner"], "post", f"tables/{table.pk}/left-out", body)
    assert refused.status_code == 422 and "for all comparisons" in refused.json()["what"]


def test_a_selection_says_how_many_rows_there_are_beside_those_at_hand(
    people: dict[str, Client], comparison: Comparison
) -> None:
    scene, name = counted(people["owner"], comparison), "potassium (mmol/l)"
    path = f"comparisons/{comparison.pk}/rows"
    lanes = [reading["lane"] for reading in scene["readings"]]
    spans = [{"lane": lane, "low": low, "high": high} for lane in lanes for low, high in ((4.0, 4.3), (4.2, 5.0))]
    listed = send(people["owner"], "post", path, {"recipe": _recipe(people, comparison), "spans": spans}).json()
    assert listed["counted"] == LOG.filter(pl.col(name).is_between(4.0, 5.0)).height
    assert 0 < listed["total"] <= listed["counted"]
    named = send(people["owner"], "post", path, {"recipe": _recipe(people, comparison), "keys": listed["keys"]}).json()
    assert (named["counted"], named["total"]) == (None, listed["total"])


def test_what_needs_rows_is_refused_in_words(people: dict[str, Client], comparison: Comparison) -> None:
    table = DataTable.objects.get()
    assert people["owner"].get(f"/api/tables/{table.pk}/rows/csv").status_code in (404, 422)
    answer = people["owner"].get(f"/api/tables/{table.pk}/export/csv")
    assert answer.status_code in (404, 422)


def test_the_command_says_what_it_did_and_what_it_cannot(people: dict[str, Client], comparison: Comparison, capsys) -> None:
    call_command("source", "open", "Analyser network", person=["editor"])
    assert "editor, owner, viewer" in capsys.readouterr().out
    for words, says in (
        (["open", "Other"], "name its folder"),
        (["open", "Other", "/nowhere/at/all"], "no Parquet"),
        (["remove", "Other"], "no source"),
        (["remove", "Analyser network"], "erase those first"),
    ):
        with pytest.raises(CommandError, match=says):
            call_command("source", *words)
    with pytest.raises(CommandError, match="Nobody here"):
        call_command("source", "open", "Analyser network", person=["nobody"])
    assert Person.objects.get(username="editor") in Source.objects.get().people.all()


@pytest.fixture
def currents(
    source: Source, folder: Path, people: dict[str, Client], study: Study, monkeypatch: pytest.MonkeyPatch
) -> Comparison:
    """A comparison of lanes with more different values than are counted one by one."""
    for place in ("cells", "lane_numbers", "tally", "opened_cells"):
        monkeypatch.setattr(f"echelle.far.{place}.MOST_DISTINCT", 200)
    rng = np.random.default_rng(3)
    for part in folder.iterdir():
        frame = pl.read_parquet(part)
        frame.with_columns(pl.Series("potassium (mmol/l)", rng.gamma(4.0, 1.0, frame.height))).write_parquet(part)
    job = brought(people["owner"], f"studies/{study.pk}/sources", {"source": source.pk})
    return Comparison.objects.get(pk=job["comparison"])


def test_numbers_near_their_values_become_exact_when_these_are_read(
    people: dict[str, Client], currents: Comparison, folder: Path
) -> None:
    owner = people["owner"]
    early = counted(owner, currents)
    assert early["files"] == {"done": 3, "of": 3, "cells": True} and "of the cells’ middles; the least" in early["note"]
    asked_first = owner.get(f"/api/tables/{currents.head_entry.table_id or DataTable.objects.get().pk}/countings").json()[0]
    assert (asked_first["of_cells"], asked_first["state"]) == (True, "waiting")
    assert owner.get(f"/api/comparisons/{currents.pk}/export/svg").status_code == 425, "near numbers leave in no file"
    assert asked(people["viewer"], currents).json()["files"]["cells"], "who looks sees the same"
    work("counting")
    work("counting")
    scene = asked(owner, currents).json()
    assert scene["files"] == {"done": 3, "of": 3, "cells": False} and "quantiles and the fences made of these" in scene["note"]
    rows = pl.concat([pl.read_parquet(part) for part in sorted(folder.iterdir())])
    for lane in scene["readings"]:
        values = np.sort(rows.filter(pl.col("sex") == lane["group"])["potassium (mmol/l)"].to_numpy())
        assert lane["n"] == len(values) and lane["mean"] == moments(values).mean and lane["sd"] == moments(values).sd
        assert [lane["q1"], lane["median"], lane["q3"]] == quantiles(values, (0.25, 0.5, 0.75))
        assert lane["beyond"] == np.count_nonzero((values < lane["fence_low"]) | (values > lane["fence_high"]))
    assert owner.get(f"/api/comparisons/{currents.pk}/export/svg").status_code == 200
    # A bundle holds what was read, and needs no source.
    made = owner.get(f"/api/comparisons/{currents.pk}/export/bundle")
    assert made.status_code == 200
    again = rows_of(open_bundle(made.content))
    assert again.tally is not None and again.tally.gathered is not None
    _taken_in_elsewhere(owner, made.content, scene)


def test_counts_that_are_none_are_refused(people: dict[str, Client], comparison: Comparison, study: Study) -> None:
    counted(people["owner"], comparison)
    opened = open_bundle(people["owner"].get(f"/api/comparisons/{comparison.pk}/export/bundle").content)
    whole = opened.raw.data
    middle = len(whole) // 2
    wrong = (b"no counts", whole[:middle], whole[: middle - 40] + bytes(80) + whole[middle + 40 :])
    before = DataTable.objects.count()
    for data in wrong:
        made = bundle(Contents(opened.recipe, RawData(opened.raw.name, data), [], rows_of(opened)))
        answer = people["owner"].post(f"/api/studies/{study.pk}/bundles", made, content_type="application/octet-stream")
        assert answer.status_code == 422, answer.content
    assert DataTable.objects.count() == before


def _taken_in_elsewhere(owner: Client, bundle: bytes, scene: dict[str, Any]) -> None:
    """In another study the figure is drawn of the bundle's counts, and says so where these do not hold what is asked."""
    other = send(owner, "post", "studies", {"name": "Elsewhere"}).json()["id"]
    come = owner.post(f"/api/studies/{other}/bundles", bundle, content_type="application/octet-stream")
    assert come.status_code == 200, come.content
    comparison = Comparison.objects.get(pk=come.json()["comparison"])
    table = comparison.head_entry.table
    assert (
        table is not None
        and table.counts_alone
        and table.name == "Analyser network"
        and (table.rows, table.options["files"]) == (3_000, 3)
    )
    drawn = asked(owner, comparison).json()
    assert drawn["readings"] == scene["readings"] and drawn["note"] == scene["note"]
    recipe = dict(owner.get(f"/api/comparisons/{comparison.pk}").json()["recipe"])
    next(layer for layer in recipe["layers"] if layer["layer"] == "box")["fence"] |= {"k": 2.5}
    near = asked(owner, comparison, recipe=recipe).json()
    assert near["files"] == {"done": 3, "of": 3, "cells": False} and "of the cells’ middles; the least" in near["note"]
    assert owner.get(f"/api/tables/{table.pk}").json()["far"] == {"source": None, "files": 3, "rows": table.rows_held}
    assert send(owner, "post", f"tables/{table.pk}/look-again").status_code == 422
    again = owner.get(f"/api/comparisons/{comparison.pk}/export/bundle")
    assert again.status_code == 200 and open_bundle(again.content).raw.name.count(".counted") == 1
    assert owner.get(f"/api/comparisons/{comparison.pk}/export/svg").status_code == 200


def test_whoever_asks_for_other_values_ends_what_nobody_waits_for(people: dict[str, Client], currents: Comparison) -> None:
    owner = people["owner"]
    counted(owner, currents)
    first = Counting.objects.get(of_cells=True)
    recipe = _recipe(people, currents)
    box = next(layer for layer in recipe["layers"] if layer["layer"] == "box")
    box["fence"] |= {"k": 2.5}
    assert asked(owner, currents, recipe=recipe).json()["files"]["cells"]
    others = Counting.objects.filter(of_cells=True)
    assert others.count() == 1 and others.get().pk != first.pk
    work("counting")
    work("counting")
    assert not asked(owner, currents, recipe=recipe).json()["files"]["cells"]
    # What somebody else waits for goes on, whoever asks for what meanwhile.
    box["fence"] |= {"k": 2.0}
    assert asked(owner, currents, recipe=recipe).json()["files"]["cells"]
    going = Counting.objects.get(of_cells=True, state="waiting")
    Counting.objects.filter(pk=going.pk).update(state="counting")
    box["fence"] |= {"k": 3.0}
    assert asked(people["editor"], currents, recipe=recipe).json()["files"]["cells"]
    assert Counting.objects.filter(pk=going.pk, state="counting").exists()
    # One that was stopped stays so, is told first, and goes on when somebody wants it.
    Counting.objects.filter(pk=going.pk).update(state="stopped")
    box["fence"] |= {"k": 2.0}
    assert asked(owner, currents, recipe=recipe).json()["files"]["cells"]
    assert owner.get(f"/api/tables/{going.table_id}/countings").json()[0]["id"] == going.pk
    assert send(owner, "post", f"countings/{going.pk}/go-on").status_code == 200
    work("counting")
    work("counting")
    assert not asked(owner, currents, recipe=recipe).json()["files"]["cells"]
    # In small, and for the forms, nothing is read.
    before = Counting.objects.count()
    assert asked(owner, currents, miniature=True).status_code == 200
    assert Counting.objects.count() == before
