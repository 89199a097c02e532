"""A study's own page: all that it holds, names, shelves; who may put away and erase."""

from __future__ import annotations

from typing import Any

import pytest
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from server.comparisons.models import Comparison, TrailEntry
from server.folios.models import Folio
from server.records.models import RecordLine
from server.studies.models import Study
from server.tables.models import DataTable
from tests.support.uploads import bring, send


def state(client: Client, study: Study) -> dict[str, Any]:
    return dict(client.get(f"/api/studies/{study.pk}").json())


def more_comparisons(client: Client, comparison: Comparison, count: int) -> None:
    for _ in range(count):
        assert send(client, "post", "comparisons", {"table": str(comparison.table_id)}).status_code == 200


def shelf(client: Client, comparison: Comparison, name: str) -> int:
    return int(send(client, "put", f"comparisons/{comparison.pk}/shelf", {"shelf": name}).status_code)


def test_every_comparison_is_listed_with_what_it_asks(people: dict[str, Client], comparison: Comparison, study: Study) -> None:
    more_comparisons(people["owner"], comparison, 9)
    seen = state(people["viewer"], study)
    assert len(seen["comparisons"]) == 10 and seen["role"] == "viewer"
    changed = [entry["changed"] for entry in seen["comparisons"]]
    assert changed == sorted(changed, reverse=True)
    entry = seen["comparisons"][0]
    assert (entry["measure"], entry["groups"], entry["table"], entry["by"]) == ("level", "ward", "levels.csv", "owner")
    assert [(table["name"], table["rows"], table["comparisons"]) for table in seen["tables"]] == [("levels.csv", 21, 10)]
    assert {held["table_id"] for held in seen["comparisons"]} == {seen["tables"][0]["id"]}
    [card] = people["owner"].get("/api/studies").json()
    assert card["open"] == 10 and len(card["comparisons"]) == 6


def test_tables_of_one_name_are_counted_apart_and_folios_offer_what_is_open(
    people: dict[str, Client], comparison: Comparison, study: Study
) -> None:
    cells = "who,ward,level (nmol/L)\n" + "".join(f"P-{i:03d},{'AB'[i % 2]},{i + 0.25}\n" for i in range(9))
    assert bring(people["owner"], cells, study=str(study.pk)).status_code == 200
    more_comparisons(people["owner"], comparison, 2)
    tables = state(people["owner"], study)["tables"]
    assert [(table["name"], table["rows"], table["comparisons"]) for table in tables] == [
        ("levels.csv", 9, 1), ("levels.csv", 21, 3),
    ]  # fmt: skip
    folio = send(people["owner"], "post", "folios", {"study": str(study.pk)}).json()
    assert len(folio["offered"]) == 4
    assert [shelf(people["owner"], comparison, name) for name in ("bin", "archive")] == [204, 204]
    offered = people["owner"].get(f"/api/folios/{folio['id']}").json()["offered"]
    assert len(offered) == 3 and str(comparison.pk) not in {entry["comparison"] for entry in offered}


def test_older_data_is_said(people: dict[str, Client], comparison: Comparison, study: Study) -> None:
    assert not state(people["owner"], study)["comparisons"][0]["older_data"]
    cells = "who,ward,level (nmol/L)\n" + "".join(f"P-{i:03d},{'AB'[i % 2]},{i + 0.5}\n" for i in range(30))
    assert bring(people["owner"], cells, replaces=str(comparison.table_id)).status_code == 200
    seen = state(people["owner"], study)
    assert [entry["older_data"] for entry in seen["comparisons"]] == [True]
    assert [table["rows"] for table in seen["tables"]] == [30]


def test_a_list_takes_as_many_queries_however_long_it_is(
    people: dict[str, Client], comparison: Comparison, study: Study, django_assert_num_queries
) -> None:
    state(people["owner"], study)
    with CaptureQueriesContext(connection) as few:
        state(people["owner"], study)
    asked = len(few)
    more_comparisons(people["owner"], comparison, 12)
    with django_assert_num_queries(asked):
        assert len(state(people["owner"], study)["comparisons"]) == 13


def test_studies_comparisons_and_tables_are_renamed(people: dict[str, Client], comparison: Comparison, study: Study) -> None:
    paths = (f"studies/{study.pk}", f"comparisons/{comparison.pk}", f"tables/{comparison.table_id}")
    for path in paths:
        assert send(people["viewer"], "patch", path, {"name": "mine"}).status_code == 403
        assert send(people["editor"], "patch", path, {"name": "  "}).status_code == 422
        assert send(people["editor"], "patch", path, {"name": "  Lot   7 <b> "}).status_code == 200
    seen = state(people["owner"], study)
    assert seen["name"] == seen["comparisons"][0]["name"] == seen["tables"][0]["name"] == "Lot 7 <b>"
    assert seen["comparisons"][0]["table"] == "Lot 7 <b>"
    assert DataTable.objects.get().name == "Lot 7 <b>"


def test_shelves_hide_and_give_back_and_only_the_bin_is_erased(
    people: dict[str, Client], comparison: Comparison, study: Study
) -> None:
    editor, changed = people["editor"], comparison.changed
    assert shelf(people["viewer"], comparison, "archive") == 403
    for name in ("archive", "bin", "open", "archive"):
        assert shelf(editor, comparison, name) == 204
        assert [entry["shelf"] for entry in state(editor, study)["comparisons"]] == [name]
        assert [card["open"] for card in people["owner"].get("/api/studies").json()] == [int(name == "open")]
    comparison.refresh_from_db()
    assert comparison.changed == changed, "putting away changes nothing of it"
    here = f"comparisons/{comparison.pk}"
    assert send(editor, "delete", here, {}).status_code == 422
    assert shelf(editor, comparison, "bin") == 204
    assert send(people["viewer"], "delete", here, {}).status_code == 403
    assert send(editor, "delete", here, {}).status_code == 204
    assert not Comparison.objects.exists() and not TrailEntry.objects.exists() and DataTable.objects.exists()
    line = RecordLine.objects.filter(study=study.pk).latest("number")
    assert (line.what, line.details["of"], line.person) == ("comparison erased", comparison.name, "editor")


@pytest.mark.parametrize("kept", ["signed off", "on a folio"])
def test_what_others_rely_on_does_not_go(people: dict[str, Client], comparison: Comparison, study: Study, kept: str) -> None:
    if kept == "signed off":
        Comparison.objects.filter(pk=comparison.pk).update(locked_at=timezone.now(), locked_by="owner", lock_reason="as sent")
    else:
        Folio.objects.create(study=study, name="Page one", figures=[str(comparison.pk)])
    answer = send(people["owner"], "put", f"comparisons/{comparison.pk}/shelf", {"shelf": "bin"})
    assert answer.status_code == 422
    assert ("signed off" if kept == "signed off" else "Page one") in answer.content.decode()
    Comparison.objects.filter(pk=comparison.pk).update(binned=timezone.now())
    assert send(people["owner"], "delete", f"comparisons/{comparison.pk}", {}).status_code == 422
    assert shelf(people["owner"], comparison, "archive") == 204 and Comparison.objects.exists()
