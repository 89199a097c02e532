"""Teams: people who come into studies and leave them together, beside those who were let in themselves."""

from __future__ import annotations

import pytest
from django.http import HttpResponse
from django.test import Client

from server.accounts.models import Person
from server.records.models import RecordLine
from server.studies.models import Membership, Study, Team, make_study
from tests.support.uploads import send

People = dict[str, Client]


def team_of(client: Client, name: str, *people: str) -> str:
    answer = send(client, "post", "teams", {"name": name, "people": list(people)})
    assert answer.status_code == 200, answer.content
    return str(next(team["id"] for team in answer.json() if team["name"] == name))


def let_in(client: Client, study: Study, team: str, role: str | None, **given: bool) -> int:
    path = f"studies/{study.pk}/teams"
    shown = client.get(f"/api/{path}")
    states = {held["id"]: held["state"] for held in shown.json()} if shown.status_code == 200 else {}
    wanted = {"team": team, "role": role, "state": states.get(team, ""), **given}
    return int(send(client, "put", path, wanted).status_code)


def change(client: Client, team: str, name: str, *people: str) -> HttpResponse:
    [state] = [held["state"] for held in client.get("/api/teams").json() if held["id"] == team]
    return send(client, "put", f"teams/{team}", {"name": name, "people": list(people), "state": state})


def set_person(client: Client, study: Study, person: str, role: str | None) -> HttpResponse:
    path = f"studies/{study.pk}/people"
    states = {member["username"]: member["state"] for member in client.get(f"/api/{path}").json()}
    return send(client, "put", path, {"username": person, "role": role, "state": states.get(person, "")})


def people_in(study: Study) -> dict[str, tuple[str, bool, str]]:
    rows = Membership.objects.filter(study=study).select_related("person", "team")
    return {row.person.username: (row.role, row.may_sign, row.team.name if row.team else "") for row in rows}


THEMSELVES = {"owner": ("owner", False, ""), "editor": ("editor", False, ""), "viewer": ("viewer", False, "")}


@pytest.fixture
def mira(db) -> Person:
    return Person.objects.create(username="mira", first_name="Mira")


def test_the_people_of_a_team_come_change_and_go_together(people: People, study: Study, mira: Person) -> None:
    owner = people["owner"]
    team = team_of(owner, "Day shift", "stranger", "mira", "viewer")
    assert let_in(owner, study, team, "reader", may_sign=True) == 200
    with_team = ("reader", True, "Day shift")
    # Who was let in themselves keeps their own role.
    assert people_in(study) == THEMSELVES | {"stranger": with_team, "mira": with_team}
    assert people["stranger"].get(f"/api/studies/{study.pk}").status_code == 200
    [told] = people["viewer"].get(f"/api/studies/{study.pk}/teams").json()
    assert (told["name"], told["role"], told["keeper"], told["people"]) == (
        "Day shift",
        "reader",
        "owner",
        ["Mira", "stranger", "viewer"],
    )
    assert change(owner, team, "Late shift", "mira").json()[0]["people"] == ["mira"]
    assert people_in(study) == THEMSELVES | {"mira": ("reader", True, "Late shift")}
    assert people["stranger"].get(f"/api/studies/{study.pk}").status_code == 404
    assert let_in(owner, study, team, "editor") == 200 and people_in(study)["mira"][:2] == ("editor", False)
    assert let_in(owner, study, team, None) == 200 and people_in(study) == THEMSELVES
    lines = RecordLine.objects.filter(study=study.pk).values_list("what", "person")
    came, went = [("came in", "stranger"), ("came in", "mira")], [("went out", "stranger"), ("went out", "mira")]
    asked = [("team role set", "owner"), ("team changed", "owner"), ("team role set", "owner"), ("team role set", "owner")]
    assert sorted(lines) == sorted([*asked, *came, *went])


