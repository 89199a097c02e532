"""People of a study: invited by a link, let in once, in their roles; leaving; what a reader may and a viewer may not."""

from __future__ import annotations

import re
from datetime import timedelta
from pathlib import Path

import pytest
from django.core.management import CommandError, call_command
from django.test import Client
from django.utils import timezone

from server.accounts.models import OneTimeLink, Person
from server.comparisons.models import Comparison
from server.records.models import RecordLine
from server.studies.models import Invitation, Membership, Study, make_study
from tests.support.uploads import bring, send

NEW = {"username": "mira", "first_name": "Mira", "last_name": "Vale", "password1": "harbour-ridge-valley"}
NEW |= {"password2": NEW["password1"]}


def invite(client: Client, study: Study, **wanted: object) -> str:
    answer = send(client, "post", f"studies/{study.pk}/invitations", {"role": "editor", "words": "the new one", **wanted})
    assert answer.status_code == 200, answer.content
    return str(answer.json()["path"])


def roles(study: Study) -> dict[str, str]:
    return dict(Membership.objects.filter(study=study).values_list("person__username", "role"))


def test_an_invitation_makes_an_account_and_lets_in_once(people: dict[str, Client], study: Study) -> None:
    path = invite(people["owner"], study, may_sign=True)
    assert path.rpartition("/")[2] not in str(Invitation.objects.values())
    client = Client()
    page = client.get(path).content.decode()
    assert "owner invites you to this study as editor" in page and client.get("/api/session").status_code == 401
    assert "username" in client.post(path, NEW | {"password2": "another"}).content.decode()
    assert not Person.objects.filter(username="mira").exists()
    assert client.post(path, NEW)["Location"] == f"/studies/{study.pk}"
    assert client.get("/api/session").json()["name"] == "Mira Vale"
    assert Membership.objects.get(study=study, person__username="mira").may_sign and roles(study)["mira"] == "editor"
    assert Client().post(path, NEW | {"username": "other"}).status_code == 410
    assert not Person.objects.filter(username="other").exists()
    assert RecordLine.objects.filter(study=study.pk, what="came in", person="mira").exists()


def test_who_has_an_account_comes_in_by_a_press_and_keeps_a_role_they_have(people: dict[str, Client], study: Study) -> None:
    path = invite(people["owner"], study, role="reader")
    assert "Come in as stranger" in people["stranger"].get(path).content.decode()
    assert people["stranger"].post(path).status_code == 302 and roles(study)["stranger"] == "reader"
    assert people["owner"].post(invite(people["owner"], study, role="viewer")).status_code == 302
    assert roles(study)["owner"] == "owner"


def test_a_link_of_another_does_not_take_an_account_over(people: dict[str, Client], study: Study) -> None:
    client = Client()
    path = invite(people["owner"], study)
    assert client.post(path, NEW | {"username": "editor"}).status_code == 200
    assert client.get("/api/session").status_code == 401
    assert Person.objects.get(username="editor").has_password is False


def test_invitations_end_are_taken_back_and_are_for_owners(people: dict[str, Client], study: Study) -> None:
    path = invite(people["owner"], study)
    listed = people["owner"].get(f"/api/studies/{study.pk}/invitations").json()
    assert [(entry["words"], entry["path"], entry["by"]) for entry in listed] == [("the new one", "", "owner")]
    Invitation.objects.update(until=timezone.now() - timedelta(seconds=1))
    assert Client().get(path).status_code == 410
    path = invite(people["owner"], study)
    [left] = people["owner"].get(f"/api/studies/{study.pk}/invitations").json()
    for name in ("editor", "viewer"):
        here = f"studies/{study.pk}/invitations"
        assert people[name].get(f"/api/{here}").status_code == 403
        assert send(people[name], "post", here, {"role": "owner"}).status_code == 403
        assert send(people[name], "delete", f"{here}/{left['id']}").status_code == 403
    assert send(people["owner"], "delete", f"studies/{study.pk}/invitations/{left['id']}").status_code == 204
    assert Client().get(path).status_code == 410


