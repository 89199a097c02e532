"""The trail: nothing falls off it, stale saves lose nothing; scenes and files of its states."""

from __future__ import annotations

import base64
import copy
import json
from importlib import import_module
from pathlib import Path

import pytest
from django.apps import apps
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext

from echelle.recipes.control import ControlTarget
from echelle.recipes.differences import Differences
from server.accounts.models import Person
from server.comparisons.models import Comparison, TrailEntry
from server.comparisons.services.trail import recipe_at
from server.studies.models import make_study
from tests.support.command import run
from tests.support.uploads import send

ROOT = Path(__file__).resolve().parents[2]


@pytest.fixture
def here(comparison: Comparison) -> str:
    return f"comparisons/{comparison.pk}"


def fenced(state: dict, k: float) -> dict:
    recipe = copy.deepcopy(state["recipe"])
    recipe["layers"][0]["fence"]["k"] = k
    return recipe


def settle(client: Client, here: str, state: dict, k: float, status: int = 200) -> dict:
    answer = send(client, "post", f"{here}/trail", {"revision": state["revision"], "recipe": fenced(state, k)})
    assert answer.status_code == status, answer.content
    return answer.json()


def test_states_follow_one_another_and_undo_walks_them(people: dict[str, Client], here: str) -> None:
    owner = people["owner"]
    begun = owner.get(f"/api/{here}").json()
    two = settle(owner, here, begun, 2.0)
    three = settle(owner, here, two, 3.0)
    assert [e["words"] for e in three["trail"]] == ["begun", "fence 1.5 → 2", "fence 2 → 3"]
    assert (three["undo"], three["redo"]) == (2, None)
    back = send(owner, "put", f"{here}/head", {"revision": three["revision"], "entry": 2}).json()
    assert back["recipe"] == two["recipe"] and (back["undo"], back["redo"]) == (1, 3)
    branch = settle(owner, here, back, 0.5)
    assert [e["parent"] for e in branch["trail"]] == [None, 1, 2, 2] and len(branch["trail"]) == 4
    assert owner.get(f"/api/{here}").json()["recipe"] == fenced(begun, 0.5)


def test_the_name_follows_the_question_until_somebody_names_it(people: dict[str, Client], comparison: Comparison) -> None:
    owner = people["owner"]
    made = send(owner, "post", "comparisons", {"table": str(comparison.table_id), "measure": "level"}).json()
    here, begun = f"comparisons/{made['id']}", made["name"]
    alone = {**made["recipe"], "groups": None}
    asked = send(owner, "post", f"{here}/trail", {"revision": made["revision"], "recipe": alone}).json()
    assert begun.startswith("level by ") and asked["name"] == "level"
    back = send(owner, "put", f"{here}/head", {"revision": asked["revision"], "entry": 1}).json()
    assert back["name"] == begun
    assert send(owner, "patch", here, {"name": "Mine"}).json()["name"] == "Mine"
    kept = send(owner, "post", f"{here}/trail", {"revision": back["revision"], "recipe": alone}).json()
    assert kept["name"] == "Mine"


def test_an_equal_state_makes_no_entry(people: dict[str, Client], here: str) -> None:
    begun = people["owner"].get(f"/api/{here}").json()
    assert settle(people["owner"], here, begun, 1.5)["revision"] == begun["revision"]
    assert TrailEntry.objects.count() == 1


def test_a_stale_save_is_refused_and_kept_as_a_branch(people: dict[str, Client], here: str) -> None:
    begun = people["owner"].get(f"/api/{here}").json()
    theirs = settle(people["editor"], here, begun, 2.0)
    fault = settle(people["owner"], here, begun, 3.0, status=409)
    assert "changed this comparison" in fault["what"] and fault["where"] == f"revision {theirs['revision']}"
    now = people["owner"].get(f"/api/{here}").json()
    assert now["recipe"] == theirs["recipe"] and now["revision"] == theirs["revision"]
    lost = now["trail"][-1]
    assert (lost["refused"], lost["by"]) == (True, "owner")
    assert TrailEntry.objects.get(number=lost["number"]).recipe == fenced(begun, 3.0)
    assert now["redo"] is None


