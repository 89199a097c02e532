"""Every address, asked by everyone: strangers get nothing, viewers change nothing and see no rows."""

from __future__ import annotations

import re
import uuid
from datetime import timedelta

import pytest
from django.test import Client
from django.urls import URLPattern, URLResolver, get_resolver
from django.utils import timezone

from server.accounts.models import OneTimeLink, Person
from server.comparisons.models import Comparison, Drawing, Remark
from server.file_jobs.models import FileJob
from server.folios.models import Folio
from server.records.models import RecordLine
from server.shares.models import Share
from server.studies.models import Invitation, Membership, Study, Team
from server.tables.models import Counting, ReadingJob
from tests.support.uploads import bring, send

OPEN_PAGES = {"sign-in", "enter/<str:secret>", "invited/<str:secret>"}
# Signed links are for people without a session: see test_shares.


def addresses(patterns=None, prefix: str = "") -> list[str]:
    """Every path of the server."""
    result = []
    for entry in patterns or get_resolver().url_patterns:
        if isinstance(entry, URLResolver):
            result += addresses(entry.url_patterns, prefix + str(entry.pattern))
        elif isinstance(entry, URLPattern):
            result.append(prefix + str(entry.pattern))
    return result


def filled(path: str, ids: dict[str, str]) -> str:
    return "/" + re.sub(r"<\w+:(\w+)>", lambda m: ids[m[1]], path)


def _outgoing(comparison: Comparison) -> FileJob:
    asked = {"what": "report", "folio": str(uuid.uuid4())}
    return FileJob.objects.create(study=comparison.study, person=Person.objects.get(username="owner"), asked=asked)


def _invitation(comparison: Comparison) -> uuid.UUID:
    by, until = Person.objects.get(username="owner"), timezone.now() + timedelta(days=1)
    return Invitation.objects.create(study=comparison.study, role="editor", by=by, digest="x", until=until).pk


def _drawing(comparison: Comparison) -> int:
    by = Person.objects.get(username="owner")
    return Drawing.objects.create(comparison=comparison, table_id=comparison.table_id, person=by, digest="x", asked={}, of=3).pk


@pytest.fixture
def ids(comparison: Comparison) -> dict[str, str]:
    job = ReadingJob.objects.get()
    return {
        "study_id": str(comparison.study_id), "comparison_id": str(comparison.pk), "job_id": str(job.pk), "kind": "svg",
        "table_id": str(comparison.table_id), "secret": "x", "number": "1", "layer": "box", "form": "box", "file_format": "csv",
        "token": "x", "file_job_id": str(_outgoing(comparison).pk),
        "share_id": str(Share.objects.create(study=comparison.study, comparison=comparison).pk),
        "remark_id": str(Remark.objects.create(comparison=comparison, state=1, text="Trial nmol", by="owner").pk),
        "invitation_id": str(_invitation(comparison)),
        "team_id": str(Team.objects.create(name="Trial", keeper=Person.objects.get(username="owner")).pk),
        "counting_id": str(Counting.objects.create(table_id=comparison.table_id, question="x", asked={}, of=1).pk),
        "drawing_id": str(_drawing(comparison)),
        "folio_id": str(Folio.objects.create(study=comparison.study, name="Trial").pk),
    }  # fmt: skip


def test_every_page_but_sign_in_needs_a_session(people: dict[str, Client], ids: dict[str, str]) -> None:
    asked = 0
    for path in addresses():
        if path in OPEN_PAGES:
            continue
        address = "/" if path.startswith("^") else filled(path, ids)
        for method in ("get", "post", "put", "patch", "delete"):
            status = getattr(people["nobody"], method)(address).status_code
            assert status in (302, 401, 403, 405, 415), (method, address, status)
            asked += 1
    assert asked > 50


