"""What goes out of a comparison and comes in again: files, readings, rows, reports, bundles; locks and new versions."""

from __future__ import annotations

import io
import zipfile
from typing import Any

import pytest
from django.test import Client
from PIL import Image

from echelle.recipes.style import Style
from server.comparisons.models import Comparison, TrailEntry
from server.studies.models import Study
from server.tables.models import DataTable
from tests.support.uploads import bring, send, sign

ROWS = [f"P-{i:03d},{'AB'[i % 2]},{'QNS' if i == 3 else i + 0.5}\n" for i in range(40)]
CELLS = "who,ward,level (nmol/L)\n" + "".join(ROWS)


@pytest.fixture
def here(people: dict[str, Client], study: Study) -> str:
    answer = bring(people["owner"], CELLS, study=str(study.pk)).json()
    return f"comparisons/{answer['comparison']}"


def got(client: Client, path: str) -> bytes:
    answer = client.get(f"/api/{path}")
    assert answer.status_code == 200, answer.content
    return bytes(answer.content)


def state(client: Client, here: str) -> dict[str, Any]:
    return dict(client.get(f"/api/{here}").json())


def titled(client: Client, here: str, title: str) -> Any:
    now = state(client, here)
    recipe = now["recipe"] | {"words": now["recipe"]["words"] | {"title": title}}
    return send(client, "post", f"{here}/trail", {"revision": now["revision"], "recipe": recipe})


def test_pictures_have_the_size_and_ground_that_were_asked_for(people: dict[str, Client], here: str) -> None:
    tiff = got(people["owner"], f"{here}/export/tiff?width=85mm&dpi=600&clear=true")
    with Image.open(io.BytesIO(tiff)) as picture:
        assert picture.size[0] == 2008 and picture.info["compression"] == "tiff_lzw" and picture.mode == "RGBA"
    wide = got(people["owner"], f"{here}/export/svg?width=174mm&height=60mm").decode()
    assert 'width="493.228pt" height="170.079pt"' in wide
    refused = people["owner"].get(f"/api/{here}/export/svg?width=wide")
    assert refused.status_code == 422 and "85mm" in refused.json()["remedy"]
    assert people["owner"].get(f"/api/{here}/export/gif").status_code == 422
    assert b"How to read this figure" in got(people["viewer"], f"{here}/export/svg?page=key")
    assert got(people["viewer"], f"{here}/export/pdf?page=pages").startswith(b"%PDF")
    unpaged = people["viewer"].get(f"/api/{here}/export/svg?page=pages")
    assert unpaged.status_code == 422 and "pdf" in unpaged.json()["remedy"]


def test_numbers_are_for_all_who_look_and_rows_for_those_who_may(people: dict[str, Client], here: str) -> None:
    readings = got(people["viewer"], f"{here}/export/readings?as=csv").decode("utf-8-sig").splitlines()
    assert readings[0].startswith("row,group,n") and len(readings) == 3
    assert got(people["viewer"], f"{here}/export/note").decode().startswith("Boxes: median")
    for kind in ("rows", "bundle", "recipe", "report"):
        assert people["viewer"].get(f"/api/{here}/export/{kind}").status_code == 403
        assert people["stranger"].get(f"/api/{here}/export/{kind}").status_code == 404
        assert people["owner"].get(f"/api/{here}/export/{kind}").status_code == 200
    assert len(got(people["owner"], f"{here}/export/rows?as=csv").splitlines()) == 41


def test_a_bundle_makes_the_same_figure_in_another_study(people: dict[str, Client], here: str) -> None:
    titled(people["owner"], here, "First")
    titled(people["owner"], here, "Second")
    svg = got(people["owner"], f"{here}/export/svg")
    bundle = got(people["owner"], f"{here}/export/bundle")
    other = people["owner"].post("/api/studies", {"name": "Elsewhere"}, content_type="application/json").json()["id"]
    path = f"/api/studies/{other}/bundles"
    answer = people["owner"].post(path, bundle, content_type="application/octet-stream")
    assert answer.status_code == 200, answer.content
    there = f"comparisons/{answer.json()['comparison']}"
    assert answer.json()["states"] == 3 and got(people["owner"], f"{there}/export/svg") == svg
    now = state(people["owner"], there)
    assert [entry["words"] for entry in now["trail"]] == [entry["words"] for entry in state(people["owner"], here)["trail"]]
    assert now["head"] == 3 and now["recipe"]["prepare"] is None and now["recipe"]["style"] == "house"
    # It is a comparison like any other: it goes on from there, and out again.
    assert titled(people["owner"], there, "Third").status_code == 200
    assert people["stranger"].post(path, bundle, content_type="application/octet-stream").status_code == 404


