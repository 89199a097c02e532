"""Files that the worker makes: batches, reports of folios, large exports; who gets them, how they stop and fail."""

from __future__ import annotations

import io
import zipfile
from datetime import timedelta
from typing import Any

import pypdf
import pytest
from django.conf import settings
from django.core.management import call_command
from django.test import Client
from django.utils import timezone

from echelle.folios.models import FolioPage
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of
from echelle.scene.models import Scene
from echelle.tables.table import Table
from server.comparisons.models import Comparison
from server.file_jobs.models import FileJob
from server.file_jobs.services import run_file_job as make
from server.folios.models import Folio
from server.studies.models import Membership, Study
from tests.support.uploads import bring, send, sign
from tests.support.worker import work

CELLS = "who,ward,arm,level (nmol/L),weight (kg)\n" + "".join(
    f"P-{i:03d},{'AB/'[i % 3]},{'xy'[i % 2]},{i - 0.5},{70 + i * 0.25}\n" for i in range(40)
)


@pytest.fixture
def comparison(transactional_db, people: dict[str, Client], study: Study, settings, tmp_path) -> Comparison:
    settings.FILE_JOBS = tmp_path / "outgoing"
    answer = bring(people["owner"], CELLS, study=str(study.pk)).json()
    now = people["owner"].get(f"/api/comparisons/{answer['comparison']}").json()
    groups = {**now["recipe"]["groups"], "column": "arm", "order": []} if now["recipe"]["groups"] else {"column": "arm"}
    recipe = now["recipe"] | {"groups": groups, "measure": {"columns": ["level"]}}
    done = send(people["owner"], "post", f"comparisons/{now['id']}/trail", {"revision": now["revision"], "recipe": recipe})
    assert done.status_code == 200, done.content
    return Comparison.objects.get()


def asked(client: Client, **body: Any) -> str:
    answer = send(client, "post", "file-jobs", body)
    assert answer.status_code == 200, answer.content
    assert answer.json()["state"] == "waiting"
    return f"file-jobs/{answer.json()['id']}"


def fetched(client: Client, path: str) -> bytes:
    work("file-jobs")
    state = client.get(f"/api/{path}").json()
    assert state["state"] == "done", state
    return bytes(client.get(f"/api/{path}/file").content)


def test_a_batch_is_one_pdf_or_a_zip_with_a_picture_for_each_level(people: dict[str, Client], comparison: Comparison) -> None:
    owner, of = people["owner"], {"what": "batch", "comparison": str(comparison.pk), "each": "ward"}
    pages = pypdf.PdfReader(io.BytesIO(fetched(owner, asked(owner, **of))))
    assert [("A" in p.extract_text(), round(float(p.mediabox.width))) for p in pages.pages] == [
        (True, 340),
        (False, 340),
        (False, 340),
    ]
    path = asked(owner, **of, file_format="png", width="85mm", dpi=72, measures=[])
    with zipfile.ZipFile(io.BytesIO(fetched(owner, path))) as archive:
        names = archive.namelist()
        assert names == ["level A.png", "level B.png", "level _.png", "weight A.png", "weight B.png", "weight _.png"]
        assert archive.read("level A.png") != archive.read("level B.png")
    state = owner.get(f"/api/{path}").json()
    assert (state["done"], state["of"], state["name"]) == (6, 6, f"{comparison.name}.zip")


def test_what_a_batch_cannot_draw_is_named(people: dict[str, Client], comparison: Comparison) -> None:
    owner = people["owner"]
    now = owner.get(f"/api/comparisons/{comparison.pk}").json()
    # Row 0 holds −0.5: a logarithmic axis has no place for it.
    recipe = now["recipe"] | {
        "axis": now["recipe"]["axis"] | {"scale": "log10"},
        "keep": [{"column": "who", "is_not": ["P-000"]}],
    }
    assert (
        send(owner, "post", f"comparisons/{comparison.pk}/trail", {"revision": now["revision"], "recipe": recipe}).status_code
        == 200
    )
    path = asked(owner, what="batch", comparison=str(comparison.pk), each="who", measures=["level"])
    with zipfile.ZipFile(io.BytesIO(fetched(owner, path))) as archive:
        assert archive.namelist() == [f"{comparison.name}.pdf", "not drawn.txt"]
        assert archive.read("not drawn.txt").decode().startswith("level P-000: ")
        assert len(pypdf.PdfReader(io.BytesIO(archive.read(f"{comparison.name}.pdf"))).pages) == 39
    done = owner.get(f"/api/{path}").json()
    assert (done["state"], done["fault"]["what"]) == ("done", "1 of 40 figures could not be drawn")
    assert "level P-000: " in done["fault"]["remedy"]
    refused = asked(owner, what="batch", comparison=str(comparison.pk), each="wing")
    work("file-jobs")
    state = owner.get(f"/api/{refused}").json()
    assert state["state"] == "refused" and "wing" in state["fault"]["what"] and state["fault"]["remedy"]
    assert owner.get(f"/api/{refused}/file").status_code == 404


