"""A study as a home: several comparisons at once, the same question of next month's file, notes, the bin, what happened."""

from __future__ import annotations

import io
import zipfile
from datetime import timedelta
from typing import Any

import pytest
from django.core import mail
from django.db.models import Value
from django.db.models.functions import Concat
from django.test import Client
from django.utils import timezone

from server.accounts.models import Person
from server.comparisons.models import Comparison, Remark, Visit
from server.comparisons.services.shelves import empty_bins
from server.file_jobs.models import FileJob
from server.file_jobs.services import run_file_job
from server.folios.models import Folio
from server.studies.models import Membership, Study, make_study
from server.tables.models import DataTable, Preparation, RawFile
from tests.support.uploads import bring, send, sign


def more(client: Client, comparison: Comparison, count: int) -> list[str]:
    table = {"table": str(comparison.table_id)}
    return [str(comparison.pk), *(send(client, "post", "comparisons", table).json()["id"] for _ in range(count))]


def together(client: Client, study: Study, comparisons: list[str], act: str, to: str = "") -> dict[str, Any]:
    answer = send(client, "post", f"studies/{study.pk}/together", {"comparisons": comparisons, "act": act, "to": to})
    assert answer.status_code == 200, answer.content
    return dict(answer.json())


def settle(client: Client, comparison: str, **changed: Any) -> None:
    state = client.get(f"/api/comparisons/{comparison}").json()
    body = {"revision": state["revision"], "recipe": state["recipe"] | changed}
    answer = send(client, "post", f"comparisons/{comparison}/trail", body)
    assert answer.status_code == 200, answer.content


def test_several_are_done_at_once_and_refusals_are_named(
    people: dict[str, Client], comparison: Comparison, study: Study
) -> None:
    owner, ids = people["owner"], more(people["owner"], comparison, 3)
    assert sign(owner, f"comparisons/{ids[1]}").status_code == 200
    done = together(owner, study, [*ids, ids[0]], "bin")
    assert done["done"] == 3 and [entry["comparison"] for entry in done["refused"]] == [ids[1]]
    assert "signed off" in done["refused"][0]["fault"]["what"]
    assert together(owner, study, ids, "open") == {"done": 4, "refused": [], "to": ""}
    assert together(owner, study, ids, "tag", " as  sent ")["done"] == 4
    assert together(owner, study, ids[:1], "tag", "as sent")["done"] == 1
    assert Comparison.objects.get(pk=ids[0]).tags == ["as sent"]
    made = together(owner, study, ids, "folio")
    assert together(owner, study, ids, "folio", made["to"])["done"] == 4
    assert Folio.objects.get(pk=made["to"]).figures == ids
    strange = make_study("Other", Person.objects.get(username="stranger"))
    foreign = together(owner, study, [str(strange.pk)], "archive")
    assert foreign["done"] == 0 and "not in the study" in foreign["refused"][0]["fault"]["what"]
    body = {"comparisons": ids, "act": "copy", "to": str(strange.pk)}
    assert send(owner, "post", f"studies/{study.pk}/together", body).status_code == 404


def test_several_take_newer_data_and_the_newest_style(people: dict[str, Client], comparison: Comparison, study: Study) -> None:
    owner, ids = people["owner"], more(people["owner"], comparison, 2)
    cells = "who,ward,level (nmol/L)\n" + "".join(f"P-{i:03d},{'AB'[i % 2]},{i + 0.5}\n" for i in range(30))
    assert bring(owner, cells, replaces=str(comparison.table_id)).status_code == 200
    assert together(owner, study, ids, "newest data")["done"] == 3
    state = owner.get(f"/api/studies/{study.pk}").json()
    assert [entry["older_data"] for entry in state["comparisons"]] == [False] * 3
    [table] = state["tables"]
    assert [version["rows"] for version in table["earlier"]] == [21] and table["by"] == "owner"
    house = owner.get(f"/api/studies/{study.pk}/house").json()
    house["style"]["typeface"] = "Inter"
    assert send(owner, "put", f"studies/{study.pk}/house", house).status_code == 200
    assert Comparison.objects.filter(kept_style__isnull=True).count() == 0
    assert together(owner, study, ids[:2], "newest style")["done"] == 2
    assert Comparison.objects.filter(kept_style__isnull=True).count() == 2


