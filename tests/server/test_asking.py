"""What is asked about a figure: rows behind counts and brushes, advice, other measures, copies, names, dismissals."""

from __future__ import annotations

import json
from typing import Any

import pytest
from django.test import Client

from server.comparisons.models import Comparison
from tests.support.uploads import bring, send

CELLS = "who,ward,level (nmol/L),age\n" + "".join(
    f"P-{i:03d},{'AB'[i % 2]},{['QNS', '<0.5'][i // 20] if i in (3, 7, 20) else i + 0.5},{20 + i % 30}\n" for i in range(40)
)


@pytest.fixture
def here(people: dict[str, Client], study: Any) -> str:
    """A comparison with two rows without a value and one at a limit."""
    answer = bring(people["owner"], CELLS, study=str(study.pk))
    return f"comparisons/{answer.json()['comparison']}"


@pytest.fixture
def recipe(people: dict[str, Client], here: str) -> dict[str, Any]:
    return dict(people["owner"].get(f"/api/{here}").json()["recipe"])


def rows(client: Client, here: str, **asked: object) -> dict[str, Any]:
    answer = send(client, "post", f"{here}/rows", asked)
    assert answer.status_code == 200, answer.content
    return dict(answer.json())


def test_each_count_leads_to_its_rows(people: dict[str, Client], here: str, recipe: dict[str, Any]) -> None:
    owner = people["owner"]
    counts = send(owner, "post", f"{here}/scene", {"recipe": recipe}).json()["counts"]
    missing = rows(owner, here, recipe=recipe, aside="missing")
    assert missing["total"] == counts["missing"] == 2 and missing["ids"] == ["4", "8"] and missing["lanes"] == ["", ""]
    assert missing["cells"][missing["columns"].index("who")] == ["P-003", "P-007"]
    limits = rows(owner, here, recipe=recipe, aside="beyond a limit")
    assert limits["total"] == counts["censored"] == 1 and limits["ids"] == ["21"]
    left = {"row": 1, "reason": "spilled"}
    assert rows(owner, here, recipe=recipe | {"left_out": [left]}, aside="left out")["ids"] == ["1"]
    assert rows(owner, here, recipe=recipe, aside="ungrouped")["total"] == 0


def test_a_part_of_a_lane_is_turned_into_its_rows(people: dict[str, Client], here: str, recipe: dict[str, Any]) -> None:
    owner = people["owner"]
    scene = send(owner, "post", f"{here}/scene", {"recipe": recipe}).json()
    lane = scene["lanes"][0]
    span = {"lane": lane["key"], "low": 10.5, "high": 18.5}
    result = rows(owner, here, recipe=recipe, spans=[span], count=2)
    assert result["values"] == [10.5, 12.5, 14.5, 16.5, 18.5] and set(result["lanes"]) == {lane["key"]}
    assert len(result["ids"]) == 2 and result["total"] == 5
    again = rows(owner, here, recipe=recipe, keys=result["keys"][::-1], start=3)
    assert again["keys"] == result["keys"] and again["ids"] == ["17", "19"]
    assert rows(owner, here, recipe=recipe, keys=[999_999])["total"] == 0


def test_advice_that_takes_time(people: dict[str, Client], here: str, recipe: dict[str, Any]) -> None:
    for name, status in (("owner", 200), ("viewer", 200), ("stranger", 404)):
        answer = send(people[name], "post", f"{here}/advice", {"recipe": recipe})
        assert answer.status_code == status and (status != 200 or isinstance(answer.json(), list))


def test_every_measure_in_the_same_figure(people: dict[str, Client], here: str, recipe: dict[str, Any]) -> None:
    result = send(people["owner"], "post", f"{here}/measures", {"recipe": recipe}).json()["measures"]
    assert [entry["column"] for entry in result] == ["level", "age"]
    assert all(entry["scene"]["parts"] and entry["recipe"]["groups"] == recipe["groups"] for entry in result)
    body = {"recipe": result[1]["recipe"], "name": "Age by ward"}
    made = send(people["editor"], "post", f"{here}/copies", body).json()
    assert made["name"] == "Age by ward" and made["recipe"]["measure"]["columns"] == ["age"] and len(made["trail"]) == 1
    assert send(people["viewer"], "post", f"{here}/copies", body).status_code in (403, 404)