def test_a_large_export_is_the_same_file(people: dict[str, Client], comparison: Comparison) -> None:
    owner, here = people["owner"], f"comparisons/{comparison.pk}"
    for kind, choices in (("bundle", {}), ("rows", {"as": "csv"}), ("report", {"as": "html"}), ("svg", {"width": "85mm"})):
        path = asked(owner, what="export", comparison=str(comparison.pk), kind=kind, choices=choices)
        query = "&".join(f"{key}={value}" for key, value in choices.items())
        assert fetched(owner, path) == owner.get(f"/api/{here}/export/{kind}?{query}").content, kind


def test_a_folio_becomes_a_report_of_all_its_figures(people: dict[str, Client], study: Study, comparison: Comparison) -> None:
    owner = people["owner"]
    copy = send(owner, "post", f"comparisons/{comparison.pk}/copies", {"name": "The same again"}).json()["id"]
    folio = Folio.objects.create(study=study, name="For the auditor", figures=[str(comparison.pk), copy])
    ask = {"what": "report", "folio": str(folio.pk)}
    page = fetched(owner, asked(owner, **ask)).decode()
    assert (
        page.count("<svg") == 2
        and "2. The same again" in page
        and "SHA-256" in page
        and "http" not in page.replace("http://www.w3.org", "")
    )
    pdf = pypdf.PdfReader(io.BytesIO(fetched(owner, asked(owner, **ask, file_format="pdf"))))
    text = "".join(p.extract_text() for p in pdf.pages)
    for words in (
        "For the auditor",
        "1. levels",
        "2. The same again",
        "Method",
        "Preparation",
        "SHA-256",
        "No row was left out",
    ):
        assert words in text, words


def test_a_locked_folio_keeps_its_report_while_its_comparison_goes_on(
    people: dict[str, Client], study: Study, comparison: Comparison
) -> None:
    owner, here = people["owner"], f"comparisons/{comparison.pk}"
    folio = Folio.objects.create(study=study, name="Signed", figures=[str(comparison.pk)])
    path, ask = f"folios/{folio.pk}", {"what": "report", "folio": str(folio.pk)}
    assert sign(people["viewer"], path, "x").status_code == 403
    assert sign(owner, path, " ").status_code == 422
    locked = sign(owner, path).json()
    assert locked["locked"].startswith("approved by owner, ") and locked["locked"].endswith("as submitted")
    before, drawn = fetched(owner, asked(owner, **ask)), owner.get(f"/api/{path}/pages").json()
    assert b"Locked approved by owner, " in before

    now = owner.get(f"/api/{here}").json()
    recipe = now["recipe"] | {"words": now["recipe"]["words"] | {"title": "Later thoughts"}}
    send(owner, "post", f"{here}/trail", {"revision": now["revision"], "recipe": recipe})
    send(owner, "put", f"studies/{study.pk}/house", {"revision": 0, "style": {"text_size": 11.0}})
    assert owner.get(f"/api/{path}/pages").json() == drawn and fetched(owner, asked(owner, **ask)) == before

    body = {"revision": locked["revision"], "name": "Other", "page": locked["page"], "figures": []}
    refused = send(owner, "put", path, body)
    assert refused.status_code == 422 and "locked" in refused.json()["what"]
    assert owner.delete(f"/api/{path}").status_code == 422 and Folio.objects.filter(pk=folio.pk).exists()
    next_one = send(owner, "post", f"{path}/versions").json()
    assert (next_one["version"], next_one["locked"], next_one["name"]) == (2, "", "Signed")
    assert "Later thoughts" in str(owner.get(f"/api/folios/{next_one['id']}/pages").json())