def test_several_are_exported_as_one_zip(people: dict[str, Client], comparison: Comparison, study: Study) -> None:
    ids = more(people["owner"], comparison, 2)
    asked = {"what": "several", "study": str(study.pk), "comparisons": ids, "kind": "svg"}
    assert send(people["viewer"], "post", "file-jobs", asked | {"kind": "rows"}).status_code == 403
    job = FileJob.objects.get(pk=send(people["viewer"], "post", "file-jobs", asked).json()["id"])
    run_file_job(job)
    job.refresh_from_db()
    assert (job.state, job.name) == ("done", "Trial.zip"), job.fault
    with zipfile.ZipFile(io.BytesIO(job.path.read_bytes())) as made:
        names = sorted(made.namelist())
        assert names == ["level by ward 2.svg", "level by ward.svg", "levels.svg"]
        assert all(b"<svg" in made.read(name) for name in names)


def test_a_comparison_is_copied_into_another_study_with_its_data(
    people: dict[str, Client], comparison: Comparison, study: Study
) -> None:
    owner = people["owner"]
    cells = "ward,floor\nA,1st\nB,2nd\n"
    floors = bring(owner, cells, study=str(study.pk), name="floors.csv").json()["table"]
    reference = next(t for t in owner.get(f"/api/studies/{study.pk}/tables").json() if t["id"] == floors)["reference"]
    step = {"step": "join", "table": reference, "keys": [{"here": "ward", "there": "ward"}]}
    path = f"tables/{comparison.table_id}"
    answer = send(owner, "post", f"{path}/preparation", {"revision": 0, "steps": [step]})
    assert answer.status_code == 200 and answer.json()["outcome"]["stopped"] is None, answer.content
    assert together(owner, study, [str(comparison.pk)], "newest data")["done"] == 1
    settle(owner, str(comparison.pk), groups={"column": "floor"})
    other = make_study("Other", Person.objects.get(username="owner"))
    assert together(owner, study, [str(comparison.pk)], "copy", str(other.pk)) == {
        "done": 1,
        "refused": [],
        "to": str(other.pk),
    }
    assert together(owner, study, [str(comparison.pk)], "copy", str(other.pk))["done"] == 1
    assert sorted(DataTable.objects.filter(study=other).values_list("name", flat=True)) == ["floors.csv", "levels.csv"]
    copies = Comparison.objects.filter(study=other)
    scenes = [send(owner, "post", f"comparisons/{pk}/scene", {}).json() for pk in (comparison.pk, copies[0].pk)]
    assert scenes[0]["readings"] == scenes[1]["readings"] and len(scenes[0]["readings"]) == 2
    assert owner.delete(f"/api/studies/{study.pk}?name=Trial").status_code == 204
    assert send(owner, "post", f"comparisons/{copies[0].pk}/scene", {}).status_code == 200
    assert RawFile.objects.count() == 2


NEXT = "who,Ward,Level (nmol/L)\n" + "".join(f"Q-{i:03d},{'AB'[i % 2]},{i + 0.25}\n" for i in range(12))


def test_next_months_file_is_asked_the_same_question(people: dict[str, Client], comparison: Comparison, study: Study) -> None:
    owner, here = people["owner"], f"comparisons/{comparison.pk}"
    send(owner, "patch", here, {"name": "Levels, as every month"})
    keep = [{"column": "who", "is_not": ["P-003"]}]
    settle(owner, str(comparison.pk), keep=keep, words={"title": "Levels differ"})
    table = bring(owner, NEXT, study=str(study.pk), name="december.csv").json()["table"]
    answer = send(owner, "post", f"{here}/same-question", {"table": table})
    assert answer.status_code == 200, answer.content
    made = owner.get(f"/api/comparisons/{answer.json()['comparison']}").json()
    assert (made["name"], made["table_name"]) == ("Levels, as every month, december.csv", "december.csv")
    assert made["recipe"]["measure"]["columns"] == ["Level"] and made["recipe"]["groups"]["column"] == "Ward"
    assert made["recipe"]["words"]["title"] == "Levels differ"
    assert set(answer.json()["said"]) == {"“level” is “Level” there.", "“ward” is “Ward” there."}
    assert len(made["trail"]) == 1