def test_a_state_that_cannot_be_drawn_is_not_kept(people: dict[str, Client], here: str) -> None:
    begun = people["owner"].get(f"/api/{here}").json()
    for change in ({"measure": {"columns": ["ward"]}}, {"axis": {**begun["recipe"]["axis"], "from": 5, "to": 1}}):
        body = {"revision": begun["revision"], "recipe": {**begun["recipe"], **change}}
        assert send(people["owner"], "post", f"{here}/trail", body).status_code == 422
    answer = send(people["owner"], "post", f"{here}/trail", {"revision": 1, "recipe": {**begun["recipe"], "layres": []}})
    assert answer.status_code == 422 and answer.json()["where"] == "$.recipe.layres"
    assert TrailEntry.objects.count() == 1


def test_scenes_leave_out_what_the_browser_holds(people: dict[str, Client], here: str) -> None:
    state = people["owner"].get(f"/api/{here}").json()
    points = {"id": "p1", "layer": "points"}
    recipe = {**state["recipe"], "layers": [*state["recipe"]["layers"], points]}

    def columns(have: list[str]) -> list[dict]:
        scene = send(people["owner"], "post", f"{here}/scene", {"recipe": recipe, "have": have}).json()
        result, parts = [], list(scene["parts"])
        while parts:
            part = parts.pop(0)
            parts += part.get("parts", [])
            result += [part["columns"]] if part["part"] == "points" else []
        return result

    full = columns([])
    assert full and all(len(base64.b64decode(c["x"])) == 4 * c["count"] for c in full)
    again = columns([c["digest"] for c in full])
    assert [c["digest"] for c in again] == [c["digest"] for c in full]
    assert all(c["x"] is c["y"] is c["rows"] is None for c in again)
    assert TrailEntry.objects.count() == 1


def test_a_miniature_of_any_state_carries_marks_alone(people: dict[str, Client], here: str) -> None:
    scene = send(people["viewer"], "post", f"{here}/scene", {"entry": 1, "miniature": True}).json()
    assert scene["readings"] == scene["handles"] == scene["faces"] == [] and scene["width"] < 100
    assert send(people["viewer"], "post", f"{here}/scene", {"entry": 7}).status_code == 422


@pytest.mark.parametrize("file_format", ["svg", "pdf", "png"])
def test_the_export_and_the_command_line_give_the_same_bytes(
    file_format: str, people: dict[str, Client], here: str, comparison: Comparison, tmp_path: Path
) -> None:
    recipe, table, out = tmp_path / "r.json", tmp_path / "t.csv", tmp_path / f"f.{file_format}"
    recipe.write_bytes(people["owner"].get(f"/api/{here}/export/recipe").content)
    table.write_bytes(b"".join(comparison.table.raw.pieces()))
    run("draw", recipe, "--table", table, "--out", out, check=True)
    exported = people["owner"].get(f"/api/{here}/export/{file_format}").content
    assert len(exported) > 1000 and exported == out.read_bytes()
    assert json.loads(recipe.read_bytes())["style"]["typeface"] == "Lato"


def test_other_exports_are_refused(people: dict[str, Client], here: str) -> None:
    assert people["owner"].get(f"/api/{here}/export/exe").status_code == 422
    assert people["owner"].get(f"/api/{here}/export/png?dpi=lots").status_code == 422
    assert people["owner"].get(f"/api/{here}/export/svg?entry=9").status_code == 422


