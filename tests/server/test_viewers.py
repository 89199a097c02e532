"""What viewers and people with a link are shown: every answer is walked for every identifier; no person is singled out."""

from __future__ import annotations

import json
from typing import Any

import pytest
from django.test import Client

from server.comparisons.models import Comparison
from server.folios.models import Folio
from server.shares.models import Share
from server.studies.models import Study
from tests.support.uploads import bring, send

# Two samples of each of sixty persons; the nickname is as unique as the id, the ward is not.
CELLS = "who,nickname,ward,born,level (nmol/L),note\n" + "".join(
    f"P-{i:03d},nick {i},{'ABC'[i % 3]},19{40 + i % 60}-0{1 + i % 9}-1{i % 9},{i + k / 2 + 0.5},{'seen twice by ' + str(i)}\n"
    for i in range(60)
    for k in range(2)
)
RAW = [f"P-{i:03d}" for i in range(60)] + [f"nick {i}" for i in range(60)]


@pytest.fixture
def here(people: dict[str, Client], study: Study) -> str:
    """A comparison whose steps, conditions, names of states and reasons all name persons."""
    owner = people["owner"]
    cells = bring(owner, CELLS, study=str(study.pk)).json()
    doses = "who,dose\n" + "".join(f"P-{i:03d},{i % 4}\n" for i in range(60))
    extra = bring(owner, doses, study=str(study.pk), name="d.csv").json()["table"]
    reference = next(t["reference"] for t in owner.get(f"/api/studies/{study.pk}/tables").json() if t["id"] == extra)
    reference["prepare"] = [{"step": "keep", "where": {"column": "who", "is_not": ["P-005"]}}]
    either = [{"column": "who", "is_not": ["P-001", "P-002"]}, {"column": "nickname", "is": ["nick 9"]}]
    steps = [
        {"step": "keep", "where": {"any": either}},
        {"step": "join", "table": reference, "keys": [{"here": "who", "there": "who"}]},
    ]
    table = f"tables/{cells['table']}"
    done = send(owner, "post", f"{table}/preparation", {"revision": 0, "steps": steps})
    assert done.status_code == 200, done.content
    at = f"comparisons/{cells['comparison']}"
    state = owner.get(f"/api/{at}").json()
    state = send(owner, "post", f"{at}/newest", {"revision": state["revision"]}).json()
    spoilt = send(owner, "post", f"{at}/left-out", {"recipe": state["recipe"], "row": 7, "reason": "P-003 was ill"})
    kept = spoilt.json() | {"keep": [{"column": "who", "is_not": ["P-010"]}]}
    state = send(owner, "post", f"{at}/trail", {"revision": state["revision"], "recipe": kept}).json()
    back = spoilt.json() | {"groups": {"column": "ward"}, "measure": {"columns": ["level"]}}
    state = send(owner, "post", f"{at}/trail", {"revision": state["revision"], "recipe": back}).json()
    assert "P-010" in str(state["trail"]), state
    return str(at)


def recipe_of(client: Client, here: str) -> dict[str, Any]:
    return dict(client.get(f"/api/{here}").json()["recipe"])