def test_a_copy_holds_the_state_and_its_preparation(people: dict[str, Client], here: str, recipe: dict[str, Any]) -> None:
    owner = people["owner"]
    state = owner.get(f"/api/{here}").json()
    step = {"step": "keep", "where": {"column": "ward", "is": ["A"]}}
    body = {"revision": 0, "steps": [step]}
    assert send(owner, "post", f"tables/{state['table']}/preparation", body).status_code == 200
    newest = send(owner, "post", f"{here}/newest", {"revision": state["revision"]}).json()
    copies = [send(owner, "post", f"{here}/copies", {"entry": entry}).json() for entry in (1, newest["head"])]
    assert [copy["preparation"] for copy in copies] == [0, 1]
    assert copies[0]["recipe"] == recipe and copies[0]["name"].endswith("(copy)")
    got = owner.get(f"/api/{here}/trail/1").json()
    assert got == recipe


def test_dismissed_advice_stays_dismissed(people: dict[str, Client], here: str) -> None:
    owner, editor = people["owner"], people["editor"]
    for _ in range(2):
        assert send(owner, "put", f"{here}/dismissed", {"key": "tail-upward"}).json()["dismissed"] == ["tail-upward"]
    assert editor.get(f"/api/{here}").json()["dismissed"] == ["tail-upward"]
    assert send(editor, "put", f"{here}/dismissed", {"key": "tail-upward", "dismissed": False}).json()["dismissed"] == []
    assert send(people["viewer"], "put", f"{here}/dismissed", {"key": "x"}).status_code in (403, 404)


def test_states_have_names(people: dict[str, Client], here: str) -> None:
    owner = people["owner"]
    named = send(owner, "put", f"{here}/trail/1/name", {"name": "  for the\tpaper "}).json()
    assert named["trail"][0]["name"] == "for the paper" and named["revision"] == owner.get(f"/api/{here}").json()["revision"]
    assert send(owner, "put", f"{here}/trail/9/name", {"name": "x"}).status_code == 422
    assert send(owner, "put", f"{here}/trail/1/name", {"name": "x" * 101}).status_code == 422


def test_rows_are_for_those_who_may_see_them(people: dict[str, Client], here: str, recipe: dict[str, Any]) -> None:
    for name in ("viewer", "stranger"):
        assert send(people[name], "post", f"{here}/rows", {"recipe": recipe, "aside": "missing"}).status_code in (403, 404)
    assert Comparison.objects.count() == 1


def test_pictures_of_a_layer(people: dict[str, Client]) -> None:
    result = people["viewer"].get("/api/layers/density/pictures").json()
    assert len(result) > 5 and any(entry["pictures"] for entry in result)
    assert people["viewer"].get("/api/layers/confetti/pictures").status_code == 422


def lines_of(answer: Any) -> list[dict[str, Any]]:
    return [json.loads(line) for line in b"".join(answer.streaming_content).splitlines()]


def test_differences_are_for_all_who_may_look(people: dict[str, Client], here: str, recipe: dict[str, Any]) -> None:
    for name in ("owner", "viewer"):
        *steps, last = lines_of(send(people[name], "post", f"{here}/differences", {"recipe": recipe}))
        assert [(line["done"], line["of"], line["found"]) for line in steps] == [(1, 1, None)]
        result = last["found"]
        assert [pair["other"] for pair in result["pairs"]] == ["B"] and result["pairs"][0]["estimates"][0]["low"] is not None
    assert send(people["stranger"], "post", f"{here}/differences", {"recipe": recipe}).status_code == 404
    asked = recipe | {"differences": {"to": "reference", "reference": "C"}}
    answer = send(people["owner"], "post", f"{here}/differences", {"recipe": asked})
    assert answer.status_code == 422 and "o lane is called" in answer.json()["what"]
    paired = recipe | {"differences": {"paired_by": "who"}}
    [pair] = lines_of(send(people["owner"], "post", f"{here}/differences", {"recipe": paired}))[-1]["found"]["pairs"]
    assert pair["paired"] and "0 pairs by who" in pair["note"]