def test_an_invitation_goes_by_mail_where_mail_is_set_up(
    people: dict[str, Client], study: Study, settings, tmp_path: Path
) -> None:
    body = {"role": "viewer", "mail": "mira@lab.example"}
    settings.EMAIL_BACKEND, settings.EMAIL_HOST = "django.core.mail.backends.smtp.EmailBackend", ""
    where = f"studies/{study.pk}/invitations"
    assert send(people["owner"], "post", where, body).json()["mailed"] is False
    settings.EMAIL_BACKEND, settings.EMAIL_FILE_PATH = "django.core.mail.backends.filebased.EmailBackend", str(tmp_path)
    answer = send(people["owner"], "post", where, body).json()
    assert answer["mailed"] is True and answer["words"] == "mira@lab.example"
    [mail] = [path.read_text() for path in tmp_path.iterdir()]
    assert f"http://testserver{answer['path']}" in mail and "To: mira@lab.example" in mail
    for wrong in ("no address", "a@b\nBcc: c@d.example", "@"):
        assert send(people["owner"], "post", where, body | {"mail": wrong}).status_code == 422


def test_people_leave_but_the_last_owner_stays(people: dict[str, Client], study: Study) -> None:
    assert send(people["owner"], "delete", f"studies/{study.pk}/people/me").status_code == 422
    assert send(people["editor"], "delete", f"studies/{study.pk}/people/me").status_code == 204
    assert set(roles(study)) == {"owner", "viewer"} and people["editor"].get(f"/api/studies/{study.pk}").status_code == 404


@pytest.mark.parametrize(("role", "sees"), [("reader", True), ("viewer", False)])
def test_a_reader_sees_rows_and_changes_nothing(
    people: dict[str, Client], comparison: Comparison, study: Study, role: str, sees: bool
) -> None:
    Membership.objects.filter(study=study, person__username="viewer").update(role=role)
    client, here, table = people["viewer"], f"comparisons/{comparison.pk}", f"tables/{comparison.table_id}"
    state = client.get(f"/api/{here}").json()
    allowed = 200 if sees else 403
    asked = [
        send(client, "post", f"{table}/rows", {"steps": [], "start": 0, "count": 5}),
        send(client, "post", f"{table}/find", {"steps": [], "text": "P"}),
        send(client, "post", f"{here}/row", {"recipe": state["recipe"], "row": 3}),
        send(client, "post", f"{here}/remarks", {"text": "why?"}),
        client.get(f"/api/{table}/rows/csv"), client.get(f"/api/{here}/export/rows"), client.get(f"/api/{here}/remarks"),
    ]  # fmt: skip
    assert [answer.status_code for answer in asked] == [allowed] * len(asked)
    assert (b"P-003" in asked[0].content) is sees
    change = {"revision": state["revision"], "recipe": state["recipe"], "entry": 1, "name": "mine", "shelf": "bin", "steps": []}
    for method, path in (
        ("post", f"{here}/trail"), ("put", f"{here}/head"), ("patch", here), ("put", f"{here}/shelf"),
        ("post", f"{here}/copies"), ("post", f"{table}/preparation"), ("post", f"{table}/try"), ("patch", table),
        ("patch", f"studies/{study.pk}"), ("post", f"studies/{study.pk}/together"), ("post", f"{here}/same-question"),
    ):  # fmt: skip
        assert send(client, method, path, change).status_code == 403, path


