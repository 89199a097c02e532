"""What a report says of a figure, before it is set as HTML or PDF."""

from __future__ import annotations

from dataclasses import dataclass

from echelle.numbers.rounding import display_number, fixed_decimals
from echelle.recipes.recipe import Recipe
from echelle.scene.models import LaneReadings, Scene


@dataclass(frozen=True, eq=False, kw_only=True)
class ReportPart:
    """A figure with all that is said of it: its name, scene and sealed recipe, the raw file's name and SHA-256, who settled
    it and when, and who locked it (empty where nobody did).
    """

    name: str
    scene: Scene
    recipe: Recipe
    file: str
    sha256: str
    settled: str
    locked: str = ""


@dataclass(frozen=True)
class Section:
    """A heading and its lines, or what stands there where there are none ("" leaves the section out)."""

    title: str
    lines: list[str]
    none: str = ""


_LEDGER = (
    ("n", "n"), ("missing", "missing"), ("censored", "at limit"), ("min", "min"), ("q1", "Q1"),
    ("median", "median"), ("q3", "Q3"),
    ("max", "max"), ("mean", "mean"), ("sd", "SD"), ("beyond", "beyond"),
)  # fmt: skip
_WHOLE = {"n", "missing", "censored", "beyond"}


def ledger_of(scene: Scene) -> tuple[list[str], list[list[str]]]:
    """Headings and rows of the readings, each row with its lane first; a column for each guide after them."""
    names = {lane.key: lane.name for lane in scene.lanes}
    panels = {panel.key: panel.name for panel in scene.panels}
    panel_of = {lane.key: panels.get(lane.panel, "") for lane in scene.lanes}
    held = list(dict.fromkeys(inside.name for lane in scene.readings for inside in lane.inside))

    def name(key: str) -> str:
        return " · ".join(part for part in (panel_of.get(key, ""), names.get(key, key)) if part)

    rows = [[name(lane.lane), *_cells(lane, scene.decimals), *_guide_lines(lane, held)] for lane in scene.readings]
    return ["lane", *(words for _, words in _LEDGER), *held], rows


def sections_of(part: ReportPart) -> list[Section]:
    """Preparation, rows left out, remarks."""
    steps = [step.words() + ("" if step.on else " (switched off)") for step in part.recipe.prepare or []]
    out = [f"{entry.row}: {entry.reason}" for entry in part.recipe.left_out]
    return [
        Section("Preparation", steps, "The table is used as it was read."),
        Section("Rows left out here", out, "No row was left out by hand."),
        Section("Remarks", [advice.text for advice in part.scene.advice]),
    ]


def facts_of(part: ReportPart) -> list[tuple[str, str]]:
    """Where the figure comes from: data, who settled and who locked it, and what became of the rows."""
    facts = [
        ("Data", f"{part.file}, SHA-256 {part.sha256}"), ("Settled", part.settled), ("Locked", part.locked),
        ("Rows", _counts(part.scene)),
    ]  # fmt: skip
    return [(name, words) for name, words in facts if words]


def _cells(lane: LaneReadings, decimals: int) -> list[str]:
    def cell(name: str) -> str:
        value = getattr(lane, name)
        return (
            "–" if value is None else str(value) if name in _WHOLE else lane.limits.get(name) or display_number(value, decimals)
        )

    return [cell(name) for name, _ in _LEDGER]


def _guide_lines(lane: LaneReadings, names: list[str]) -> list[str]:
    """How many values each guide holds, with their share."""
    inside = {guide.name: f"{guide.count} ({fixed_decimals(guide.share * 100, 1)} %)" for guide in lane.inside}
    return [inside.get(name, "–") for name in names]


def _counts(scene: Scene) -> str:
    counts = scene.counts
    aside = [(counts.rows - counts.kept, "not kept"), (counts.missing, "without a value"), (counts.censored, "beyond a limit"),
             (counts.left_out, "left out"), (counts.ungrouped, "without a group"), (counts.dropped, "not shown")]  # fmt: skip
    steps = [f"{change.step}: {change.before} to {change.after}" for change in counts.prepared]
    before = [f"{counts.read} read", *steps] if steps else []
    used = f"{counts.used} of {counts.rows} used"
    return ", ".join([*before, used, *(f"{count} {words}" for count, words in aside if count)])