def test_a_stranger_is_told_nothing(people: dict[str, Client], ids: dict[str, str]) -> None:
    asked = 0
    for path in addresses():
        if "_id>" not in path:
            continue
        for method in ("get", "post", "put", "patch", "delete"):
            answer = send(people["stranger"], method, filled(path, ids).removeprefix("/api/"), {})
            assert answer.status_code in (403, 404, 405), (method, path, answer.status_code)
            assert b"Trial" not in answer.content and b"nmol" not in answer.content
            asked += 1
    assert asked > 30
    assert people["stranger"].get("/api/studies").json() == []
    assert bring(people["stranger"], "a,b\nx,1.5\n", study=ids["study_id"]).status_code == 404
    assert bring(people["stranger"], "a,b\nx,1.5\n", replaces=ids["table_id"]).status_code == 404
    assert send(people["stranger"], "post", "comparisons", {"table": ids["table_id"]}).status_code == 404
    assert Comparison.objects.count() == 1


def test_a_viewer_looks_but_changes_nothing(people: dict[str, Client], comparison: Comparison) -> None:
    viewer, here = people["viewer"], f"comparisons/{comparison.pk}"
    state = viewer.get(f"/api/{here}").json()
    body = {"revision": state["revision"], "recipe": state["recipe"], "entry": 1}
    assert send(viewer, "post", f"{here}/trail", body).status_code == 403
    assert send(viewer, "put", f"{here}/head", body).status_code == 403
    assert send(viewer, "patch", here, {"name": "mine"}).status_code == 403
    assert bring(viewer, "a,b\nx,1.5\n", study=str(comparison.study_id)).status_code == 403
    assert bring(viewer, "a,b\nx,1.5\n", replaces=str(comparison.table_id)).status_code == 403
    table = f"tables/{comparison.table_id}"
    window = {"steps": [], "start": 0, "count": 5}
    for path, body in (
        ("preparation", {"revision": 0, "steps": []}), ("try", {"steps": []}), ("rows", window), ("read", {}),
        ("find", {"steps": [], "text": "P"}), ("left-out", {"revision": 0, "key": 1, "reason": "x"}),
    ):  # fmt: skip
        assert send(viewer, "post", f"{table}/{path}", body).status_code == 403, path
    assert viewer.get(f"/api/{table}/rows/csv").status_code == 403
    seen = viewer.get(f"/api/{table}").json()
    assert seen["remarks"] == [] and "P-000" not in str(seen)
    assert send(viewer, "post", "comparisons", {"table": str(comparison.table_id)}).status_code == 403
    assert viewer.delete(f"/api/studies/{comparison.study_id}").status_code == 403
    assert viewer.get(f"/api/{here}/export/pdf").status_code == 200
    comparison.refresh_from_db()
    assert comparison.revision == 1 and comparison.name == "levels"


def test_a_viewer_sees_no_row_ids(people: dict[str, Client], comparison: Comparison) -> None:
    def rows(name: str) -> tuple[list[object], list[object]]:
        scene = send(people[name], "post", f"comparisons/{comparison.pk}/scene", {}).json()
        outliers = [o["row"] for readings in scene["readings"] for o in readings["outliers"]]
        return outliers, re.findall(r'"rows": "', str(scene).replace("'", '"'))

    assert rows("owner")[0] == [21] and rows("owner")[1]
    assert rows("viewer") == ([None], [])


def test_owners_let_people_in_and_the_last_owner_stays(people: dict[str, Client], study: Study) -> None:
    path = f"studies/{study.pk}/people"
    assert send(people["editor"], "put", path, {"username": "stranger", "role": "viewer"}).status_code == 403
    told = send(people["owner"], "put", path, {"username": "stranger", "role": "viewer"})
    assert told.status_code == 200
    state = {member["username"]: member["state"] for member in told.json()}
    assert [s["name"] for s in people["stranger"].get("/api/studies").json()] == ["Trial"]
    gone = {"username": "owner", "role": "editor", "state": state["owner"]}
    assert send(people["owner"], "put", path, gone).status_code == 422
    assert send(people["owner"], "put", path, {"username": "nobody-here", "role": "editor"}).status_code == 422
    out = {"username": "stranger", "role": None, "state": state["stranger"]}
    assert send(people["owner"], "put", path, out).status_code == 200
    assert Membership.objects.get(study=study, person__username="owner").role == "owner"
    assert people["stranger"].get("/api/studies").json() == []