def test_no_answer_to_a_viewer_or_a_link_holds_an_identifier(people: dict[str, Client], here: str, study: Study) -> None:
    viewer, owner = people["viewer"], people["owner"]
    comparison = Comparison.objects.get(pk=here.split("/")[1])
    study.outside_links = True
    study.save()
    folio = Folio.objects.create(study=study, name="F", figures=[str(comparison.pk)], page={})
    recipe = recipe_of(viewer, here)
    asked = {"recipe": recipe}
    answers = {
        path: viewer.get(f"/api/{path}")
        for path in (
            here, f"{here}/trail/1", f"{here}/trail/2", f"{here}/trail/3", f"{here}/export/svg", f"{here}/export/note",
            f"{here}/export/readings", f"{here}/export/svg?entry=1", f"tables/{comparison.table_id}",
            f"tables/{comparison.table_id}?revision=0", "studies", f"studies/{study.pk}/guides", f"folios/{folio.pk}",
            f"folios/{folio.pk}/pages", f"{here}/export/recipe", f"{here}/export/report", f"{here}/export/rows",
        )
    }  # fmt: skip
    for path in ("scene", "forms", "measures", "advice", "differences", "rows", "row"):
        answers[path] = send(viewer, "post", f"{here}/{path}", asked)
    for entry in (1, 2, 3):
        answers[f"scene {entry}"] = send(viewer, "post", f"{here}/scene", {"entry": entry})
    link = Share.objects.create(study=study, comparison=comparison, outside=True)
    for path in (link.path, f"{link.path}/svg"):
        answers[path] = people["nobody"].get(path)
    seen = 0
    for name, answer in answers.items():
        content = b"".join(answer.streaming_content) if answer.streaming else answer.content
        assert answer.status_code < 500, (name, content[:200])
        seen += answer.status_code == 200
        text = content.decode("utf-8", "replace")
        found = [raw for raw in RAW if raw in text]
        assert found == [], (name, [text[max(text.index(raw) - 60, 0) :][:90] for raw in found])
    assert seen > 15
    assert "P-010" in owner.get(f"/api/{here}").content.decode()


SPOILT: list[dict[str, Any]] = [
    {"groups": {"column": "who"}}, {"subgroups": {"column": "nickname"}}, {"panels": {"wrapped": {"column": "who"}}},
    {"keep": [{"column": "who", "is": ["P-001"]}]}, {"keep": [{"column": "born", "from": "1950-01-01"}]},
    {"groups": {"column": "note"}},
]  # fmt: skip


def test_a_column_that_names_persons_divides_no_figure(people: dict[str, Client], here: str) -> None:
    recipe = recipe_of(people["owner"], here)
    for spoil in SPOILT:
        for path in ("scene", "advice", "differences"):
            answer = send(people["viewer"], "post", f"{here}/{path}", {"recipe": recipe | spoil})
            assert answer.status_code == 422 and "single persons" in answer.json()["what"], (path, spoil, answer.content)
        assert send(people["viewer"], "post", f"{here}/form/violin", {"recipe": recipe | spoil}).json()["scene"] is None
    assert send(people["owner"], "post", f"{here}/scene", {"recipe": recipe | SPOILT[0]}).status_code == 200
    for path in ("forms", "measures"):
        answer = send(people["viewer"], "post", f"{here}/{path}", {"recipe": recipe | SPOILT[0]})
        shown = answer.json()["measures"] if path == "measures" else answer.json()
        assert shown and all(form["scene"] is None for form in shown)
        assert any("single persons" in form["reason"] for form in shown)


def test_no_question_of_a_viewer_narrows_below_the_least_cell(people: dict[str, Client], here: str, study: Study) -> None:
    recipe = recipe_of(people["owner"], here)

    def asked(by: str, low: float) -> int:
        keep = [{"column": "level", "from": low}]
        answer = send(people[by], "post", f"{here}/scene", {"recipe": recipe | {"keep": keep}})
        return answer.status_code

    # From 50 on each ward holds the two samples of three or four persons, from 30 on those of ten.
    assert (asked("viewer", 30), asked("viewer", 50), asked("editor", 50)) == (200, 422, 200)
    Study.objects.update(least_cell=3)
    assert asked("viewer", 50) == 200


def test_only_owners_set_the_least_cell(people: dict[str, Client], study: Study) -> None:
    path = f"studies/{study.pk}/least-cell"
    assert send(people["editor"], "put", path, {"subjects": 8}).status_code == 403
    assert send(people["owner"], "put", path, {"subjects": 8}).json() == {"subjects": 8}
    assert send(people["owner"], "put", path, {"subjects": 0}).status_code == 422
    assert json.loads(people["viewer"].get(f"/api/{path}").content) == {"subjects": 8}