def test_of_two_teams_the_role_that_may_most_counts_until_it_ends(people: People, study: Study, mira: Person) -> None:
    owner = people["owner"]
    readers, editors = team_of(owner, "Readers", "mira"), team_of(owner, "Editors", "mira", "stranger")
    assert let_in(owner, study, readers, "reader", may_sign=True) == let_in(owner, study, editors, "editor") == 200
    assert people_in(study)["mira"] == ("editor", True, "Editors")
    assert send(owner, "delete", f"teams/{editors}").status_code == 204
    assert people_in(study) == THEMSELVES | {"mira": ("reader", True, "Readers")}


def test_one_in_with_a_team_gets_a_role_of_their_own_and_falls_back(people: People, study: Study, mira: Person) -> None:
    owner = people["owner"]
    assert let_in(owner, study, team_of(owner, "Readers", "mira"), "reader") == 200
    refused = set_person(owner, study, "mira", None)
    assert refused.status_code == 422 and "Readers" in refused.json()["what"]
    own = set_person(owner, study, "mira", "owner").json()
    assert {member["username"]: member["team"] for member in own}["mira"] == "" and people_in(study)["mira"][0] == "owner"
    assert set_person(owner, study, "mira", None).status_code == 200
    assert people_in(study)["mira"] == ("reader", False, "Readers")
    # Who has a role of their own and is in a team too does not leave by half.
    team_of(owner, "Editors", "editor")
    assert let_in(owner, study, str(Team.objects.get(name="Editors").pk), "viewer") == 200
    assert "Editors" in send(people["editor"], "delete", f"studies/{study.pk}/people/me").json()["what"]


def test_who_works_no_more_stays_in_a_team_until_its_keeper_says_so(people: People, study: Study, mira: Person) -> None:
    team = team_of(people["owner"], "Readers", "mira", "viewer")
    Person.objects.filter(pk=mira.pk).update(is_active=False)
    kept = change(people["owner"], team, "Readers", "mira", "stranger")
    assert kept.status_code == 200 and kept.json()[0]["people"] == ["mira", "stranger"]
    assert send(people["owner"], "post", "teams", {"name": "Another", "people": ["mira"]}).status_code == 422


def test_a_person_leaves_a_team_and_its_studies(people: People, study: Study) -> None:
    team = team_of(people["owner"], "Readers", "stranger")
    assert let_in(people["owner"], study, team, "reader") == 200
    assert send(people["stranger"], "delete", f"studies/{study.pk}/people/me").status_code == 422
    assert [held["mine"] for held in people["stranger"].get("/api/teams").json()] == [False]
    assert send(people["stranger"], "put", f"teams/{team}", {"name": "x", "people": []}).status_code == 404
    assert send(people["stranger"], "delete", f"teams/{team}").status_code == 404
    assert send(people["stranger"], "delete", f"teams/{team}/people/me").status_code == 204
    assert people_in(study) == THEMSELVES and people["stranger"].get("/api/teams").json() == []


def test_teams_are_let_in_by_owners_who_know_them_and_never_own(people: People, study: Study, mira: Person) -> None:
    other = make_study("Another", Person.objects.get(username="stranger"))
    mine, theirs = team_of(people["owner"], "Mine", "mira"), team_of(people["stranger"], "Theirs", "mira")
    assert let_in(people["owner"], study, theirs, "viewer") == 422, "a team of others is not theirs to let in"
    assert let_in(people["stranger"], other, mine, "viewer") == 422
    assert let_in(people["owner"], study, mine, "owner") == 422
    for name in ("editor", "viewer"):
        assert let_in(people[name], study, mine, "editor") == 403
    assert let_in(people["stranger"], study, theirs, "editor") == 404
    assert people_in(study) == THEMSELVES


def test_names_of_a_team_are_checked_and_guessing_is_slowed(people: People, db) -> None:
    owner = people["owner"]
    for wrong in (
        {"name": " ", "people": []},
        {"name": "T", "people": ["nobody-here"]},
        {"name": "T", "people": [f"p{i}" for i in range(101)]},
    ):
        assert send(owner, "post", "teams", wrong).status_code == 422
    assert not Team.objects.exists()
    for guess in range(12):
        answer = send(owner, "post", "teams", {"name": "T", "people": [f"guess{guess}"]})
    assert "too many names" in answer.json()["what"].lower()
    assert send(owner, "post", "teams", {"name": "T", "people": ["editor"]}).status_code == 422
