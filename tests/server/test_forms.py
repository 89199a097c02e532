"""Every form of a question in one answer, without rows, for those who may see it."""

from __future__ import annotations

from django.test import Client

from echelle.recipes.forms import FORMS
from echelle.scene.models import PointsPart, Scene
from server.comparisons.models import Comparison
from tests.support.uploads import send


def forms_of(client: Client, comparison: Comparison) -> list[dict[str, object]]:
    recipe = client.get(f"/api/comparisons/{comparison.pk}").json()["recipe"]
    answer = send(client, "post", f"comparisons/{comparison.pk}/forms", {"recipe": recipe})
    assert answer.status_code == 200
    return list(answer.json())


def test_all_forms_come_in_the_order_of_their_keys(people: dict[str, Client], comparison: Comparison) -> None:
    for person in ("owner", "viewer"):
        result = forms_of(people[person], comparison)
        assert [entry["form"] for entry in result] == list(FORMS)
        for entry in result:
            scene = Scene.model_validate(entry["scene"])
            assert scene.form == entry["form"] and scene.handles == [] and scene.readings == []
            points = [part for part in scene.walk() if isinstance(part, PointsPart)]
            assert all(part.columns.rows is None for part in points)
            assert sum(part.columns.count for part in points) <= 1_300


def test_a_form_that_cannot_be_drawn_says_why(people: dict[str, Client], comparison: Comparison) -> None:
    client = people["owner"]
    recipe = client.get(f"/api/comparisons/{comparison.pk}").json()["recipe"]
    recipe["axis"] |= {"from": 9.0, "to": 8.0}
    answer = send(client, "post", f"comparisons/{comparison.pk}/forms", {"recipe": recipe})
    assert answer.status_code == 200
    # Counts have an axis of their own.
    drawn = {entry["form"] for entry in answer.json() if entry["scene"]}
    assert drawn == {"counts"}
    assert all("from 9 to 8" in entry["reason"] for entry in answer.json() if entry["form"] not in drawn)


def test_strangers_see_no_form_and_everyone_the_offers(people: dict[str, Client], comparison: Comparison) -> None:
    recipe = people["owner"].get(f"/api/comparisons/{comparison.pk}").json()["recipe"]
    refused = send(people["stranger"], "post", f"comparisons/{comparison.pk}/forms", {"recipe": recipe})
    assert refused.status_code == 404
    assert Client().get("/api/forms").status_code in (302, 401, 403)
    offers = people["stranger"].get("/api/forms").json()
    assert [entry["form"] for entry in offers["forms"]] == list(FORMS)
    assert {entry["layer"] for entry in offers["layers"]} >= {"box", "density", "bins", "points"}


def test_nothing_is_kept_of_asking(people: dict[str, Client], comparison: Comparison) -> None:
    before = comparison.trailentry_set.count()
    forms_of(people["owner"], comparison)
    comparison.refresh_from_db()
    assert (comparison.trailentry_set.count(), comparison.revision) == (before, comparison.revision)


def test_other_questions_are_drawn_and_are_for_those_who_see_rows(people: dict[str, Client], comparison: Comparison) -> None:
    answer = people["owner"].get(f"/api/comparisons/{comparison.pk}/questions")
    assert answer.status_code == 200 and 1 <= len(answer.json()) <= 5
    first = people["owner"].get(f"/api/comparisons/{comparison.pk}").json()["recipe"]
    for entry in answer.json():
        roles = ("measure", "groups", "subgroups")
        assert Scene.model_validate(entry["scene"]).parts and [entry["recipe"][role] for role in roles] != [
            first[role] for role in roles
        ]
    assert people["viewer"].get(f"/api/comparisons/{comparison.pk}/questions").json() == []
    assert people["stranger"].get(f"/api/comparisons/{comparison.pk}/questions").status_code == 404
