"""Links: who may make them, whom they let in, what they never show, and how they end."""

from __future__ import annotations

import json
import re
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone

from server.folios.models import Folio
from server.records.models import RecordLine
from server.shares.models import Share
from server.studies.models import Study
from tests.support.uploads import bring, send

CELLS = "who,ward,level (nmol/L)\n" + "".join(f"P-{i:03d},{'AB'[i % 2]},{i + 0.5}\n" for i in range(30)) + "P-031,A,987.25\n"
SOON = (datetime.now(UTC) + timedelta(days=3)).date().isoformat()


@pytest.fixture
def here(people: dict[str, Client], study: Study) -> str:
    answer = bring(people["owner"], CELLS, study=str(study.pk)).json()
    return f"comparisons/{answer['comparison']}"


def allow(people: dict[str, Client], study: Study, allowed: bool = True) -> Any:
    return send(people["owner"], "put", f"studies/{study.pk}/outside-links", {"allowed": allowed})


def linked(client: Client, path: str, **body: object) -> Any:
    return send(client, "post", f"{path}/shares", body)


def path_of(answer: Any) -> str:
    assert answer.status_code == 200, answer.content
    return str(answer.json()["shares"][-1]["path"])


def test_a_link_inside_lets_people_with_an_account_look(people: dict[str, Client], here: str) -> None:
    path = path_of(linked(people["editor"], here))
    page = people["stranger"].get(path)
    assert page.status_code == 200 and b"Boxes: median" in page.content and b"<svg" in page.content
    sent = people["nobody"].get(path)
    assert sent.status_code == 302 and sent["Location"].startswith("/sign-in?next=/shared/")
    assert people["stranger"].get(f"/api/{here}").status_code == 404


def test_links_without_an_account_are_off_until_allowed(people: dict[str, Client], study: Study, here: str) -> None:
    refused = linked(people["owner"], here, outside=True, ends=SOON)
    assert refused.status_code == 422 and "owner" in refused.json()["remedy"]
    assert send(people["editor"], "put", f"studies/{study.pk}/outside-links", {"allowed": True}).status_code == 403
    assert allow(people, study).status_code == 200
    assert linked(people["editor"], here, outside=True).status_code == 422
    assert linked(people["editor"], here, outside=True, ends="2019-01-01").status_code == 422
    assert linked(people["editor"], here, outside=True, ends="2199-01-01").status_code == 422
    assert linked(people["viewer"], here).status_code == 403 and linked(people["stranger"], here).status_code == 404
    path = path_of(linked(people["editor"], here, outside=True, ends=SOON))
    assert people["nobody"].get(path).status_code == 200
    allow(people, study, allowed=False)
    assert people["nobody"].get(path).status_code == 404
    lines = RecordLine.objects.filter(study=study.pk, what__startswith="link").order_by("number")
    said = [(line.person, line.what) for line in lines]
    assert said == [
        ("owner", "links allowed"), ("editor", "link made"), ("", "link opened"), ("owner", "links forbidden"),
    ]  # fmt: skip


def test_a_link_ends_is_taken_back_and_cannot_be_forged(people: dict[str, Client], study: Study, here: str) -> None:
    allow(people, study)
    path = path_of(linked(people["owner"], here, outside=True, ends=SOON))
    share = Share.objects.get()
    for forged in (path[:-1], path + "x", f"/shared/{share.pk.hex}", f"/shared/{share.pk.hex}~x"):
        assert people["nobody"].get(forged).status_code == 302, forged
        assert people["owner"].get(forged).status_code == 404
    Share.objects.update(ends=timezone.now() - timedelta(seconds=1))
    over = people["nobody"].get(path)
    assert over.status_code == 404 and b"This link is closed" in over.content and b"levels" not in over.content
    Share.objects.update(ends=timezone.now() + timedelta(days=1))
    assert people["nobody"].get(path).status_code == 200
    assert people["stranger"].delete(f"/api/shares/{share.pk}").status_code == 404
    assert people["viewer"].delete(f"/api/shares/{share.pk}").status_code == 403
    assert people["editor"].delete(f"/api/shares/{share.pk}").status_code == 204
    assert people["nobody"].get(path).status_code == people["nobody"].get(f"{path}/pdf").status_code == 404
    assert people["owner"].get(f"/api/{here}/shares").json()["shares"] == []