@pytest.mark.parametrize(
    ("cells", "what"),
    [
        ("who,ward\nA,B\nC,D\n", "no column “level”"),
        ("level (nmol/L)\n1.5\n2.5\n", "no column “ward”"),
        ("ward,level (nmol/L)\nA,high\nB,low\nA,high\n", "holds no numbers"),
    ],
)
def test_a_table_that_cannot_be_asked_is_refused_and_nothing_is_kept(
    people: dict[str, Client], comparison: Comparison, study: Study, cells: str, what: str
) -> None:
    table = bring(people["owner"], cells, study=str(study.pk), name="other.csv").json()["table"]
    before = Comparison.objects.count()
    answer = send(people["owner"], "post", f"comparisons/{comparison.pk}/same-question", {"table": table})
    assert answer.status_code == 422 and what in answer.json()["what"].replace("That", "that")
    assert Comparison.objects.count() == before


def test_remarks_are_said_answered_and_settled(people: dict[str, Client], comparison: Comparison, study: Study) -> None:
    here = f"comparisons/{comparison.pk}"
    [first] = send(people["editor"], "post", f"{here}/remarks", {"text": " is B recalibrated? ", "lane": "B"}).json()
    assert (first["text"], first["lane"], first["by"], first["state"]) == ("is B recalibrated?", "B", "editor", 1)
    [answered] = send(people["owner"], "post", f"{here}/remarks", {"text": "yes", "answers": first["id"]}).json()
    assert [(a["text"], a["lane"]) for a in answered["answers"]] == [("yes", "B")]
    nested = {"text": "no", "answers": answered["answers"][0]["id"]}
    assert send(people["owner"], "post", f"{here}/remarks", nested).status_code == 422
    assert send(people["owner"], "post", f"{here}/remarks", {"text": "  "}).status_code == 422
    assert people["owner"].get(f"/api/{here}").json()["open_remarks"] == 1
    assert people["owner"].get(f"/api/studies/{study.pk}").json()["comparisons"][0]["remarks"] == 1
    [settled] = send(people["editor"], "patch", f"remarks/{first['id']}", {"settled": True}).json()
    assert settled["settled_by"] == "editor" and people["owner"].get(f"/api/{here}").json()["open_remarks"] == 0
    # All of the study in one list: open ones first, then what was settled.
    send(people["editor"], "post", f"{here}/remarks", {"text": "and A?"})
    listed = people["owner"].get(f"/api/studies/{study.pk}/remarks").json()
    assert [(said["text"], bool(said["settled_at"]), len(said["answers"])) for said in listed] == [
        ("and A?", False, 0), ("is B recalibrated?", True, 1),
    ]  # fmt: skip
    assert {said["name"] for said in listed} == {comparison.name}
    assert people["viewer"].get(f"/api/studies/{study.pk}/remarks").status_code == 403
    Remark.objects.filter(text="and A?").delete()
    assert people["viewer"].get(f"/api/{here}").json()["open_remarks"] == 0
    [again] = send(people["owner"], "patch", f"remarks/{first['id']}", {"settled": False}).json()
    assert again["settled_at"] is None


def test_who_else_is_here_and_what_was_open_last(people: dict[str, Client], comparison: Comparison) -> None:
    here = f"/api/comparisons/{comparison.pk}"
    assert people["owner"].get(f"{here}/mark").json()["others"] == []
    people["editor"].get(here)
    people["stranger"].get(here)
    assert people["owner"].get(f"{here}/mark").json()["others"] == ["editor"]
    Visit.objects.update(at=timezone.now() - timedelta(minutes=1))
    assert people["owner"].get(f"{here}/mark").json()["others"] == []
    other = more(people["owner"], comparison, 1)[1]
    people["owner"].get(f"/api/comparisons/{other}")
    assert [entry["id"] for entry in people["owner"].get("/api/recent").json()] == [other, str(comparison.pk)]
    assert send(people["owner"], "put", f"comparisons/{comparison.pk}/pin", {"pinned": True}).json()["pinned"]
    recent = people["owner"].get("/api/recent").json()
    assert [(entry["id"], entry["pinned"]) for entry in recent] == [(str(comparison.pk), True), (other, False)]
    Membership.objects.filter(person__username="editor").delete()
    assert people["editor"].get("/api/recent").json() == []


