"""The record of access, signatures, sessions and links: who did what stays known, and nobody acts in another's name."""

from __future__ import annotations

import pytest
from django.core.management import CommandError, call_command
from django.db import DatabaseError, connection, transaction
from django.test import Client

from server.accounts.models import OneTimeLink, Person
from server.comparisons.models import Comparison, TrailEntry
from server.records.models import RecordLine, first_break, record
from server.studies.models import Membership, Study
from server.tables.models import ReadingJob
from tests.support.uploads import PASSWORD, bring, send, sign


def said(study: Study) -> list[tuple[str, str]]:
    return [(line.person, line.what) for line in RecordLine.objects.filter(study=study.pk).order_by("number")]


def test_what_is_read_and_taken_out_is_recorded(people: dict[str, Client], comparison: Comparison) -> None:
    owner, editor, here = people["owner"], people["editor"], f"comparisons/{comparison.pk}"
    recipe = owner.get(f"/api/{here}").json()["recipe"]
    for start in (0, 100):
        send(editor, "post", f"{here}/rows", {"recipe": recipe, "keys": [1], "start": start})
    send(editor, "post", f"{here}/row", {"recipe": recipe, "row": 3})
    people["viewer"].get(f"/api/{here}/export/pdf")
    owner.get(f"/api/tables/{comparison.table_id}/rows/csv")
    role = {"username": "stranger", "role": "viewer"}
    send(owner, "put", f"studies/{comparison.study_id}/people", role)
    assert said(comparison.study) == [
        ("editor", "rows read"), ("editor", "row read"), ("viewer", "exported"), ("owner", "exported"), ("owner", "role set"),
    ]  # fmt: skip
    path = f"/api/studies/{comparison.study_id}/record"
    lines = owner.get(path).json()
    assert [line["number"] for line in lines] == [5, 4, 3, 2, 1] and lines[2]["details"]["kind"] == "pdf"
    assert [line["number"] for line in owner.get(f"{path}?before=3").json()] == [2, 1]
    assert owner.get(f"{path}.csv").content.decode().count("\n") == 7
    assert {people[name].get(path).status_code for name in ("editor", "viewer")} == {403}


def test_no_line_changes_and_a_missing_one_is_missed(db) -> None:
    for number in range(4):
        record("owner", "exported", kind="pdf", number=number)
    for spoil in (lambda: RecordLine.objects.update(person="x"), lambda: RecordLine.objects.all().delete()):
        with pytest.raises(DatabaseError, match="only added"), transaction.atomic():
            spoil()
    call_command("verify_record")
    lines = list(RecordLine.objects.filter(what="exported").order_by("number"))
    assert first_break(lines) is None and first_break([lines[0], *lines[2:]]) == lines[2]
    with connection.cursor() as cursor:
        cursor.execute("ALTER TABLE records_recordline DISABLE TRIGGER record_stays")
        cursor.execute("UPDATE records_recordline SET person = 'nobody' WHERE number = 2")
        cursor.execute("ALTER TABLE records_recordline ENABLE TRIGGER record_stays")
    with pytest.raises(CommandError, match="line 2"):
        call_command("verify_record")


def test_a_signature_is_a_persons_on_the_state_that_was_seen(people: dict[str, Client], comparison: Comparison) -> None:
    owner, editor, here = people["owner"], people["editor"], f"comparisons/{comparison.pk}"
    shown = editor.get(f"/api/{here}").json()
    body = {"reason": "x", "password": "", "revision": shown["revision"], "state": shown["digest"]}
    assert "may not sign" in send(editor, "put", f"{here}/lock", body).json()["what"]
    Membership.objects.filter(person__username="editor").update(may_sign=True)
    assert "you have none" in send(editor, "put", f"{here}/lock", body).json()["what"]
    assert "not your password" in sign(editor, here, password="guess").json()["what"]
    assert sign(editor, here, revision=7).status_code == 409 and sign(editor, here, state="0" * 32).status_code == 409
    recipe = shown["recipe"] | {"words": shown["recipe"]["words"] | {"title": "Changed while the dialog was open"}}
    send(owner, "post", f"{here}/trail", {"revision": shown["revision"], "recipe": recipe})
    assert sign(editor, here, revision=shown["revision"], state=shown["digest"]).status_code == 409
    assert not owner.get(f"/api/{here}").json()["locked"]
    locked = sign(editor, here, meaning="reviewed").json()
    assert locked["locked"].startswith("reviewed by editor, ")
    comparison.refresh_from_db()
    assert (comparison.signer, comparison.locked_state) == (Person.objects.get(username="editor"), locked["digest"])
    lines = said(comparison.study)
    assert ("editor", "signature refused") in lines and lines[-1] == ("editor", "signed off")


def test_what_leaves_is_the_state_that_was_seen(people: dict[str, Client], comparison: Comparison) -> None:
    owner, here = people["owner"], f"comparisons/{comparison.pk}"
    shown = owner.get(f"/api/{here}").json()
    path = f"/api/{here}/export/svg?state={shown['digest']}"
    assert owner.get(path).status_code == 200
    recipe = shown["recipe"] | {"words": shown["recipe"]["words"] | {"title": "Another"}}
    send(owner, "post", f"{here}/trail", {"revision": shown["revision"], "recipe": recipe})
    assert owner.get(path).status_code == 409 and owner.get(f"{path}&entry=1").status_code == 200