def test_only_who_asked_and_still_may_gets_the_file(people: dict[str, Client], study: Study, comparison: Comparison) -> None:
    ask = {"what": "export", "comparison": str(comparison.pk), "kind": "bundle"}
    assert send(people["viewer"], "post", "file-jobs", ask).status_code == 403
    assert send(people["stranger"], "post", "file-jobs", ask).status_code == 404
    path = asked(people["editor"], **ask)
    fetched(people["editor"], path)
    for name in ("owner", "stranger"):
        assert people[name].get(f"/api/{path}/file").status_code == 404
    Membership.objects.filter(study=study, person__username="editor").update(role="viewer")
    assert people["editor"].get(f"/api/{path}/file").status_code == 403
    assert send(people["owner"], "post", "file-jobs", {"what": "lunch"}).status_code == 422


def test_work_stops_between_figures_and_a_stop_is_never_overruled(
    people: dict[str, Client], comparison: Comparison, settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    owner, ask = people["owner"], {"what": "batch", "comparison": str(comparison.pk), "each": "ward", "file_format": "png"}
    drawn: list[str] = []

    def drawing(recipe: Recipe, rows: Table) -> Scene:
        drawn.append(recipe.words.title)
        FileJob.objects.filter(state="working").update(state="stopped")
        return scene_of(recipe, rows)

    monkeypatch.setattr("echelle.batch.scene_of", drawing)
    path = asked(owner, **ask)
    work("file-jobs")
    assert len(drawn) == 1
    assert owner.get(f"/api/{path}").json()["state"] == "stopped" and not settings.FILE_JOBS.exists()

    # Stopped after the worker took it up, before it began.
    asked(owner, **ask)
    job = FileJob.objects.get(state="waiting")
    FileJob.objects.update(state="stopped")
    make(job)
    assert FileJob.objects.filter(state="stopped").count() == 2 and len(drawn) == 1


def test_who_lost_the_right_meanwhile_gets_no_file(people: dict[str, Client], study: Study, comparison: Comparison) -> None:
    path = asked(people["editor"], what="batch", comparison=str(comparison.pk), each="ward")
    Membership.objects.filter(study=study, person__username="editor").update(role="viewer")
    work("file-jobs")
    job = FileJob.objects.get(pk=path.split("/")[1])
    assert job.state == "refused" and "not there for you" in job.fault["what"] and not job.path.exists()


def test_work_is_stopped_taken_up_again_and_swept(people: dict[str, Client], comparison: Comparison, settings) -> None:
    owner, ask = people["owner"], {"what": "batch", "comparison": str(comparison.pk), "each": "ward"}
    path = asked(owner, **ask)
    assert send(owner, "post", f"{path}/stop").json()["state"] == "stopped"
    work("file-jobs")
    assert owner.get(f"/api/{path}").json()["state"] == "stopped" and not settings.FILE_JOBS.exists()

    cut = asked(owner, **ask)
    work_id = cut.split("/")[1]
    FileJob.objects.filter(pk=work_id).update(state="working", done=2)
    call_command("requeue_jobs")
    assert owner.get(f"/api/{cut}").json()["state"] == "waiting"
    assert fetched(owner, cut).startswith(b"%PDF")

    (settings.FILE_JOBS / "left over").write_bytes(b"x")
    FileJob.objects.update(made=timezone.now() - timedelta(days=2))
    asked(owner, **ask)
    assert FileJob.objects.count() == 1 and list(settings.FILE_JOBS.iterdir()) == []


def test_what_is_erased_takes_its_files_along(people: dict[str, Client], comparison: Comparison) -> None:
    owner, study = people["owner"], str(comparison.study_id)
    folio = Folio.objects.create(study=comparison.study, name="F", page=FolioPage().model_dump(mode="json"))
    of = {"comparison": str(comparison.pk)}
    paths = [
        asked(owner, what="export", kind="svg", **of), asked(owner, what="batch", each="ward", **of),
        asked(owner, what="several", study=study, kind="svg", comparisons=[str(comparison.pk)]),
        asked(owner, what="report", folio=str(folio.pk)),
    ]  # fmt: skip
    work("file-jobs")
    assert len(list(settings.FILE_JOBS.iterdir())) == 3
    folio.delete()
    assert owner.get(f"/api/{paths[3]}").status_code == 404 and FileJob.objects.count() == 3
    Comparison.objects.update(binned=timezone.now())
    assert owner.delete(f"/api/comparisons/{comparison.pk}").status_code == 204
    assert not FileJob.objects.exists() and not list(settings.FILE_JOBS.iterdir())
