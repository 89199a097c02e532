"""Search over everything: what is found, by which words, by whom; typing errors; what changed and what is gone."""

from __future__ import annotations

from typing import Any
from urllib.parse import quote

import pytest
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext

from server.accounts.models import Person
from server.comparisons.models import Comparison
from server.home.models import SearchEntry
from server.home.search import MOST_FOUND
from server.home.signals import keep_all
from server.studies.models import Study, make_study
from tests.support.uploads import bring, send


def found(client: Client, words: str) -> dict[str, Any]:
    answer = client.get(f"/api/search?words={quote(words)}")
    assert answer.status_code == 200, answer.content
    return dict(answer.json())


def names(client: Client, words: str) -> list[tuple[str, str]]:
    return sorted((find["what"], find["name"]) for find in found(client, words)["found"])


LEVELS, TABLE = ("comparison", "levels"), ("table", "levels.csv")


@pytest.mark.parametrize(
    ("words", "expected"),
    [
        ("trial", [("study", "Trial")]),
        ("TRIÁL", [("study", "Trial")]),
        ("levels.csv", [LEVELS, TABLE]),
        ("nmol", [LEVELS, TABLE]),
        ("ward", [LEVELS, TABLE]),
        ("box quartiles", [LEVELS]),
        ("wrad level", [LEVELS, TABLE]),
        ("drwa level", []),
        ("editor", [("study", "Trial")]),
        ("levles", [LEVELS, TABLE]),
        ("tril", [("study", "Trial")]),
        ("zebra", []),
        ("levels zebra", []),
        ("   ", []),
        ("%", []),
        ("_", []),
        ("\\", []),
        ("'; drop table", []),
    ],
)
def test_things_are_found_by_their_words(
    people: dict[str, Client], comparison: Comparison, words: str, expected: list[tuple[str, str]]
) -> None:
    assert names(people["owner"], words) == sorted(expected)


def test_finds_say_what_they_were_found_by(people: dict[str, Client], comparison: Comparison) -> None:
    find = next(find for find in found(people["owner"], "nmol")["found"] if find["what"] == "comparison")
    assert {"what": "column", "text": "level (nmol/L)"} in find["pieces"]
    assert (find["study_name"], find["id"]) == ("Trial", str(comparison.pk))


def test_a_find_follows_what_is_renamed_noted_tagged_settled_and_erased(
    people: dict[str, Client], comparison: Comparison, study: Study
) -> None:
    owner, here = people["owner"], f"comparisons/{comparison.pk}"
    assert (
        send(
            owner, "patch", here, {"name": "Müller’s ward", "notes": "ask **lot 2203** again", "tags": ["submitted"]}
        ).status_code
        == 200
    )
    for words in ("muller", "2203", "submitted", "again lot"):
        assert ("comparison", "Müller’s ward") in names(owner, words), words
    assert names(owner, "2204") == [], "numbers are meant as they are written"
    state = owner.get(f"/api/{here}").json()
    state["recipe"]["words"]["title"] = "Zinc in serum"
    assert send(owner, "post", f"{here}/trail", {"revision": state["revision"], "recipe": state["recipe"]}).status_code == 200
    assert ("comparison", "Müller’s ward") in names(owner, "zinc")
    send(owner, "put", f"{here}/shelf", {"shelf": "bin"})
    assert send(owner, "delete", here, {}).status_code == 204
    assert names(owner, "zinc") == [] and not SearchEntry.objects.filter(pk=comparison.pk).exists()
    assert owner.delete(f"/api/studies/{study.pk}?name=Trial").status_code == 204
    assert not SearchEntry.objects.exists()


def test_nobody_finds_what_is_not_theirs_and_viewers_no_rows(people: dict[str, Client], comparison: Comparison) -> None:
    send(people["owner"], "patch", f"comparisons/{comparison.pk}", {"name": "P-003 alone", "notes": "P-007 was ill"})
    for words in ("trial", "level", "P-003", "owner"):
        assert found(people["stranger"], words) == {"found": [], "more": False}
    assert names(people["editor"], "P-007") == [("comparison", "P-003 alone")]
    assert names(people["viewer"], "P-007") == names(people["viewer"], "P-003") == []
    seen = str(found(people["viewer"], "nmol")) + people["viewer"].get(f"/api/studies/{comparison.study_id}").content.decode()
    seen += people["viewer"].get("/api/studies").content.decode()
    people["viewer"].get(f"/api/comparisons/{comparison.pk}")
    seen += people["viewer"].get("/api/recent").content.decode()
    assert "not shown alone" in seen and "P-003" not in seen and "P-007" not in seen
    assert people["nobody"].get("/api/search?words=level").status_code == 401


def test_levels_are_found_by_those_who_see_rows(people: dict[str, Client], study: Study) -> None:
    cells = "arm,dose\n" + "".join(f"{['placebo', 'verum'][i % 2]},{i + 0.5}\n" for i in range(20))
    assert bring(people["owner"], cells, study=str(study.pk), name="arms.csv").status_code == 200
    assert ("table", "arms.csv") in names(people["owner"], "placebo")
    assert ("table", "arms.csv") in names(people["owner"], "plazebo")
    assert names(people["viewer"], "placebo") == []


def test_many_finds_are_cut_and_said_to_be(people: dict[str, Client], comparison: Comparison) -> None:
    for _ in range(MOST_FOUND):
        send(people["owner"], "post", "comparisons", {"table": str(comparison.table_id)})
    with CaptureQueriesContext(connection) as asked:
        result = found(people["owner"], "level")
    assert len(result["found"]) == MOST_FOUND and result["more"]
    assert len(asked) < 15


def test_a_store_of_an_earlier_release_is_searched_too(people: dict[str, Client], comparison: Comparison, study: Study) -> None:
    SearchEntry.objects.all().delete()
    Comparison.objects.update(form="")
    keep_all(sender=type("App", (), {"name": "server.home"}))
    comparison.refresh_from_db()
    assert SearchEntry.objects.count() == 3 and comparison.form == "box"
    other = make_study("Other", Person.objects.get(username="owner"))
    assert names(people["owner"], "other") == [("study", "Other")] and other.name == "Other"
