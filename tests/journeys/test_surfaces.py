"""The browser and the exported SVG draw every text where the layout put it; many points go to a canvas."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from echelle.render import figure_bytes, scene_of
from server.accounts.models import Person
from server.comparisons.models import Comparison
from server.comparisons.services.trail import begin
from server.tables.models import DataTable
from tests.journeys.conftest import enter, eventually, paste
from tests.support.texts import NAMES, RECIPE, TABLE, texts

# Ends of the characters, since a node's own box is rounded out to whole pixels.
ENDS = """(nodes) => nodes.map((node) => {
    const ends = [...Array(node.getNumberOfChars()).keys()].flatMap((i) => {
        return [node.getStartPositionOfChar(i).x, node.getEndPositionOfChar(i).x];
    });
    const up = node.getAttribute("transform");
    return { key: node.dataset.key || node.id, text: node.textContent, left: Math.min(...ends), right: Math.max(...ends), up };
})"""


def agree(result: list[dict], tolerance: float = 0.5) -> None:
    expected = {part.key: part for part in texts(scene_of(RECIPE, TABLE))}
    assert {node["key"] for node in result} == set(expected)
    for node in result:
        part = expected[node["key"]]
        left, _, right, _ = part.box
        assert node["left"] == pytest.approx(left, abs=tolerance), node
        assert node["right"] == pytest.approx(right, abs=tolerance), node


def test_chromium_draws_text_where_the_layout_put_it(desk: Page, demo: str, address: str) -> None:
    enter(desk, demo)
    columns = {c.name: c.texts.to_list() for c in TABLE.columns}
    rows = "".join(f"{group}\t{level}\n" for group, level in zip(columns["group"], columns["level"], strict=True))
    paste(desk, "group\tlevel (mmol/L)\n" + rows)
    desk.get_by_test_id("method-note").wait_for()
    person = Person.objects.get(username="demo")
    begun = begin(DataTable.objects.order_by("-made")[0], RECIPE, person, "texts")
    desk.goto(f"{address}/comparisons/{begun.pk}")
    expect(desk.get_by_role("row", name=NAMES["b"], exact=True)).to_be_visible()
    desk.evaluate("document.fonts.ready")
    desk.wait_for_timeout(300)
    loaded = desk.evaluate("[...document.fonts].filter((f) => f.status === 'loaded').map((f) => f.family)")
    assert {"Echelle lato-400", "Echelle lato-600", "Echelle lato-700"} <= {name.strip("\"'") for name in loaded}
    agree(desk.get_by_test_id("figure").locator("svg text").evaluate_all(ENDS))


def test_chromium_draws_the_exported_svg_alike(desk: Page, tmp_path: Path) -> None:
    source = tmp_path / "f.svg"
    source.write_bytes(figure_bytes(RECIPE, TABLE, "svg"))
    desk.goto(source.as_uri())
    agree(desk.locator("text").evaluate_all(ENDS))


def test_many_points_are_stamped_on_a_canvas(desk: Page, demo: str) -> None:
    enter(desk, demo)
    paste(desk, "arm\tlevel\n" + "".join(f"{'abc'[i % 3]}\t{(i * 7919 % 2003) / 10 + 1}\n" for i in range(6000)))
    desk.get_by_test_id("method-note").wait_for()
    desk.get_by_role("button", name="+ Points", exact=True).click()
    desk.get_by_role("region", name="Points").wait_for()
    canvas = desk.get_by_test_id("figure").locator("canvas")
    expect(canvas).to_have_count(1)
    coverage = "(c) => { const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;"
    coverage += " let n = 0; for (let i = 3; i < d.length; i += 4) n += d[i] > 0; return n; }"
    desk.wait_for_timeout(300)
    assert canvas.evaluate(coverage) > 8000
    assert desk.get_by_test_id("figure").locator("circle").count() == 0
    assert eventually(desk, lambda: Comparison.objects.get(name="pasted cells").head == 2)