def test_a_link_used_or_a_new_password_ends_the_others(db) -> None:
    person = Person.objects.create(username="new")
    first, second, third = (OneTimeLink.make(person, OneTimeLink.Purpose.ENTER) for _ in range(3))
    assert Client().post(f"/enter/{first}").status_code == 302
    assert {Client().get(f"/enter/{secret}").status_code for secret in (first, second, third)} == {410}
    link = OneTimeLink.make(person, OneTimeLink.Purpose.ENTER)
    client, other = Client(), Client()
    for each in (client, other):
        each.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    answer = client.post("/account", {"new_password1": PASSWORD, "new_password2": PASSWORD})
    assert b"is changed" in answer.content and Client().get(f"/enter/{link}").status_code == 410
    assert client.get("/api/session").json()["has_password"] and other.get("/api/session").status_code != 200


def test_other_sessions_are_ended(people: dict[str, Client]) -> None:
    person, other = Person.objects.get(username="owner"), Client()
    other.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    assert other.get("/api/session").status_code == 200
    assert b"are ended" in people["owner"].post("/account", {"end": "others"}).content
    assert people["owner"].get("/api/session").status_code == 200 and other.get("/api/session").status_code != 200


@pytest.mark.django_db
def test_within_a_session_too_guessing_at_the_password_is_slowed(client: Client) -> None:
    person = Person.objects.create_user("mira", password="harbour-ridge-valley")
    client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    new = {"new_password1": "valley-ridge-harbour", "new_password2": "valley-ridge-harbour"}
    for place in range(12):
        # Whichever page asks, the tries are counted together.
        path = "/account/deactivate" if place % 2 else "/account"
        said = client.post(path, new | {"password": f"guess {place}", "old_password": f"guess {place}"}).content.decode()
        assert ("too many wrong passwords" if place >= 10 else "that is not your password") in said.lower(), place
    assert "too many" in client.post("/account/deactivate", {"password": "harbour-ridge-valley"}).content.decode().lower()
    assert Person.objects.get().is_active


def test_six_wrong_passwords_lock_the_name_from_that_address_alone(db) -> None:
    person = Person.objects.create(username="ana")
    person.set_password(PASSWORD)
    person.save()

    def tried(password: str, address: str) -> int:
        return Client(REMOTE_ADDR=address).post("/sign-in", {"username": "ana", "password": password}).status_code

    assert [tried("wrong", "10.0.0.1") for _ in range(6)][-1] == 429
    assert tried(PASSWORD, "10.0.0.1") == 429 and tried(PASSWORD, "10.0.0.2") == 302
    assert RecordLine.objects.filter(what="sign-in failed").count() >= 5


def test_going_on_with_a_session_is_throttled_as_signing_in(db) -> None:
    person = Person.objects.create(username="ana")
    person.set_password(PASSWORD)
    person.save()

    def tried(client: Client, password: str) -> int:
        return send(client, "post", "session/again", {"username": "ana", "password": password}).status_code

    client = Client()
    assert tried(client, PASSWORD) == 200 and client.get("/api/session").json()["username"] == "ana"
    codes = [tried(Client(), "wrong") for _ in range(6)]
    assert codes[:5] == [422] * 5 and codes[5] == 429 and tried(Client(), PASSWORD) == 429


def test_names_of_people_are_not_probed_without_end(people: dict[str, Client], study: Study) -> None:
    path = f"studies/{study.pk}/people"
    tries = [send(people["owner"], "put", path, {"username": f"x{i}", "role": "viewer"}).json()["what"] for i in range(12)]
    assert "nobody here" in tries[9].lower() and "too many" in tries[10].lower()
    assert "too many" in send(people["owner"], "put", path, {"username": "stranger", "role": "viewer"}).json()["what"].lower()


def test_erasing_takes_files_on_their_way_too(
    people: dict[str, Client], study: Study, settings, django_capture_on_commit_callbacks
) -> None:
    settings.JOB_ABOVE_MEGABYTES = 0
    bring(people["owner"], "a,b\nx,1\n", study=str(study.pk))
    job = ReadingJob.objects.get()
    assert job.path.exists()
    with django_capture_on_commit_callbacks(execute=True):
        assert people["owner"].delete(f"/api/studies/{study.pk}?name={study.name}").status_code == 204
    assert not job.path.exists() and not ReadingJob.objects.exists()


def test_what_a_bundle_brings_is_marked_as_foreign(people: dict[str, Client], comparison: Comparison) -> None:
    owner = people["owner"]
    bundle = owner.get(f"/api/comparisons/{comparison.pk}/export/bundle").content
    answer = owner.post(f"/api/studies/{comparison.study_id}/bundles", bundle, content_type="application/octet-stream")
    state = owner.get(f"/api/comparisons/{answer.json()['comparison']}").json()
    assert [entry["foreign"] for entry in state["trail"]] == [True]
    assert not TrailEntry.objects.filter(comparison=comparison, foreign=True).exists()