def test_changes_need_the_csrf_token(people: dict[str, Client], study: Study) -> None:
    careful = Client(enforce_csrf_checks=True)
    careful.force_login(Person.objects.get(username="owner"), backend="django.contrib.auth.backends.ModelBackend")
    answer = bring(careful, "a,b\nx,1.5\n", study=str(study.pk))
    assert answer.status_code == 403 and "older than your sign-in" in answer.json()["what"]
    assert "Reload" in answer.json()["remedy"]


def test_pages_carry_a_strict_policy_and_answers_are_not_stored(people: dict[str, Client], comparison: Comparison) -> None:
    page = people["owner"].get("/")
    policy = page["Content-Security-Policy"]
    assert "default-src 'none'" in policy and "unsafe" not in policy and "frame-ancestors 'none'" in policy
    nonce = re.search(r"style-src 'self' 'nonce-([^']+)'", policy)
    assert nonce and f'content="{nonce[1]}"' in page.content.decode()
    assert people["owner"].get(f"/api/comparisons/{comparison.pk}")["Cache-Control"] == "private, no-store"
    export = people["owner"].get(f"/api/comparisons/{comparison.pk}/export/svg")
    assert "sandbox" in export["Content-Security-Policy"] and export["X-Content-Type-Options"] == "nosniff"
    assert export["Content-Disposition"] == 'attachment; filename="levels.svg"'


def test_a_one_time_link_works_once_and_only_by_a_post(people: dict[str, Client]) -> None:
    person = Person.objects.get(username="owner")
    secret = OneTimeLink.make(person, OneTimeLink.Purpose.ENTER)
    assert secret not in str(OneTimeLink.objects.values())
    client = Client()
    assert client.get(f"/enter/{secret}").status_code == 200 and client.get("/api/session").status_code == 401
    assert client.post(f"/enter/{secret}").status_code == 302 and client.get("/api/session").json()["name"] == "owner"
    assert Client().post(f"/enter/{secret}").status_code == 410
    assert client.post("/sign-out").status_code == 302 and client.get("/api/session").status_code == 401


def test_a_password_link_sets_a_password_which_signs_in(people: dict[str, Client]) -> None:
    secret = OneTimeLink.make(Person.objects.get(username="owner"), OneTimeLink.Purpose.PASSWORD)
    client, word = Client(), "harbour-ridge-valley"
    assert client.post(f"/enter/{secret}", {"new_password1": "short", "new_password2": "short"}).status_code == 200
    assert client.post(f"/enter/{secret}", {"new_password1": word, "new_password2": word}).status_code == 302
    other = Client()
    assert other.post("/sign-in", {"username": "owner", "password": word}).status_code == 302
    assert other.get("/api/session").status_code == 200


def test_guessing_passwords_is_stopped(people: dict[str, Client]) -> None:
    person = Person.objects.get(username="owner")
    person.set_password("harbour-ridge-valley")
    person.save()
    client = Client()
    said = [client.post("/sign-in", {"username": "owner", "password": f"guess {i}"}).status_code for i in range(8)]
    assert said[0] == 200 and said[-1] == 429
    assert client.post("/sign-in", {"username": "owner", "password": "harbour-ridge-valley"}).status_code == 429


def test_an_address_that_is_not_there(people: dict[str, Client], study: Study) -> None:
    answer = people["owner"].get(f"/api/comparisons/{uuid.uuid4()}")
    assert answer.status_code == 404 and set(answer.json()) == {"what", "where", "remedy", "mends"}
    assert bring(people["owner"], "a,b\nx,1.5\n", study="not-an-id").status_code == 404


def test_erasing_a_study_leaves_one_line(people: dict[str, Client], comparison: Comparison) -> None:
    from server.tables.models import RawPiece, StoredColumn

    here = f"studies/{comparison.study_id}"
    assert people["owner"].delete(f"/api/{here}?name=Tria").status_code == 422
    assert people["owner"].delete(f"/api/{here}?name=%20Trial%20").status_code == 204
    assert not any(model.objects.exists() for model in (Study, Comparison, RawPiece, StoredColumn, ReadingJob))
    erased = RecordLine.objects.get(what="erased")
    assert (erased.person, erased.study) == ("owner", comparison.study_id)