def test_what_is_no_bundle_leaves_nothing_behind(people: dict[str, Client], study: Study, here: str) -> None:
    bundle = got(people["owner"], f"{here}/export/bundle")
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(bundle)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            new.writestr(name, old.read(name) + (b"x" if name == "recipe.json" else b""))
    counts = [model.objects.count() for model in (DataTable, Comparison, TrailEntry)]
    path = f"/api/studies/{study.pk}/bundles"
    for body in (out.getvalue(), b"nothing"):
        answer = people["owner"].post(path, body, content_type="application/octet-stream")
        assert answer.status_code == 422
    assert "ecipe.json is not as it was" in people["owner"].post(
        path, out.getvalue(), content_type="application/octet-stream"
    ).json()["what"]  # fmt: skip
    assert [model.objects.count() for model in (DataTable, Comparison, TrailEntry)] == counts


def test_a_coded_bundle_tells_nobody_who_is_in_it(people: dict[str, Client], here: str) -> None:
    plain = zipfile.ZipFile(io.BytesIO(got(people["owner"], f"{here}/export/bundle")))
    coded = zipfile.ZipFile(io.BytesIO(got(people["owner"], f"{here}/export/bundle?coded=true")))
    assert b"P-001" in plain.read("rows.csv")
    assert not [name for name in coded.namelist() if b"P-001" in coded.read(name)]


def test_a_report_is_one_file_that_says_it_all(people: dict[str, Client], here: str) -> None:
    titled(people["owner"], here, "<b>Bold</b> & more")
    page = got(people["owner"], f"{here}/export/report").decode()
    assert page.startswith("<!doctype html>") and "<svg" in page and "Boxes: median" in page
    assert "<b>Bold" not in page and "http" not in page.replace("http://www.w3.org", "")
    assert "1 without a value" in page and DataTable.objects.get().raw.sha256 in page
    assert "src=" not in page and "<script" not in page and "@import" not in page


def test_a_locked_comparison_changes_only_as_a_new_version(people: dict[str, Client], here: str) -> None:
    owner = people["owner"]
    assert sign(owner, here, "  ").status_code == 422
    assert sign(people["viewer"], here, "mine").status_code == 403
    locked = sign(owner, here).json()
    assert locked["locked"].endswith("UTC: as submitted") and locked["version"] == 1
    refused = titled(owner, here, "Changed")
    assert refused.status_code == 422 and refused.json()["remedy"] == "Make a new version and change that."
    now = state(owner, here)
    assert send(owner, "put", f"{here}/head", {"revision": now["revision"], "entry": 1}).status_code == 422
    assert send(owner, "patch", here, {"name": "Other"}).status_code == 422
    assert send(owner, "put", f"{here}/trail/1/name", {"name": "first"}).status_code == 422
    assert sign(owner, here, "again").status_code == 422
    assert state(owner, here) == now and "as submitted" in got(owner, f"{here}/export/report").decode()
    version = send(owner, "post", f"{here}/versions", {}).json()
    assert version["version"] == 2 and version["locked"] == "" and version["name"] == now["name"]
    assert titled(owner, f"comparisons/{version['id']}", "Changed").status_code == 200
    told = owner.get(f"/api/{here}/uses").json()["versions"]
    assert [(held["version"], held["locked"], held["words"]) for held in told] == [
        (1, True, []),
        (2, False, ["title: Changed"]),
    ]
    assert Comparison.objects.get(pk=version["id"]).follows == Comparison.objects.get(pk=here.rsplit("/", 1)[1])


