"""People, a study, a comparison."""

from __future__ import annotations

import pytest
from django.test import Client

from server.accounts.models import Person
from server.comparisons.models import Comparison
from server.studies.models import Membership, Study, make_study
from tests.support.read_once import read_once  # noqa: F401
from tests.support.uploads import bring

ROLES = ("owner", "editor", "viewer", "stranger")


@pytest.fixture
def people(db) -> dict[str, Client]:
    """A signed-in client for each role, and one that is not signed in."""
    clients = {}
    for name in ROLES:
        client = Client()
        client.force_login(Person.objects.create(username=name), backend="django.contrib.auth.backends.ModelBackend")
        clients[name] = client
    return clients | {"nobody": Client()}


@pytest.fixture
def study(people: dict[str, Client]) -> Study:
    """A study of the owner, with an editor and a viewer."""
    made = make_study("Trial", Person.objects.get(username="owner"))
    for name in ("editor", "viewer"):
        Membership.objects.create(study=made, person=Person.objects.get(username=name), role=name)
    return made


@pytest.fixture
def comparison(people: dict[str, Client], study: Study) -> Comparison:
    """The comparison that a small table begins."""
    cells = "who,ward,level (nmol/L)\n" + "".join(f"P-{i:03d},{'AB'[i % 2]},{i + 0.5}\n" for i in range(20)) + "P-020,A,99.5\n"
    answer = bring(people["owner"], cells, study=str(study.pk))
    assert answer.status_code == 200, answer.content
    return Comparison.objects.get(pk=answer.json()["comparison"])
