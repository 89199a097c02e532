"""Answers in one shape, names kept harmless, studies and comparisons named."""

from __future__ import annotations

import pytest
from django.test import Client
from django.utils.http import parse_header_parameters

from server.comparisons.models import Comparison
from tests.support.uploads import bring, send


@pytest.mark.parametrize(
    ("method", "path", "body"),
    [
        ("post", "studies", {"name": "  "}),
        ("post", "studies", {"title": "x"}),
        ("post", "studies", []),
        ("post", "comparisons/{id}/scene", {"recipe": {"echelle": 2}}),
        ("post", "comparisons/{id}/trail", {"revision": "x"}),
        ("put", "comparisons/{id}/head", {"revision": 1, "entry": 99}),
        ("patch", "comparisons/{id}", {"name": ""}),
        ("put", "studies/{study}/people", {"username": "owner", "role": "king"}),
    ],
)
def test_a_body_that_does_not_fit_is_told_in_one_shape(
    method: str, path: str, body: object, people: dict[str, Client], comparison: Comparison
) -> None:
    answer = send(people["owner"], method, path.format(id=comparison.pk, study=comparison.study_id), body)
    assert answer.status_code == 422 and set(answer.json()) == {"what", "where", "remedy", "mends"} and answer.json()["what"]


def test_text_that_is_no_json(people: dict[str, Client], comparison: Comparison) -> None:
    answer = people["owner"].post(f"/api/comparisons/{comparison.pk}/scene", b"{", content_type="application/json")
    assert answer.status_code == 400 and set(answer.json()) == {"what", "where", "remedy", "mends"}


def test_an_unforeseen_error_says_nothing_of_the_inside(
    people: dict[str, Client], comparison: Comparison, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object) -> None:
        raise RuntimeError("secret detail")

    monkeypatch.setattr("server.comparisons.views.previews.lanes_for", broken)
    answer = send(people["owner"], "post", f"comparisons/{comparison.pk}/scene", {})
    assert answer.status_code == 500 and b"secret" not in answer.content and answer.json()["remedy"]


def test_studies_and_comparisons_have_names(people: dict[str, Client], comparison: Comparison) -> None:
    made = send(people["stranger"], "post", "studies", {"name": "  My   study "}).json()
    assert (made["name"], made["role"], made["comparisons"]) == ("My study", "owner", [])
    answer = send(people["editor"], "patch", f"comparisons/{comparison.pk}", {"name": "Levels by ward"})
    assert answer.json()["name"] == "Levels by ward"
    export = people["owner"].get(f"/api/comparisons/{comparison.pk}/export/recipe")
    assert export["Content-Disposition"] == 'attachment; filename="Levels by ward.recipe.json"'


def test_a_name_cannot_break_out_of_a_header(people: dict[str, Client], comparison: Comparison) -> None:
    send(people["owner"], "patch", f"comparisons/{comparison.pk}", {"name": 'a"; x=\r\nSet-Cookie: y µ/..'})
    export = people["owner"].get(f"/api/comparisons/{comparison.pk}/export/svg")
    header = export["Content-Disposition"]
    assert header.isascii() and header.isprintable()
    assert parse_header_parameters(header) == ("attachment", {"filename": "a__ x= Set-Cookie_ y \u00b5_...svg"})


def test_markup_in_a_table_stays_text(people: dict[str, Client]) -> None:
    cells = "arm,level\n" + "".join(f"<script>alert(1)</script>{'ab'[i % 2]},{i}.5\n" for i in range(20))
    answer = bring(people["owner"], cells, new_study="<b>bold</b>", name="<i>.csv").json()
    svg = people["owner"].get(f"/api/comparisons/{answer['comparison']}/export/svg").content
    assert b"<script" not in svg and b"&lt;script&gt;" in svg