def test_the_bin_is_emptied_after_its_days(people: dict[str, Client], comparison: Comparison, study: Study) -> None:
    ids = more(people["owner"], comparison, 3)
    assert send(people["editor"], "patch", f"studies/{study.pk}", {"bin_days": 3}).status_code == 403
    assert send(people["owner"], "patch", f"studies/{study.pk}", {"bin_days": 3}).json()["bin_days"] == 3
    together(people["owner"], study, ids, "bin")
    now = timezone.now()
    for pk, hours in zip(ids, (71, 73, 73, 73), strict=True):
        Comparison.objects.filter(pk=pk).update(binned=now - timedelta(hours=hours))
    Comparison.objects.filter(pk=ids[2]).update(locked_at=now)
    Folio.objects.create(study=study, name="Page", figures=[ids[3]])
    assert empty_bins() == 1 and empty_bins() == 0
    assert {str(pk) for pk in Comparison.objects.values_list("pk", flat=True)} == {ids[0], ids[2], ids[3]}


def test_a_study_is_begun_empty_or_like_another_pinned_and_archived(people: dict[str, Client], study: Study) -> None:
    owner = people["owner"]
    Folio.objects.create(study=study, name="Two across", page={"columns": 2}, figures=["x"])
    Study.objects.filter(pk=study.pk).update(guides=[{"name": "limit"}], least_cell=8)
    card = send(owner, "post", "studies", {"name": " Second  trial ", "like": str(study.pk)}).json()
    made = Study.objects.get(pk=card["id"])
    assert (made.name, made.guides, made.least_cell) == ("Second trial", [{"name": "limit"}], 8)
    assert list(made.folio_set.values_list("name", "figures")) == [("Two across", [])]
    assert not made.datatable_set.exists() and card["people"] == ["owner"]
    assert send(people["stranger"], "post", "studies", {"name": "x", "like": str(study.pk)}).status_code == 404
    assert send(owner, "put", f"studies/{study.pk}/pin", {"pinned": True}).status_code == 204
    assert [card["name"] for card in owner.get("/api/studies").json()] == ["Trial", "Second trial"]
    assert [card["pinned"] for card in people["editor"].get("/api/studies").json()] == [False]
    assert send(people["editor"], "patch", f"studies/{study.pk}", {"archived": True}).status_code == 403
    assert send(owner, "patch", f"studies/{study.pk}", {"archived": True}).status_code == 200
    assert [card["archived"] for card in owner.get("/api/studies").json()] == [False, True]


def test_a_study_like_another_prepares_what_fits_as_it_was_prepared_there(
    people: dict[str, Client], comparison: Comparison, study: Study
) -> None:
    owner, path = people["owner"], f"tables/{comparison.table_id}/preparation"
    steps = [
        {"step": "derive", "to": "double", "formula": "level * 2"},
        {"step": "leave out where", "where": {"column": "ward", "is": ["B"]}, "reason": "pilot"},
        {"step": "keep", "where": {"column": "who", "is_not": ["P-003"]}},
    ]
    assert send(owner, "post", path, {"revision": 0, "steps": steps}).status_code == 200
    out = send(owner, "post", f"tables/{comparison.table_id}/left-out", {"revision": 1, "key": 5, "reason": "slip"})
    assert out.status_code == 200, out.content
    like = {"name": "Second", "like": str(study.pk)}
    made = send(owner, "post", "studies", like).json()["id"]
    # Steps of single rows and persons stay where they are; who sees no rows takes over none.
    assert [[step["step"] for step in kept] for kept in Study.objects.get(pk=made).preparations] == [
        ["derive", "leave out where"]
    ]
    assert Study.objects.get(pk=send(people["viewer"], "post", "studies", like).json()["id"]).preparations == []
    fits = bring(owner, "ward,level\n" + "A,1.5\nB,2.5\nA,3.5\n" * 9, name="june.csv", study=made).json()
    other = bring(owner, "plate,od\n" + "x,1.5\ny,2.5\n" * 9, name="plates.csv", study=made).json()
    newest = [owner.get(f"/api/tables/{brought['table']}").json()["newest"] for brought in (fits, other)]
    assert newest == [1, 0]
    [kept] = Preparation.objects.filter(table=fits["table"]).values_list("steps", flat=True)
    assert [step["step"] for step in kept] == ["derive", "leave out where"]
    scene = send(owner, "post", f"comparisons/{fits['comparison']}/scene", {}).json()
    assert sum(lane["n"] for lane in scene["readings"]) == 18