def leaving_out(people: dict[str, Client], here: str) -> None:
    """Leave the highest row out, and name points by who they are."""
    now = people["owner"].get(f"/api/{here}").json()
    scene = send(people["owner"], "post", f"{here}/scene", {}).json()
    row = next(entry["row"] for lane in scene["readings"] for entry in lane["outliers"])
    recipe = send(people["owner"], "post", f"{here}/left-out", {"recipe": now["recipe"], "row": row, "reason": "spilt"}).json()
    points = {"layer": "points", "id": "p1", "named": [1, 2, 3], "names": "who"}
    recipe["layers"].append(points)
    answer = send(people["owner"], "post", f"{here}/trail", {"revision": now["revision"], "recipe": recipe})
    assert answer.status_code == 200, answer.content


def test_neither_rows_nor_who_they_are_leave_by_a_link_or_to_a_viewer(people: dict[str, Client], here: str) -> None:
    leaving_out(people, here)
    owners = send(people["owner"], "post", f"{here}/scene", {}).json()
    assert "row 31: spilt" in owners["note"] and "P-0" in str(owners["parts"])
    page = people["stranger"].get(path_of(linked(people["owner"], here)))
    viewed = send(people["viewer"], "post", f"{here}/scene", {"recipe": people["viewer"].get(f"/api/{here}").json()["recipe"]})
    for told in (page.content.decode(), viewed.content.decode()):
        assert "1 row left out (spilt)" in told
        assert "row 31" not in told and not re.search(r"P-0\d\d", told)
    state = people["viewer"].get(f"/api/{here}").json()
    assert [entry["row"] for entry in state["recipe"]["left_out"]] == [0]
    forms = send(people["viewer"], "post", f"{here}/forms", {"recipe": state["recipe"]}).json()
    assert state["recipe"]["layers"][-1]["named"] == []
    assert {entry["row"] for form in forms for entry in form["recipe"]["left_out"]} == {0}


def test_the_page_is_guarded_and_its_files_are_whole(people: dict[str, Client], study: Study, here: str) -> None:
    allow(people, study)
    path = path_of(linked(people["owner"], here, outside=True, ends=SOON))
    page = people["nobody"].get(path)
    assert "script" not in page["Content-Security-Policy"] and "default-src 'none'" in page["Content-Security-Policy"]
    assert page["Referrer-Policy"] == "no-referrer" and "noindex" in page["X-Robots-Tag"]
    assert people["nobody"].get(f"{path}/pdf").content.startswith(b"%PDF")
    assert people["nobody"].get(f"{path}/svg").content.startswith(b"<?xml")
    assert people["nobody"].get(f"{path}/rows").status_code == 404
    assert people["nobody"].post(path).status_code == 405


def test_a_folio_is_shared_as_its_pages(people: dict[str, Client], study: Study, here: str) -> None:
    folio = Folio.objects.create(study=study, name="Plate 1", figures=[here.split("/")[1]])
    path = path_of(linked(people["owner"], f"folios/{folio.pk}"))
    page = people["stranger"].get(path).content.decode()
    assert "Plate 1" in page and page.count("<svg") == 1
    assert people["stranger"].get(f"{path}/pdf").content.startswith(b"%PDF")
    Folio.objects.update(figures=[])
    assert "holds no figure" in people["stranger"].get(path).content.decode()


def test_a_viewer_is_told_how_many_rows_break_a_rule_but_not_which(people: dict[str, Client], here: str) -> None:
    recipe = people["owner"].get(f"/api/{here}").json()["recipe"]
    recipe["differences"] = {"control": {"target": "own"}}

    def hits(name: str) -> list[list[int]]:
        answer = send(people[name], "post", f"{here}/differences", {"recipe": recipe})
        lines = b"".join(answer.streaming_content).splitlines()
        return [hit["rows"] for hit in json.loads(lines[-1])["found"]["control"]["hits"]]

    assert [31] in hits("owner")
    assert hits("viewer") == [[0] * len(rows) for rows in hits("owner")]
