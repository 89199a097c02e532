"""Every form of a question in one answer, without rows, for those who may see it."""

from __future__ import annotations

import copy
from typing import Any

import pytest
from django.test import Client

from echelle.errors import InputError
from echelle.recipes.forms import FORMS
from echelle.scene.models import PointsPart, Scene
from server.comparisons.models import Comparison
from server.comparisons.services import drawings
from server.studies.models import Study
from tests.support.uploads import bring, send


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


def state_of(client: Client, comparison: Comparison) -> dict[str, Any]:
    return dict(client.get(f"/api/comparisons/{comparison.pk}").json())


def settled(client: Client, comparison: Comparison, recipe: dict[str, Any]) -> dict[str, Any]:
    body = {"revision": state_of(client, comparison)["revision"], "recipe": recipe}
    answer = send(client, "post", f"comparisons/{comparison.pk}/trail", body)
    assert answer.status_code == 200, answer.content
    return dict(answer.json())


def in_form(client: Client, comparison: Comparison, name: str) -> dict[str, Any]:
    """The shown question in another form: the same by its miniature and when it is chosen; then with its figure."""
    recipe = state_of(client, comparison)["recipe"]
    chosen = send(client, "post", f"comparisons/{comparison.pk}/form/{name}", {"recipe": recipe}).json()
    one = chosen["recipe"]
    assert chosen["scene"] == send(client, "post", f"comparisons/{comparison.pk}/scene", {"recipe": one}).json()
    many = send(client, "post", f"comparisons/{comparison.pk}/forms", {"recipe": recipe}).json()
    assert next(form["recipe"] for form in many if form["form"] == name) == one
    return dict(one)


def test_a_form_chosen_brings_its_figure_as_whoever_asks_may_see_it(
    people: dict[str, Client], comparison: Comparison, monkeypatch: pytest.MonkeyPatch
) -> None:
    recipe = state_of(people["owner"], comparison)["recipe"]
    path = f"comparisons/{comparison.pk}/form/strip"
    own, looked = (send(people[name], "post", path, {"recipe": recipe}).json()["scene"] for name in ("owner", "viewer"))
    points = [part["columns"] for part in leaves(own) if part["part"] == "points"]
    assert points and all(columns["rows"] for columns in points)
    assert all(part["columns"]["rows"] is None for part in leaves(looked) if part["part"] == "points")
    have = [columns["digest"] for columns in points]
    again = send(people["owner"], "post", path, {"recipe": recipe, "have": have}).json()["scene"]
    assert all(part["columns"]["x"] is None for part in leaves(again) if part["part"] == "points")
    # What cannot be drawn is no reason to hold the recipe back: the figure is asked for by itself, and refused with its reason.
    monkeypatch.setattr(drawings, "scene_of_lanes", refused)
    assert send(people["owner"], "post", path, {"recipe": recipe}).json()["scene"] is None
    assert send(people["stranger"], "post", path, {"recipe": recipe}).status_code == 404


def refused(*asked: Any) -> Scene:
    raise InputError("no place")


def leaves(scene: dict[str, Any]) -> list[dict[str, Any]]:
    parts = list(scene["parts"])
    for part in parts:
        parts += part.get("parts", [])
    return parts


def test_a_form_comes_back_as_it_was_left(people: dict[str, Client], comparison: Comparison) -> None:
    owner = people["owner"]
    begun = state_of(owner, comparison)["recipe"]
    box = copy.deepcopy(begun)
    box["layers"][0] |= {"width": 0.7, "quantile_type": 6, "fence": {"rule": "median and MAD", "k": 3.5, "of": "values"}}
    settled(owner, comparison, box)
    violin = in_form(owner, comparison, "violin")
    violin["layers"][0]["width"] = 0.5
    settled(owner, comparison, violin)
    settled(owner, comparison, in_form(owner, comparison, "histogram"))
    assert in_form(owner, comparison, "box")["layers"] == box["layers"]
    assert in_form(owner, comparison, "violin")["layers"] == violin["layers"]
    # What another form decided meanwhile holds.
    cloud = in_form(owner, comparison, "raincloud")
    next(layer for layer in cloud["layers"] if layer["layer"] == "box")["quantile_type"] = 2
    settled(owner, comparison, cloud)
    assert in_form(owner, comparison, "box")["layers"] == [
        box["layers"][0] | {"quantile_type": 2, "fence": begun["layers"][0]["fence"]}
    ]


def test_what_was_undone_and_other_measures_units_do_not_come_back(people: dict[str, Client], comparison: Comparison) -> None:
    owner = people["owner"]
    box = copy.deepcopy(state_of(owner, comparison)["recipe"])
    box["layers"][0]["width"] = 0.7
    kept = settled(owner, comparison, box)
    send(owner, "put", f"comparisons/{comparison.pk}/head", {"revision": kept["revision"], "entry": 1})
    settled(owner, comparison, in_form(owner, comparison, "violin"))
    assert in_form(owner, comparison, "box")["layers"][0]["width"] != 0.7


def test_edges_of_one_measure_do_not_come_back_for_another(people: dict[str, Client], study: Study) -> None:
    owner = people["owner"]
    cells = "ward,level (nmol/l),age (years)\n" + "".join(f"{'AB'[i % 2]},{i + 0.5},{20 + i}\n" for i in range(40))
    comparison = Comparison.objects.get(pk=bring(owner, cells, study=str(study.pk)).json()["comparison"])
    bins = in_form(owner, comparison, "histogram")
    bins["measure"]["columns"] = ["level"]
    next(layer for layer in bins["layers"] if layer["layer"] == "bins")["edges"] = [0.0, 5.0, 10.0]
    settled(owner, comparison, bins)
    other = in_form(owner, comparison, "box")
    settled(owner, comparison, other)
    assert in_form(owner, comparison, "histogram")["layers"] == bins["layers"]
    settled(owner, comparison, other | {"measure": other["measure"] | {"columns": ["age"]}})
    assert in_form(owner, comparison, "histogram")["layers"][0]["edges"] is None
