"""The demo: what its words claim is in its data, and it is made once."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from django.core.management import call_command
from django.test import Client

from server.accounts.models import Person
from server.comparisons.models import Comparison
from server.studies.models import Study
from tests.support.uploads import send


@pytest.fixture
def demo(db: None, settings: Any, tmp_path: Path) -> Client:
    settings.UPLOADS = tmp_path
    for _ in range(2):
        call_command("load_demo")
    client = Client()
    client.force_login(Person.objects.get(username="demo"))
    return client


def scene_of(demo: Client, name: str) -> dict[str, Any]:
    answer = send(demo, "post", f"comparisons/{Comparison.objects.get(name=name).pk}/scene", {})
    assert answer.status_code == 200, answer.content
    return dict(answer.json())


def test_it_is_made_once_and_every_comparison_draws(demo: Client) -> None:
    study = Study.objects.get()
    assert study.datatable_set.count() == 3 and study.comparison_set.count() == 4
    for comparison in study.comparison_set.all():
        scene = scene_of(demo, comparison.name)
        assert scene["readings"] and scene["note"]
        assert not [entry["key"] for entry in scene["advice"] if entry["key"] in ("unwritable", "words/places", "guides")]


def test_waking_cortisol_falls_with_night_work(demo: Client) -> None:
    scene = scene_of(demo, "Waking level by shift")
    medians = [lane["median"] for lane in scene["readings"]]
    assert [lane["group"] for lane in scene["readings"]] == ["Day", "Evening", "Rotating", "Night"]
    assert medians == sorted(medians, reverse=True) and medians[0] > 1.5 * medians[-1]
    counts = scene["counts"]
    assert (counts["rows"], counts["people"], counts["used"], counts["missing"]) == (1448, 181, 356, 6)
    assert counts["missing_by"]["QNS"] == 4


def test_rotating_has_two_peaks_that_nights_in_a_row_explain(demo: Client) -> None:
    comparison = Comparison.objects.get(name="Waking level by shift")
    recipe = demo.get(f"/api/comparisons/{comparison.pk}").json()["recipe"]
    result = send(demo, "post", f"comparisons/{comparison.pk}/advice", {"recipe": recipe}).json()
    [peaks] = [entry for entry in result if entry["key"].startswith("peaks")]
    assert "Rotating has two peaks" in peaks["text"] and "nights in a row" in peaks["why"]


def test_cortisol_rises_after_waking_and_falls_by_bedtime(demo: Client) -> None:
    scene = scene_of(demo, "Cortisol through the day")
    median = {lane["group"]: lane["median"] for lane in scene["readings"]}
    assert median["+30 min"] > median["Waking"] > median["Noon"] > median["Bedtime"]
    assert scene["counts"]["censored"] > 0
    assert all(lane["inside"][0]["name"] == "morning reference" for lane in scene["readings"])
