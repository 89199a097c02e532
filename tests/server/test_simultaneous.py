"""Many at once: the database settles who was first, and nobody's work is lost."""

from __future__ import annotations

import os
from collections import Counter
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest
from django.db import connections
from django.test import Client

from server.accounts.models import Person
from server.comparisons.models import Comparison, TrailEntry
from server.studies.models import Membership, Study
from server.tables.models import DataTable
from tests.support.uploads import bring, send

EDITORS = int(os.environ.get("EDITORS", "8"))
pytestmark = pytest.mark.django_db(transaction=True)


def at_once(works: list[Callable[[], Any]]) -> list[Any]:
    """All of them together, each with a connection of its own."""

    def one(work: Callable[[], Any]) -> Any:
        try:
            return work()
        finally:
            connections.close_all()

    with ThreadPoolExecutor(len(works)) as pool:
        return list(pool.map(one, works))


def test_equal_uploads_are_one_table(people: dict[str, Client], study: Study) -> None:
    answers = at_once([lambda: bring(people["owner"], "a,b\nx,1.5\ny,2\n", study=str(study.pk)).json() for _ in range(4)])
    assert DataTable.objects.count() == 1 and {answer["table"] for answer in answers} == {str(DataTable.objects.get().pk)}
    assert sorted(answer["same"] for answer in answers) == [False, True, True, True]


def test_one_file_replaces_a_table(people: dict[str, Client], comparison: Comparison) -> None:
    older = str(comparison.table_id)

    def replace(i: int) -> Callable[[], int]:
        return lambda: bring(people["owner"], f"who,ward,level\nx,A,{i}.5\ny,B,2\n", replaces=older).status_code

    codes = Counter(at_once([replace(i) for i in range(4)]))
    assert codes == {200: 1, 422: 3} and DataTable.objects.filter(replaces=older).count() == 1


def test_a_study_keeps_an_owner_whoever_takes_whom_out(people: dict[str, Client], study: Study) -> None:
    Membership.objects.filter(person__username="editor").update(role="owner")
    path = f"studies/{study.pk}/people"
    states = {member["username"]: member["state"] for member in people["owner"].get(f"/api/{path}").json()}

    def takes_out(by: str, whom: str) -> Callable[[], int]:
        return lambda: send(people[by], "put", path, {"username": whom, "role": None, "state": states[whom]}).status_code

    assert sorted(at_once([takes_out("owner", "editor"), takes_out("editor", "owner")])) in ([200, 403], [200, 404])
    assert Membership.objects.filter(study=study, role="owner").count() == 1


def test_of_two_who_change_one_role_the_second_sees_the_first(people: dict[str, Client], study: Study) -> None:
    Membership.objects.filter(person__username="editor").update(role="owner")
    path = f"studies/{study.pk}/people"
    seen = {member["username"]: member["state"] for member in people["owner"].get(f"/api/{path}").json()}["viewer"]

    def sets(by: str, role: str) -> Callable[[], int]:
        return lambda: send(people[by], "put", path, {"username": "viewer", "role": role, "state": seen}).status_code

    assert sorted(at_once([sets("owner", "reader"), sets("editor", "editor")])) == [200, 409]
    stale = send(people["owner"], "put", path, {"username": "viewer", "role": None})
    assert stale.status_code == 409 and stale.json()["where"] == "viewer"
    assert Membership.objects.get(study=study, person__username="viewer").role in ("reader", "editor")


def test_of_two_who_change_a_team_or_its_role_the_second_sees_the_first(people: dict[str, Client], study: Study) -> None:
    [team] = send(people["owner"], "post", "teams", {"name": "Day", "people": []}).json()
    kept = {"name": "Day", "state": team["state"]}

    def fills(person: str) -> Callable[[], int]:
        return lambda: send(people["owner"], "put", f"teams/{team['id']}", kept | {"people": [person]}).status_code

    assert sorted(at_once([fills("viewer"), fills("stranger")])) == [200, 409]

    def lets_in(role: str) -> Callable[[], int]:
        wanted = {"team": team["id"], "role": role}
        return lambda: send(people["owner"], "put", f"studies/{study.pk}/teams", wanted).status_code

    assert sorted(at_once([lets_in("reader"), lets_in("editor")])) == [200, 409]


def test_guides_of_two_people_both_stay(people: dict[str, Client], study: Study) -> None:
    path = f"studies/{study.pk}/guides"

    def keeps(by: str) -> Callable[[], None]:
        def work() -> None:
            while True:
                shown = people[by].get(f"/api/{path}").json()
                guides = [*shown["guides"], {"name": by, "guides": [{"at": 3.0}]}]
                if send(people[by], "put", path, {"revision": shown["revision"], "guides": guides}).status_code == 200:
                    return

        return work

    at_once([keeps("owner"), keeps("editor")])
    study.refresh_from_db()
    assert [kept["name"] for kept in study.guides] == ["editor", "owner"]


def test_no_update_of_many_editors_is_lost(people: dict[str, Client], comparison: Comparison) -> None:
    here = f"comparisons/{comparison.pk}"
    clients = []
    for number in range(EDITORS):
        person = Person.objects.create(username=f"editor {number}")
        Membership.objects.create(study=comparison.study, person=person, role="editor")
        clients.append(Client())
        clients[-1].force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    shown = people["owner"].get(f"/api/{here}").json()

    def edits(number: int) -> Callable[[], int]:
        recipe = shown["recipe"] | {"words": shown["recipe"]["words"] | {"title": f"of editor {number}"}}
        body = {"revision": shown["revision"], "recipe": recipe}
        return lambda: send(clients[number], "post", f"{here}/trail", body).status_code

    codes = Counter(at_once([edits(number) for number in range(EDITORS)]))
    assert codes == {200: 1, 409: EDITORS - 1}
    kept = TrailEntry.objects.filter(comparison=comparison).exclude(number=1)
    assert {entry.recipe["words"]["title"] for entry in kept} == {f"of editor {number}" for number in range(EDITORS)}
    assert sorted(kept.values_list("number", flat=True)) == list(range(2, EDITORS + 2))
