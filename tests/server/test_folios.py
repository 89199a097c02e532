"""Folios of a study: who may see and change them, what stands on them, how they go out."""

from __future__ import annotations

import io
from typing import Any

import pypdf
import pytest
from django.test import Client

from server.comparisons.models import Comparison
from server.folios.models import Folio
from server.studies.models import Study
from tests.support.uploads import send


@pytest.fixture
def folio(people: dict[str, Client], study: Study, comparison: Comparison) -> dict[str, Any]:
    made = send(people["owner"], "post", "folios", {"study": str(study.pk), "name": "Figure 2"}).json()
    body = {"revision": 0, "name": "Figure 2", "page": made["page"] | {"columns": 1}, "figures": [str(comparison.pk)]}
    return dict(send(people["editor"], "put", f"folios/{made['id']}", body).json())


def body_of(folio: dict[str, Any], **change: Any) -> dict[str, Any]:
    figures = [figure["comparison"] for figure in folio["figures"]]
    return {"revision": folio["revision"], "name": folio["name"], "page": folio["page"], "figures": figures} | change


def test_all_of_the_study_see_it_and_those_who_change_change_it(people: dict[str, Client], folio: dict[str, Any]) -> None:
    path = f"folios/{folio['id']}"
    assert [figure["name"] for figure in people["viewer"].get(f"/api/{path}").json()["figures"]] == ["levels"]
    assert send(people["viewer"], "put", path, body_of(folio)).status_code == 403
    assert people["viewer"].delete(f"/api/{path}").status_code == 403
    for name in ("pages", "export/pdf", ""):
        assert people["stranger"].get(f"/api/{path}/{name}".rstrip("/")).status_code == 404
    cards = people["viewer"].get("/api/studies").json()
    assert [entry["name"] for entry in cards[0]["folios"]] == ["Figure 2"]
    assert people["owner"].delete(f"/api/{path}").status_code == 204 and not Folio.objects.exists()


def test_a_late_save_and_figures_of_others_are_refused(people: dict[str, Client], folio: dict[str, Any]) -> None:
    path = f"folios/{folio['id']}"
    assert send(people["owner"], "put", path, body_of(folio, revision=0)).status_code == 409
    refused = send(people["owner"], "put", path, body_of(folio, figures=["00000000-0000-0000-0000-000000000000"]))
    assert refused.status_code == 422 and "not in its study" in refused.json()["what"]
    assert send(people["owner"], "put", path, body_of(folio, page={"page": "A3"})).status_code == 422


def test_figures_follow_their_comparison_and_no_rows_go_out(
    people: dict[str, Client], folio: dict[str, Any], comparison: Comparison
) -> None:
    owner, path = people["owner"], f"/api/folios/{folio['id']}"
    [page] = people["viewer"].get(f"{path}/pages").json()
    assert "Level in March" not in str(page)
    now = owner.get(f"/api/comparisons/{comparison.pk}").json()
    recipe = now["recipe"] | {"words": now["recipe"]["words"] | {"title": "Level in March"}}
    send(owner, "post", f"comparisons/{comparison.pk}/trail", {"revision": now["revision"], "recipe": recipe})
    [page] = people["viewer"].get(f"{path}/pages").json()
    assert "Level in March" in str(page) and '"rows": null' not in str(page)
    assert all(part.get("columns", {}).get("rows") is None for part in leaves(page["parts"]))
    text = pypdf.PdfReader(io.BytesIO(owner.get(f"{path}/export/pdf").content)).pages[0].extract_text()
    assert "Level in March" in text
    comparison.delete()
    assert owner.get(path).json()["figures"] == []
    assert owner.get(f"{path}/pages").status_code == 422


def leaves(parts: list[dict[str, Any]]) -> list[dict[str, Any]]:
    return [leaf for part in parts for leaf in (leaves(part["parts"]) if part["part"] == "group" else [part])]


@pytest.mark.parametrize(("kind", "begins"), [("svg", b"<?xml"), ("png", b"\x89PNG"), ("tiff", b"II*\x00"), ("pdf", b"%PDF")])
def test_it_goes_out_in_every_format(people: dict[str, Client], folio: dict[str, Any], kind: str, begins: bytes) -> None:
    answer = people["viewer"].get(f"/api/folios/{folio['id']}/export/{kind}?dpi=72")
    assert answer.content.startswith(begins) and f'filename="Figure 2.{kind}"' in answer["Content-Disposition"]
    for query in ("page=2", "page=0", "dpi=much"):
        assert people["viewer"].get(f"/api/folios/{folio['id']}/export/png?{query}").status_code == 422
    assert people["viewer"].get(f"/api/folios/{folio['id']}/export/gif").status_code == 422
