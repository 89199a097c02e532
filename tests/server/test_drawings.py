"""Figures that take long: drawn by the worker, with their progress, stopped, gone on with; and answers that come in parts."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest
from django.core.management import call_command
from django.test import Client
from django.utils import timezone

from echelle.errors import InputError
from echelle.numbers import intervals
from server.api import limits
from server.comparisons.models import Comparison, Drawing
from server.comparisons.services import drawings, scenes
from server.tables.services import cache
from tests.support.uploads import bring, send
from tests.support.worker import work


@pytest.fixture(autouse=True)
def _long(transactional_db: None, monkeypatch: pytest.MonkeyPatch) -> None:
    """Whatever a layer says that it takes is long; no answer waits for it."""
    monkeypatch.setattr(scenes, "AT_ONCE", 0.0)
    monkeypatch.setattr(drawings, "_PATIENCE", 0.0)
    # However slow the machine is.
    monkeypatch.setattr(drawings, "_FORGOTTEN", timedelta(hours=1))


@pytest.fixture
def costly(people: dict[str, Client], comparison: Comparison) -> dict[str, Any]:
    recipe = people["owner"].get(f"/api/comparisons/{comparison.pk}").json()["recipe"]
    layer = {"layer": "mean", "id": "m", "interval": "bootstrap BCa", "resamples": 20_000}
    return dict(recipe | {"layers": [layer]})


def drawn(client: Client, comparison: Comparison, recipe: dict[str, Any]) -> Any:
    return send(client, "post", f"comparisons/{comparison.pk}/scene", {"recipe": recipe})


def states(client: Client, comparison: Comparison) -> list[dict[str, Any]]:
    return list(client.get(f"/api/comparisons/{comparison.pk}/drawings").json())


def test_what_takes_long_is_drawn_by_the_worker_and_is_the_same(
    people: dict[str, Client], comparison: Comparison, costly: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    waiting = drawn(people["owner"], comparison, costly)
    assert waiting.status_code == 425 and "being drawn" in waiting.json()["what"] and waiting["Retry-After"] == "1"
    [state] = states(people["owner"], comparison)
    assert state["state"] == "waiting" and state["of"] >= 1
    assert drawn(people["owner"], comparison, costly).status_code == 425 and Drawing.objects.count() == 1
    work("counting")
    scene = drawn(people["owner"], comparison, costly)
    assert scene.status_code == 200 and states(people["owner"], comparison)[0]["state"] == "done"
    in_small = {"recipe": costly, "miniature": True}
    small = send(people["owner"], "post", f"comparisons/{comparison.pk}/scene", in_small).json()
    monkeypatch.setattr(scenes, "AT_ONCE", 100.0)
    assert small == send(people["owner"], "post", f"comparisons/{comparison.pk}/scene", in_small).json()
    at_once = drawn(people["owner"], comparison, costly).json()
    assert scene.json() == at_once and at_once["parts"]
    # What takes nothing is drawn at once.
    monkeypatch.setattr(scenes, "AT_ONCE", 0.0)
    assert drawn(people["owner"], comparison, costly | {"layers": [{"layer": "box", "id": "b"}]}).status_code == 200


def test_it_is_kept_as_any_change_and_small_pictures_say_why_they_are_not_there(
    people: dict[str, Client], comparison: Comparison, costly: dict[str, Any]
) -> None:
    owner, here = people["owner"], f"comparisons/{comparison.pk}"
    revision = owner.get(f"/api/{here}").json()["revision"]
    kept = send(owner, "post", f"{here}/trail", {"revision": revision, "recipe": costly})
    assert kept.status_code == 200 and kept.json()["recipe"]["layers"][0]["resamples"] == 20_000
    # What its other layers and its axis refuse is refused at once.
    bent = costly | {"axis": costly["axis"] | {"scale": "log10"}}
    bent["layers"] = [*costly["layers"], {"layer": "bins", "id": "b", "edges": [0.0, 9.0]}]
    refused = send(owner, "post", f"{here}/trail", {"revision": kept.json()["revision"], "recipe": bent})
    assert refused.status_code == 422 and "no place for an edge" in refused.json()["what"]
    small = send(owner, "post", f"{here}/scene", {"miniature": True})
    assert small.status_code == 422 and "some seconds" in small.json()["what"]
    forms = {form["form"]: form for form in send(owner, "post", f"{here}/forms", {"recipe": costly}).json()}
    assert forms["box"]["scene"] and not forms["means"]["scene"] and "when you choose it" in forms["means"]["reason"]


def test_a_viewer_gets_it_without_rows(people: dict[str, Client], comparison: Comparison, costly: dict[str, Any]) -> None:
    points = costly | {"layers": [*costly["layers"], {"layer": "points", "id": "p"}]}
    for name in ("owner", "viewer"):
        assert drawn(people[name], comparison, points).status_code == 425
    assert Drawing.objects.count() == 2
    work("counting")
    owners, viewers = (drawn(people[name], comparison, points) for name in ("owner", "viewer"))
    assert '"rows":"' in owners.content.decode() and '"rows":"' not in viewers.content.decode()
    assert drawn(people["stranger"], comparison, points).status_code == 404


def test_it_is_stopped_and_gone_on_with_by_whoever_asked(
    people: dict[str, Client], comparison: Comparison, costly: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    owner = people["owner"]
    drawn(owner, comparison, costly)
    number = states(owner, comparison)[0]["id"]
    for name in ("editor", "viewer", "stranger"):
        assert send(people[name], "post", f"drawings/{number}/stop", {}).status_code == 404 and not (
            name != "stranger" and states(people[name], comparison)
        )
    # Stopped on the way: the next look finds it out.
    monkeypatch.setattr(drawings, "_LOOK", 0.0)
    steps = drawings.stepwise

    def stopping(step: Any) -> Any:
        send(owner, "post", f"drawings/{number}/stop", {})
        return steps(step)

    monkeypatch.setattr(drawings, "stepwise", stopping)
    drawings.run_drawing(Drawing.objects.get())
    assert states(owner, comparison)[0]["state"] == "stopped" and Drawing.objects.get().scene is None
    answer = drawn(owner, comparison, costly)
    assert answer.status_code == 422 and "stopped" in answer.json()["what"]
    monkeypatch.setattr(drawings, "stepwise", steps)
    # Nobody else's is stopped by that.
    assert drawn(people["editor"], comparison, costly).status_code == 425
    Drawing.objects.exclude(pk=number).delete()
    assert send(owner, "post", f"drawings/{number}/go-on", {}).json()["state"] == "waiting"
    work("counting")
    assert drawn(owner, comparison, costly).status_code == 200
    # What is there is there for all who see the same; advice beside it computes none of it again.
    assert drawn(people["editor"], comparison, costly).status_code == 200 and Drawing.objects.count() == 1
    computed: list[object] = []
    monkeypatch.setattr(intervals, "resampled_sums", lambda *asked: computed.append(asked))
    anew = costly | {"layers": [costly["layers"][0] | {"seed": 7}]}
    advice = send(owner, "post", f"comparisons/{comparison.pk}/advice", {"recipe": anew})
    assert advice.status_code == 200 and not computed


def test_what_nobody_waits_for_any_more_is_not_drawn(
    people: dict[str, Client], comparison: Comparison, costly: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    """A hand that drags leaves many behind; two pages that each wait for their own do not take it from one another."""
    for resamples in (9_000, 9_100, 9_200):
        costly["layers"][0]["resamples"] = resamples
        assert drawn(people["owner"], comparison, costly).status_code == 425
    other = costly | {"layers": [costly["layers"][0] | {"seed": 3}]}
    assert drawn(people["owner"], comparison, other).status_code == 425
    first, second, *awaited = Drawing.objects.order_by("pk")
    Drawing.objects.filter(pk__in=[first.pk, second.pk]).update(asked_at=timezone.now() - drawings._FORGOTTEN)
    work("counting")
    assert {made.pk: made.state for made in Drawing.objects.all()} == {made.pk: "done" for made in awaited}
    assert (
        drawn(people["owner"], comparison, costly).status_code == drawn(people["owner"], comparison, other).status_code == 200
    )
    # Left on the way it is begun anew by whoever asks again.
    costly["layers"][0]["resamples"] = 9_000
    assert drawn(people["owner"], comparison, costly).status_code == 425
    monkeypatch.setattr(drawings, "_LOOK", 0.0)
    steps = drawings.stepwise

    def leaving(step: Any) -> Any:
        Drawing.objects.update(asked_at=timezone.now() - drawings._FORGOTTEN)
        return steps(step)

    monkeypatch.setattr(drawings, "stepwise", leaving)
    drawings.run_drawing(Drawing.objects.get(state="waiting"))
    assert Drawing.objects.count() == 2 and drawn(people["owner"], comparison, costly).status_code == 425


def test_what_cannot_be_drawn_is_refused_with_its_reason_and_a_killed_worker_begins_anew(
    people: dict[str, Client], comparison: Comparison, costly: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    def refuse(*asked: Any) -> Any:
        raise InputError("the sheet has no place for it", remedy="Make it larger.")

    monkeypatch.setattr(drawings, "scene_of_lanes", refuse)
    assert drawn(people["owner"], comparison, costly).status_code == 425
    Drawing.objects.update(state=Drawing.State.DRAWING, done=1)
    call_command("requeue_jobs", "counting")
    assert Drawing.objects.get().state == "waiting" and Drawing.objects.get().done == 0
    work("counting")
    answer = drawn(people["owner"], comparison, costly)
    assert answer.status_code == 422 and answer.json()["remedy"] == "Make it larger."
    assert states(people["owner"], comparison)[0]["state"] == "refused"


def test_measures_and_forms_come_as_far_as_there_is_time(
    people: dict[str, Client], study: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    owner, names = people["owner"], [f"gene {place}" for place in range(7)]
    cells = ",".join(["ward", *names]) + "\n"
    cells += "".join(f"{'AB'[row % 2]}," + ",".join(str(row * 0.5 + place) for place in range(7)) + "\n" for row in range(30))
    here = f"comparisons/{bring(owner, cells, study=str(study.pk)).json()['comparison']}"
    recipe = owner.get(f"/api/{here}").json()["recipe"]
    monkeypatch.setattr(limits, "ANSWER_SECONDS", -1.0)
    loaded: list[int] = []
    load = cache._load
    monkeypatch.setattr(cache, "_columns", cache.Cache(10))
    monkeypatch.setattr(cache, "_load", lambda table, place: (loaded.append(place), load(table, place))[1])
    got: list[str] = []
    while True:
        answer = send(owner, "post", f"{here}/measures", {"recipe": recipe, "start": len(got)}).json()
        assert answer["of"] == 7
        if not answer["measures"]:
            break
        assert len(answer["measures"]) == 1 and answer["measures"][0]["scene"]
        got += [measure["column"] for measure in answer["measures"]]
    asked = {"recipe": recipe, "named": "GENE 5"}
    assert [m["column"] for m in send(owner, "post", f"{here}/measures", asked).json()["measures"]] == ["gene 5"]
    # Of a wide table a figure looks at the columns that it is of.
    assert got == names and sorted(loaded) == list(range(8))
    first, *others = send(owner, "post", f"{here}/forms", {"recipe": recipe}).json()
    assert first["scene"] and not first["later"] and all(form["later"] and form["recipe"] for form in others)
