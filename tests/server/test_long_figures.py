"""What holds figures that take long: files, folios and links are made by the worker, and are what they would be at once."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.test import Client

from echelle.errors import InputError
from server.comparisons.models import Comparison
from server.comparisons.services import scenes
from server.file_jobs import services
from server.file_jobs.models import FileJob
from server.studies.models import Study
from tests.support.uploads import bring, send
from tests.support.worker import work

CELLS = "who,ward,level (nmol/L)\n" + "".join(f"P-{i:03d},{'AB'[i % 2]},{i + 0.5}\n" for i in range(30))
SOON = (datetime.now(UTC) + timedelta(days=3)).date().isoformat()


@pytest.fixture
def comparison(
    transactional_db: None,
    people: dict[str, Client],
    study: Study,
    settings: Any,
    tmp_path: Any,
    monkeypatch: pytest.MonkeyPatch,
) -> Comparison:
    """A figure whose layers take something, where whatever takes something is long."""
    settings.FILE_JOBS = tmp_path / "outgoing"
    here = f"comparisons/{bring(people['owner'], CELLS, study=str(study.pk)).json()['comparison']}"
    now = people["owner"].get(f"/api/{here}").json()
    layers = [{"layer": "mean", "id": "m", "interval": "bootstrap BCa", "resamples": 2_000}, {"layer": "points", "id": "p"}]
    kept = send(
        people["owner"], "post", f"{here}/trail", {"revision": now["revision"], "recipe": now["recipe"] | {"layers": layers}}
    )
    assert kept.status_code == 200
    monkeypatch.setattr(scenes, "AT_ONCE", 0.0)
    return Comparison.objects.get()


@pytest.fixture
def folio(people: dict[str, Client], comparison: Comparison) -> str:
    made = send(people["owner"], "post", "folios", {"study": str(comparison.study_id)}).json()
    wanted = {"revision": made["revision"], "name": "Two", "page": made["page"], "figures": [str(comparison.pk)] * 2}
    assert send(people["owner"], "put", f"folios/{made['id']}", wanted).status_code == 200
    return str(made["id"])


def by_worker(client: Client, **body: Any) -> bytes:
    path = f"file-jobs/{send(client, 'post', 'file-jobs', body).json()['id']}"
    work("file-jobs")
    assert client.get(f"/api/{path}").json()["state"] == "done"
    return bytes(client.get(f"/api/{path}/file").content)


def test_a_file_that_takes_long_is_asked_of_the_worker(
    people: dict[str, Client], comparison: Comparison, monkeypatch: pytest.MonkeyPatch
) -> None:
    owner, here = people["owner"], f"/api/comparisons/{comparison.pk}/export"
    drawn = (("svg", {}), ("readings", {"as": "csv"}), ("note", {}), ("report", {"as": "html"}), ("bundle", {}))
    for kind, choices in drawn:
        long = owner.get(f"{here}/{kind}", choices)
        assert long.status_code == 425 and "takes about 1 s" in long.json()["what"] and "Retry-After" not in long
    for kind in ("recipe", "rows"):
        assert owner.get(f"{here}/{kind}").status_code == 200
    assert owner.get(f"{here}/tape").status_code == 422
    made = {kind: by_worker(owner, what="export", comparison=str(comparison.pk), kind=kind, choices=c) for kind, c in drawn}
    monkeypatch.setattr(scenes, "AT_ONCE", 100.0)
    for kind, choices in drawn:
        assert made[kind] == owner.get(f"{here}/{kind}", choices).content


def test_a_folio_that_takes_long_too(
    people: dict[str, Client], comparison: Comparison, folio: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    made = {}
    for name in ("owner", "viewer"):
        assert people[name].get(f"/api/folios/{folio}/pages").status_code == 425
        assert people[name].get(f"/api/folios/{folio}/export/pdf").status_code == 425
        made[name] = by_worker(people[name], what="pages", folio=folio)
    assert send(people["stranger"], "post", "file-jobs", {"what": "pages", "folio": folio}).status_code == 404
    png = by_worker(people["viewer"], what="folio", folio=folio, kind="png", choices={"page": "1", "dpi": "72"})
    monkeypatch.setattr(scenes, "AT_ONCE", 100.0)
    for name in ("owner", "viewer"):
        assert made[name] == people[name].get(f"/api/folios/{folio}/pages").content
    assert png == people["viewer"].get(f"/api/folios/{folio}/export/png?page=1&dpi=72").content


def test_whoever_follows_a_link_waits_for_it_and_it_is_made_once(
    people: dict[str, Client], comparison: Comparison, folio: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    send(people["owner"], "put", f"studies/{comparison.study_id}/outside-links", {"allowed": True})
    for linked in (f"comparisons/{comparison.pk}", f"folios/{folio}"):
        made = send(people["owner"], "post", f"{linked}/shares", {"outside": True, "ends": SOON}).json()
        path = made["shares"][-1]["path"]
        for address in (path, f"{path}/pdf", path):
            waits = people["nobody"].get(address)
            assert waits.status_code == 202 and b"being drawn" in waits.content and waits["Refresh"] == "3"
        [job] = FileJob.objects.filter(person=None)
        assert people["owner"].get(f"/api/file-jobs/{job.pk}").status_code == 404
        work("file-jobs")
        page, pdf = people["nobody"].get(path), people["nobody"].get(f"{path}/pdf")
        assert page.status_code == 200 and b"<svg" in page.content and pdf.content.startswith(b"%PDF")
        assert b"P-00" not in page.content and FileJob.objects.filter(person=None).count() == 1
        FileJob.objects.all().delete()
    # What came since is drawn anew, and what cannot be drawn says so.
    monkeypatch.setattr(services, "scenes_of_link", _refuse)
    Study.objects.get().comparison_set.update(revision=99)
    assert people["nobody"].get(path).status_code == 202
    work("file-jobs")
    assert b"cannot be drawn at present: nothing is left" in people["nobody"].get(path).content


def _refuse(*_: Any) -> Any:
    raise InputError("nothing is left")


def test_it_is_stopped_between_two_pieces(
    people: dict[str, Client], comparison: Comparison, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(services, "_LOOK", 0.0)
    export = services.export_of

    def stopping(*asked: Any) -> Any:
        FileJob.objects.update(state=FileJob.State.STOPPED)
        return export(*asked)

    monkeypatch.setattr(services, "export_of", stopping)
    body = {"what": "export", "comparison": str(comparison.pk), "kind": "svg"}
    path = f"file-jobs/{send(people['owner'], 'post', 'file-jobs', body).json()['id']}"
    work("file-jobs")
    assert people["owner"].get(f"/api/{path}").json()["state"] == "stopped" and not FileJob.objects.get().path.exists()