def test_tables_go_when_nothing_needs_them(people: dict[str, Client], comparison: Comparison, study: Study) -> None:
    owner, path = people["owner"], f"tables/{comparison.table_id}"
    assert send(owner, "patch", path, {"notes": "from the *ward*"}).status_code == 200
    assert owner.get(f"/api/studies/{study.pk}").json()["tables"][0]["notes"] == "from the *ward*"
    answer = send(owner, "delete", path)
    assert answer.status_code == 422 and "“levels”" in answer.json()["what"]
    assert send(people["viewer"], "delete", path).status_code == 403
    together(owner, study, [str(comparison.pk)], "bin")
    assert send(owner, "delete", f"comparisons/{comparison.pk}", {}).status_code == 204
    assert send(owner, "delete", path).status_code == 204
    assert not DataTable.objects.exists() and not RawFile.objects.exists()


def test_what_happened_is_told_newest_first_and_names_nobody_to_viewers(
    people: dict[str, Client], comparison: Comparison, study: Study
) -> None:
    send(people["editor"], "post", f"comparisons/{comparison.pk}/remarks", {"text": "P-004 fasted?", "lane": "B"})
    settle(people["editor"], str(comparison.pk), words={"title": "P-003 is high"})
    step = {"step": "keep", "where": {"column": "who", "is_not": ["P-003"]}}
    send(people["owner"], "post", f"tables/{comparison.table_id}/preparation", {"revision": 0, "steps": [step]})
    events = people["owner"].get(f"/api/studies/{study.pk}/activity").json()
    assert [event["at"] for event in events] == sorted((event["at"] for event in events), reverse=True)
    words = " | ".join(event["words"] for event in events)
    for said in ("remarked on B: P-004 fasted?", "file brought, 21 rows", "prepared:", "begun"):
        assert said in words, (said, words)
    seen = people["viewer"].get(f"/api/studies/{study.pk}/activity").content.decode()
    assert "P-004" not in seen and "P-003" not in seen and "not shown" in seen


RUN = "day,run,level (nmol/L)\n" + "".join(f"{day},A,{10 + (day % 3) * 0.5}\n" for day in range(1, 25))


def test_what_is_watched_says_what_newer_data_break(
    people: dict[str, Client], study: Study, settings, django_capture_on_commit_callbacks
) -> None:
    owner = people["owner"]
    brought = bring(owner, RUN, study=str(study.pk), name="control.csv").json()
    here = f"comparisons/{brought['comparison']}"
    watched = {"watched": True}
    refused = send(owner, "patch", here, watched)
    assert refused.status_code == 422 and "nothing here to watch" in refused.json()["what"].replace("There", "there")
    control = {"target": {"mean": 10.5, "sd": 0.5}}
    settle(
        owner, brought["comparison"], measure={"columns": ["level"]}, groups={"column": "run"},
        layers=[{"layer": "points", "id": "p1", "spread": "in order"}, {"layer": "control", "id": "c1"}],
        differences={"control": control},
    )  # fmt: skip
    assert send(owner, "patch", here, watched).json()["watched"] is True
    calm = RUN + "25,A,10.5\n"
    newer = bring(owner, calm, replaces=brought["table"]).json()["table"]
    assert owner.get(f"/api/{here}").json()["alarm"] == ""
    # Drawn from the first file still: it is looked at whenever a newer one comes.
    settings.EMAIL_BACKEND = "django.core.mail.backends.locmem.EmailBackend"
    Person.objects.filter(username__in=["editor", "viewer", "stranger"]).update(email=Concat("username", Value("@lab.example")))
    with django_capture_on_commit_callbacks(execute=True):
        assert bring(owner, calm + "26,A,13.5\n", replaces=newer).status_code == 200
    # Told are those who may see rows; a viewer reads of no lane, a stranger of nothing.
    assert [(letter.to, "A breaks 1-3s once more." in letter.body) for letter in mail.outbox] == [
        (["editor@lab.example"], True)
    ]
    assert owner.get(f"/api/{here}").json()["alarm"] == "A breaks 1-3s once more."
    [entry] = owner.get(f"/api/studies/{study.pk}").json()["comparisons"]
    assert entry["alarm"] and entry["older_data"]
    words = [event["words"] for event in owner.get(f"/api/studies/{study.pk}/activity").json()]
    assert "broken: A breaks 1-3s once more." in words
    assert send(owner, "patch", here, watched).json()["alarm"] == "", "it was seen"