def test_own_name_sessions_and_sign_ins_are_on_the_account_page(people: dict[str, Client], db) -> None:
    person = Person.objects.create_user("mira", password=NEW["password1"])
    here, other = (Client(HTTP_USER_AGENT=f"X11; Linux {name}/1.0") for name in ("Firefox", "Chrome"))
    for client in (here, other):
        assert client.post("/sign-in", {"username": "mira", "password": NEW["password1"]}).status_code == 302
    page = here.get("/account").content.decode()
    assert "Firefox on Linux" in page and "(this one)" in page and page.count("End it") == 1 and "signed in" in page
    number = re.search(r'value="(\d+)" aria-label="End the session in Chrome', page)
    assert number and people["owner"].post("/account", {"end": number[1]}).status_code == 200
    assert other.get("/api/session").status_code == 200, "nobody ends another's"
    assert here.post("/account", {"end": number[1]}).status_code == 200
    assert other.get("/api/session").status_code == 401 and here.get("/api/session").status_code == 200
    for wrong in ("", "x", "9" * 30, "-1"):
        assert here.post("/account", {"end": wrong}).status_code == 200
    own = {"first_name": "Mira", "last_name": "Vale", "email": "mira@lab.example", "decimal_mark": "comma"}
    assert "Others see" not in here.post("/account", own | {"email": "no address"}).content.decode()
    assert "Others see" in here.post("/account", own).content.decode()
    me = here.get("/api/session").json()
    assert (me["name"], me["decimal_mark"]) == ("Mira Vale", "comma")
    # Figures that Echelle proposes to them are written so too; what others began stays as it is.
    table = bring(here, "ward,level\n" + "A,1.5\nB,2.25\n" * 9, name="own.csv", study=str(make_study("Own", person).pk)).json()
    begun = here.get(f"/api/comparisons/{table['comparison']}").json()["recipe"]
    others = here.get(f"/api/comparisons/{table['comparison']}/questions").json()
    assert {recipe["axis"]["decimal_mark"] for recipe in (begun, *(other["recipe"] for other in others))} == {"comma"}
    assert others
    # After all others are ended, and after another password, the list has this one alone.
    for asked in ({"end": "others"}, {"old_password": NEW["password1"], "new_password1": "valley-ridge-harbour"}):
        other.post("/sign-in", {"username": "mira", "password": NEW["password1"]})
        assert here.get("/account").content.decode().count("End it") == 1
        page = here.post("/account", asked | {"new_password2": "valley-ridge-harbour"}).content.decode()
        assert "(this one)" in page and "End it" not in page
        assert other.get("/api/session").status_code == 401
    person.refresh_from_db()
    assert person.check_password("valley-ridge-harbour")


def test_an_account_ends_and_works_again_but_no_study_is_left_alone(people: dict[str, Client], study: Study, capsys) -> None:
    owner, client = Person.objects.get(username="owner"), people["owner"]
    owner.set_password(NEW["password1"])
    owner.save()
    client.post("/sign-in", {"username": "owner", "password": NEW["password1"]})
    invitation = invite(client, study)
    link = OneTimeLink.make(owner, OneTimeLink.Purpose.ENTER)

    def ask(password: str) -> str:
        return str(client.post("/account/deactivate", {"password": password}).content.decode())

    assert "not your password" in ask("another") and "obody else owns “Trial”" in ask(NEW["password1"])
    with pytest.raises(CommandError, match="Trial"):
        call_command("account", "deactivate", "owner")
    Membership.objects.filter(study=study, person__username="editor").update(role="owner")
    assert "You are signed out" in ask(NEW["password1"])
    assert client.get("/api/session").status_code == 401
    assert Client().post("/sign-in", {"username": "owner", "password": NEW["password1"]}).status_code == 200
    for path in (invitation, f"/enter/{link}"):
        assert Client().get(path).status_code == 410
    shown = {member["username"]: member["active"] for member in people["editor"].get(f"/api/studies/{study.pk}/people").json()}
    assert shown == {"owner": False, "editor": True, "viewer": True}
    # Who works no more is no owner that a study could be left to.
    assert send(people["editor"], "delete", f"studies/{study.pk}/people/me").status_code == 422
    for purpose in ([], ["--password"]):
        with pytest.raises(CommandError, match="reactivate owner"):
            call_command("one_time_link", "owner", *purpose)
    call_command("account", "reactivate", "owner")
    assert Client().post("/sign-in", {"username": "owner", "password": NEW["password1"]}).status_code == 302
    assert "works again" in capsys.readouterr().out and roles(study)["owner"] == "owner"