def test_recipes_of_before_are_read_after_the_change(comparison: Comparison) -> None:
    entry = comparison.head_entry
    old = {**Differences().model_dump(mode="json"), "reduced": "median", "control": [5.2, 0.3]}
    for key in ("repeats", "drawn"):
        old.pop(key)
    entry.recipe = entry.recipe | {"differences": old}
    entry.save()
    module = import_module("server.comparisons.migrations.0004_differences_renamed")
    module.renamed(apps, None)
    result = recipe_at(comparison.head_entry).differences
    assert result is not None and result.repeats == "median" and result.control is not None
    assert result.control.target == ControlTarget(mean=5.2, sd=0.3)


def test_a_long_trail_is_paged_and_costs_the_same(
    people: dict[str, Client], comparison: Comparison, django_assert_max_num_queries
) -> None:
    first = TrailEntry.objects.get(comparison=comparison)
    told = {"recipe": first.recipe, "table": first.table, "by": "owner"}
    TrailEntry.objects.bulk_create(
        TrailEntry(comparison=comparison, number=n, parent=n - 1, words=f"state {n}", **told) for n in range(2, 1_001)
    )
    Comparison.objects.update(head=1_000, revision=1_000)
    path = f"/api/comparisons/{comparison.pk}"
    with django_assert_max_num_queries(25):
        state = people["owner"].get(path).json()
    assert [entry["number"] for entry in state["trail"]] == list(range(801, 1_001)) and state["earlier"]
    assert (state["undo"], state["redo"]) == (999, None)
    page = people["owner"].get(f"{path}/states?before=201").json()
    assert [entry["number"] for entry in page["states"]] == list(range(1, 201)) and not page["earlier"]


def test_a_list_of_studies_asks_the_same_number_of_questions_whatever_it_holds(
    people: dict[str, Client], comparison: Comparison, django_assert_num_queries
) -> None:
    people["owner"].get("/api/studies")
    with CaptureQueriesContext(connection) as few:
        people["owner"].get("/api/studies")
    for number in range(5):
        study = make_study(f"S{number}", Person.objects.get(username="owner"))
        Comparison.objects.bulk_create(Comparison(study=study, table=comparison.table, name=str(i)) for i in range(20))
    with django_assert_num_queries(len(few)):
        cards = people["owner"].get("/api/studies").json()
    assert isinstance(cards, list), cards
    assert [len(card["comparisons"]) for card in cards] == [6] * 5 + [1]


def test_a_state_of_another_release_opens_with_the_last_that_can_be_read(
    people: dict[str, Client], comparison: Comparison
) -> None:
    owner, here = people["owner"], f"comparisons/{comparison.pk}"
    shown = owner.get(f"/api/{here}").json()
    recipe = shown["recipe"] | {"words": shown["recipe"]["words"] | {"title": "Second"}}
    send(owner, "post", f"{here}/trail", {"revision": shown["revision"], "recipe": recipe})
    TrailEntry.objects.filter(comparison=comparison, number=2).update(recipe=recipe | {"echelle": 9})
    state = owner.get(f"/api/{here}").json()
    assert "newer release" in state["unreadable"] and state["head"] == 2
    assert state["recipe"]["words"]["title"] == shown["recipe"]["words"]["title"]
    TrailEntry.objects.filter(comparison=comparison).update(recipe={"echelle": 9})
    assert owner.get(f"/api/{here}").json()["recipe"]["measure"]["columns"] == ["level"]


def test_who_got_no_answer_may_send_the_same_again(people: dict[str, Client], comparison: Comparison) -> None:
    owner, here = people["owner"], f"comparisons/{comparison.pk}"
    shown = owner.get(f"/api/{here}").json()
    recipe = shown["recipe"] | {"words": shown["recipe"]["words"] | {"title": "Once"}}
    for _ in range(2):
        answer = send(owner, "post", f"{here}/trail", {"revision": shown["revision"], "recipe": recipe})
        assert answer.status_code == 200, answer.content
    assert TrailEntry.objects.filter(comparison=comparison).count() == 2