def test_a_house_style_is_offered_and_taken_one_by_one_or_by_all(people: dict[str, Client], study: Study, here: str) -> None:
    owner, house = people["owner"], f"studies/{study.pk}/house"
    assert state(owner, house)["style"]["text_size"] == 8.0 and people["stranger"].get(f"/api/{house}").status_code == 404
    other = send(owner, "post", f"{here}/copies", {"entry": 1, "recipe": None, "name": "Mine"}).json()
    recipe = other["recipe"] | {"own_look": other["recipe"]["own_look"] | {"text_size": 6.0}}
    send(owner, "post", f"comparisons/{other['id']}/trail", {"revision": other["revision"], "recipe": recipe})
    sign(owner, here, "as sent")
    version = send(owner, "post", f"{here}/versions", {}).json()["id"]
    changed = Style(text_size=12.0, ink="#112233").model_dump(mode="json")
    wanted = {"revision": 0, "style": changed}
    assert send(people["viewer"], "put", house, wanted).status_code == 403
    assert send(owner, "put", house, wanted | {"style": changed | {"ink": "blue"}}).status_code == 422
    kept = send(owner, "put", house, wanted).json()
    assert (kept["style"]["text_size"], kept["revision"]) == (12.0, 1)
    late = send(people["editor"], "put", house, {"revision": 0, "style": Style().model_dump(mode="json")})
    assert late.status_code == 409 and state(owner, house) == kept

    def drawn(path: str) -> tuple[bool, bool]:
        svg = got(owner, f"{path}/export/svg").decode()
        return "#112233" in svg, 'font-size="12"' in svg or 'font-size="12.72"' in svg

    # It is offered, old and new; nothing changes by itself.
    assert [drawn(path) for path in (here, f"comparisons/{version}", f"comparisons/{other['id']}")] == [(False, False)] * 3
    assert state(owner, f"comparisons/{version}")["newer_style"] and not state(owner, here)["newer_style"]
    offered = send(owner, "post", f"comparisons/{version}/scene", {"newest_style": True}).json()
    assert "#112233" in str(offered["parts"])
    assert send(people["viewer"], "post", f"comparisons/{version}/style").status_code == 403
    assert send(owner, "post", f"comparisons/{version}/style").json()["newer_style"] is False
    assert drawn(f"comparisons/{version}") == (True, True) and drawn(f"comparisons/{other['id']}") == (False, False)
    assert send(people["editor"], "post", house).status_code == 200
    # What was locked stays as it was signed off; what deviates does so in its single point alone.
    assert drawn(here) == (False, False) and drawn(f"comparisons/{version}") == (True, True)
    assert drawn(f"comparisons/{other['id']}") == (True, False)
    scene = send(owner, "post", f"comparisons/{version}/scene", {"recipe": None, "have": []}).json()
    assert "#112233" in str(scene)


def test_a_figure_keeps_its_style_when_it_is_copied_or_signed_off(people: dict[str, Client], study: Study, here: str) -> None:
    owner = people["owner"]
    send(owner, "put", f"studies/{study.pk}/house", {"revision": 0, "style": {"ink": "#112233"}})
    assert b"#112233" not in got(owner, f"{here}/export/svg")
    copy = send(owner, "post", f"{here}/copies", {"name": "Mine"}).json()
    assert copy["newer_style"] and b"#112233" not in got(owner, f"comparisons/{copy['id']}/export/svg")
    sign(owner, here, "as sent")
    assert b"#112233" not in got(owner, f"{here}/export/svg")
    version = send(owner, "post", f"{here}/versions", {}).json()
    assert version["newer_style"] and b"#112233" not in got(owner, f"comparisons/{version['id']}/export/svg")
    send(owner, "post", f"comparisons/{version['id']}/style")
    assert b"#112233" in got(owner, f"comparisons/{version['id']}/export/svg")


def test_a_study_keeps_guides_for_whoever_may_change_it(people, study: Study) -> None:
    address = f"/api/studies/{study.pk}/guides"
    kept = [
        {"name": "morning", "measure": "level (nmol/L)", "guides": [{"band": [7, 20], "group": "A", "label": "reference"}]},
        {"name": "kit", "guides": [{"at": {"percentile": 95}}]},
    ]

    def put(by: str, guides: list, revision: int):
        body = {"revision": revision, "guides": guides}
        return people[by].put(address, body, content_type="application/json")

    assert put("viewer", kept, 0).status_code == 403
    assert people["stranger"].get(address).status_code == 404
    answer = put("editor", kept, 0)
    assert [entry["name"] for entry in answer.json()["guides"]] == ["kit", "morning"]
    assert people["viewer"].get(address).json() == answer.json()
    # Who saw the list before that takes none of it away.
    late = put("owner", kept[:1], 0)
    assert late.status_code == 409 and people["owner"].get(address).json() == answer.json()
    twice = put("editor", [kept[1], kept[1]], 1)
    assert twice.status_code == 422 and "one name" in twice.json()["what"]
    broken = put("editor", [{"name": "x", "guides": [{"band": [2, 1]}]}], 1)
    assert broken.status_code == 422
    assert len(people["editor"].get(address).json()) == 2
