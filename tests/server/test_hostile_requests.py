"""Requests of the schema's shape with hostile places: each gets an answer of its own, never a server error."""

from __future__ import annotations

import os
from typing import cast

import pytest
from django.db import OperationalError
from django.http import HttpResponse
from django.test import Client

from server.api.limits import FIGURES, Rate
from server.comparisons.models import Comparison, Remark
from server.file_jobs.models import FileJob
from server.folios.models import Folio
from server.shares.models import Share
from server.studies.models import Study, Team
from server.tables.models import ReadingJob
from tests.support.schema_requests import NESTED, RequestMaker
from tests.support.uploads import bring, send

REQUESTS = int(os.environ.get("REQUESTS", "400"))


@pytest.fixture
def maker(people: dict[str, Client], comparison: Comparison) -> RequestMaker:
    owner, at = people["owner"], f"comparisons/{comparison.pk}"
    state = owner.get(f"/api/{at}").json()
    folio = Folio.objects.create(study=comparison.study, name="Trial")
    job = FileJob.objects.create(
        study=comparison.study, person_id=owner.session["_auth_user_id"], asked={"what": "report", "folio": str(folio.pk)}
    )
    ids = {
        "study_id": str(comparison.study_id), "comparison_id": str(comparison.pk), "job_id": str(ReadingJob.objects.get().pk),
        "kind": "note", "table_id": str(comparison.table_id), "layer": "box", "file_format": "csv", "folio_id": str(folio.pk),
        "file_job_id": str(job.pk), "share_id": str(Share.objects.create(study=comparison.study, comparison=comparison).pk),
        "team_id": str(Team.objects.create(name="T", keeper_id=owner.session["_auth_user_id"]).pk),
        "remark_id": str(Remark.objects.create(comparison=comparison, state=1, text="why?", by="owner").pk),
    }  # fmt: skip
    known = {"Recipe": state["recipe"], "Style": state["style"]}
    return RequestMaker(int(os.environ.get("SEED", "1")), ids, known)


@pytest.mark.django_db(transaction=True)
def test_requests_of_the_schema_are_never_server_errors(
    people: dict[str, Client], maker: RequestMaker, monkeypatch: pytest.MonkeyPatch
) -> None:
    # One client asks more often here than any person may.
    monkeypatch.setattr("server.api.views.PERSON", Rate(10**9))
    client = people["owner"]
    client.raise_request_exception = False
    wrong = []
    for request in maker.requests(REQUESTS):
        if request.method == "delete":
            continue
        answer = cast(
            HttpResponse, client.generic(request.method.upper(), request.path, request.body, content_type=request.type)
        )
        if answer.streaming:
            list(answer.streaming_content)  # type: ignore[attr-defined]
        elif answer.status_code >= 500 or (answer.status_code >= 400 and not answer.json().get("what")):
            wrong.append((answer.status_code, request.method, request.path[:200], request.body[:400], answer.content[:200]))
    assert not wrong, wrong[0]


@pytest.mark.parametrize(
    "body", [NESTED, '{"name": ' + NESTED + "}", '{"name": "a\\u0000"}', '{"name": "\\ud800"}', '{"\\u0000": 1}']
)
def test_what_cannot_be_stored_is_named_by_its_path(people: dict[str, Client], body: str) -> None:
    answer = people["owner"].post("/api/studies", body, content_type="application/json")
    assert answer.status_code == 400 and answer.json()["what"] and answer.json()["where"].startswith("$"), answer.content


def test_a_body_that_is_too_large_says_so(people: dict[str, Client]) -> None:
    answer = send(people["owner"], "post", "studies", {"name": "x" * 5_000_000})
    assert answer.status_code == 413 and "4 MB" in answer.json()["what"], answer.content


@pytest.mark.parametrize("kind", ["application/x-www-form-urlencoded", "multipart/form-data; boundary=x"])
@pytest.mark.parametrize("path", ["studies", "uploads?new_study=x"])
def test_a_form_where_none_is_due_is_refused(people: dict[str, Client], kind: str, path: str) -> None:
    client = people["owner"]
    client.raise_request_exception = False
    answer = client.generic("POST", f"/api/{path}", b"a=%00&b=2", content_type=kind)
    assert answer.status_code == 415 and answer.json()["what"]


@pytest.mark.parametrize("name", ["\x00", "x" * 255, "x" * 100_000, "\ud800"])
def test_any_name_may_be_tried_at_sign_in(db, name: str) -> None:
    client = Client(raise_request_exception=False)
    data = f"username={''.join(f'%{b:02X}' for b in name.encode('utf-8', 'surrogatepass'))}&password=x"
    assert client.post("/sign-in", data, content_type="application/x-www-form-urlencoded").status_code in (200, 400)


@pytest.mark.parametrize("name", ["", "\x00", "\x00.csv", "x" * 5_000, "../../x.csv"])
def test_any_name_of_a_file_is_taken_or_refused(people: dict[str, Client], name: str) -> None:
    client = people["owner"]
    client.raise_request_exception = False
    assert bring(client, "a,b\n1,2\n", new_study="x", name=name).status_code in (200, 400)


def test_who_asks_too_often_waits_and_others_do_not(
    people: dict[str, Client], study: Study, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("server.api.views.PERSON", Rate(3))
    assert [people["owner"].get("/api/studies").status_code for _ in range(4)] == [200, 200, 200, 503]
    assert people["editor"].get("/api/studies").status_code == 200


def test_figures_in_work_leave_the_rest_alone(
    people: dict[str, Client], comparison: Comparison, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("server.api.limits.WAIT_SECONDS", 0.05)
    with FIGURES.turn(), FIGURES.turn(), FIGURES.turn():
        drawn = send(people["owner"], "post", f"comparisons/{comparison.pk}/scene", {})
        assert drawn.status_code == 503 and "try again" in drawn.json()["remedy"]
        assert people["owner"].get(f"/api/comparisons/{comparison.pk}").status_code == 200
    assert send(people["owner"], "post", f"comparisons/{comparison.pk}/scene", {}).status_code == 200


def test_a_full_disk_keeps_nothing_new_and_reads_on(people: dict[str, Client], comparison: Comparison, monkeypatch) -> None:
    here = f"comparisons/{comparison.pk}"
    shown = people["owner"].get(f"/api/{here}").json()
    monkeypatch.setattr("server.api.room.LEAST_FREE", 10**18)
    refused = send(people["owner"], "post", f"{here}/trail", {"revision": shown["revision"], "recipe": shown["recipe"]})
    assert refused.status_code == 507 and "disk" in refused.json()["what"]
    assert bring(people["owner"], "a,b\n1,2\n", new_study="x").status_code == 507
    assert send(people["owner"], "post", f"{here}/scene", {"recipe": shown["recipe"]}).status_code == 200
    assert people["owner"].get(f"/api/{here}/export/svg").status_code == 200


@pytest.mark.django_db(transaction=True)
def test_a_database_that_is_away_is_said_on_pages_and_to_the_page(people: dict[str, Client], study: Study, monkeypatch) -> None:
    def away(*_: object, **__: object) -> None:
        raise OperationalError("secret words of the database")

    client = people["owner"]
    client.raise_request_exception = False
    for place in (
        "server.home.cards.Membership.objects.filter",
        "django.contrib.sessions.backends.db.SessionStore.load",
    ):
        monkeypatch.setattr(place, away)
        answer = client.get("/api/studies")
        assert answer.status_code == 503 and "away" in answer.json()["what"] and b"secret" not in answer.content
    page = client.get("/")
    assert page.status_code == 503 and b"tries again by itself" in page.content
