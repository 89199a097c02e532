"""The row behind a mark: its card, leaving it out and taking it back, for those who may see rows."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from django.test import Client

from server.comparisons.models import Comparison
from tests.support.uploads import send


def recipe_of(client: Client, comparison: Comparison) -> dict[str, Any]:
    return dict(client.get(f"/api/comparisons/{comparison.pk}").json()["recipe"])


def scene_of(client: Client, comparison: Comparison, recipe: dict[str, Any]) -> dict[str, Any]:
    return dict(send(client, "post", f"comparisons/{comparison.pk}/scene", {"recipe": recipe}).json())


def test_the_card_tells_who_a_row_is_and_how_odd(people: dict[str, Client], comparison: Comparison) -> None:
    client = people["owner"]
    recipe = recipe_of(client, comparison)
    scene = scene_of(client, comparison, recipe)
    card = send(client, "post", f"comparisons/{comparison.pk}/row", {"recipe": recipe, "row": 1}).json()
    assert card["row"] == "1" and card["left_out"] == ""
    assert {cell["column"] for cell in card["cells"]} >= {recipe["groups"]["column"]}
    readings = next(r for r, entry in zip(scene["readings"], scene["lanes"], strict=True) if entry["name"] == card["lane"])
    assert card["sds"] == pytest.approx((card["value"] - readings["mean"]) / readings["sd"])
    if readings["iqr"]:
        assert card["iqrs"] == pytest.approx((card["value"] - readings["median"]) / readings["iqr"])


def test_a_row_left_out_counts_nowhere_and_can_be_taken_back(people: dict[str, Client], comparison: Comparison) -> None:
    client = people["owner"]
    recipe = recipe_of(client, comparison)
    before = sum(r["n"] for r in scene_of(client, comparison, recipe)["readings"])
    body = {"recipe": recipe, "row": 1, "reason": "  spilled \n on the bench "}
    without = send(client, "post", f"comparisons/{comparison.pk}/left-out", body).json()
    [entry] = without["left_out"]
    assert (entry["row"], entry["reason"]) == (1, "spilled on the bench")
    assert entry["sha256"] and entry["fingerprint"] and entry["by"] and entry["at"]
    scene = scene_of(client, comparison, without)
    assert sum(r["n"] for r in scene["readings"]) == before - 1 and scene["counts"]["left_out"] == 1
    assert "spilled on the bench" in scene["note"]
    card = send(client, "post", f"comparisons/{comparison.pk}/row", {"recipe": without, "row": 1}).json()
    assert card["left_out"] == "spilled on the bench" and np.isfinite(card["value"])
    back = send(client, "post", f"comparisons/{comparison.pk}/left-out", {"recipe": without, "row": 1}).json()
    assert back["left_out"] == []


def test_viewers_and_strangers_see_no_row(people: dict[str, Client], comparison: Comparison) -> None:
    recipe = recipe_of(people["owner"], comparison)
    for path in ("row", "left-out"):
        body = {"recipe": recipe, "row": 1, "reason": "x"}
        assert send(people["viewer"], "post", f"comparisons/{comparison.pk}/{path}", body).status_code in (403, 404)
        assert send(people["stranger"], "post", f"comparisons/{comparison.pk}/{path}", body).status_code == 404


@pytest.mark.parametrize("row", [999_999, -1, 0, 5 << 40])
def test_a_row_that_is_not_there_is_said_so(row: int, people: dict[str, Client], comparison: Comparison) -> None:
    body = {"recipe": recipe_of(people["owner"], comparison), "row": row, "reason": "x"}
    for path in ("row", "left-out"):
        answer = send(people["owner"], "post", f"comparisons/{comparison.pk}/{path}", body)
        assert answer.status_code == 422 and "no such row" in answer.json()["what"]
