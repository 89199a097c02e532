"""Pages of HTML without outside links: reports with figures, ledgers, method notes, preparation, left-out rows; and what
someone with a link reads.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from html import escape

from echelle import RELEASE
from echelle.drawing.svg import to_svg
from echelle.figures.scene import LaneReadings, Scene
from echelle.numbers.rounding import as_read
from echelle.recipes.models import Recipe
from echelle.tables.steps.words import step_words


@dataclass(frozen=True, eq=False)
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


_LEDGER = (
    ("n", "n"), ("missing", "missing"), ("censored", "at limit"), ("min", "min"), ("q1", "Q1"),
    ("median", "median"), ("q3", "Q3"),
    ("max", "max"), ("mean", "mean"), ("sd", "SD"), ("beyond", "beyond"),
)  # fmt: skip
_WHOLE = {"n", "missing", "censored", "beyond"}
STYLE = """
body { font: 15px/1.45 Lato, "Liberation Sans", sans-serif; color: #17222B; background: #FFFFFF; max-width: 56rem;
  margin: 2rem auto; padding: 0 1rem }
h1 { font-size: 1.6rem } h2 { margin-top: 2.5rem; font-size: 1.25rem } h3 { font-size: 1rem; margin-bottom: .2rem }
figure { margin: 1rem 0 } figure svg { max-width: 100%; height: auto }
table { border-collapse: collapse; font-variant-numeric: tabular-nums }
th, td { padding: .15rem .7rem .15rem 0; text-align: right } th:first-child, td:first-child { text-align: left }
thead th { border-bottom: 2px solid #5D6B73 } tbody th { font-weight: 600 }
dt { font-weight: 600 } dd { margin: 0 0 .4rem 0; overflow-wrap: anywhere } .quiet { color: #5D6B73 } a { color: #02727A }
@media print { h2 { break-before: page } h2:first-of-type { break-before: avoid } }
"""


def report(title: str, parts: Sequence[ReportPart]) -> bytes:
    """The report's bytes: the same for the same parts and release. All text is escaped."""
    body = "".join(_part(part, number) for number, part in enumerate(parts, 1))
    return _page(title, f"<h1>{escape(title)}</h1>\n{body}", f"Echelle, release {RELEASE}")


def shared_page(title: str, scenes: Sequence[Scene], told: str, files: Sequence[tuple[str, str]]) -> bytes:
    """What someone with a link reads: figures with their readings and note, who settled them (``told``), and files by name and
    address. No row ids but those that a scene holds.
    """
    figures = "".join(
        f"<figure>{_inline(scene)}</figure>\n" + (f"<p>{escape(scene.note)}</p>\n{_ledger(scene)}" if scene.readings else "")
        for scene in scenes
    )
    links = " · ".join(f'<a href="{escape(address)}">{escape(name)}</a>' for name, address in files)
    saved = f'<p class="quiet">Save as {links}</p>\n' if files else ""
    return _page(title, f'<h1>{escape(title)}</h1>\n<p class="quiet">{escape(told)}</p>\n{figures}{saved}', "Echelle")


def plain_page(title: str, words: str) -> bytes:
    """A page that says one thing."""
    return _page(title, f"<h1>{escape(title)}</h1>\n<p>{escape(words)}</p>\n", "Echelle")


def _page(title: str, body: str, foot: str) -> bytes:
    heading = escape(title)
    return (
        f'<!doctype html>\n<html lang="en">\n<head>\n<meta charset="utf-8">\n<title>{heading}</title>\n'
        f'<meta name="viewport" content="width=device-width">\n<style>{STYLE}</style>\n</head>\n<body>\n<main>\n'
        f"{body}</main>\n"
        f'<footer class="quiet"><p>{escape(foot)}</p></footer>\n</body>\n</html>\n'
    ).encode()


def _part(part: ReportPart, number: int) -> str:
    recipe = part.recipe
    steps = [step_words(step) + ("" if step.on else " (switched off)") for step in recipe.prepare or []]
    out = [f"{entry.row}: {entry.reason}" for entry in recipe.left_out]
    facts = [
        ("Data", f"{part.file}, SHA-256 {part.sha256}"), ("Settled", part.settled), ("Locked", part.locked),
        ("Rows", _counts(part.scene)),
    ]  # fmt: skip
    told = "".join(f"<dt>{name}</dt><dd>{escape(words)}</dd>" for name, words in facts if words)
    return (
        f"<h2>{number}. {escape(part.name)}</h2>\n<figure>{_inline(part.scene)}</figure>\n"
        f"<h3>Method</h3>\n<p>{escape(part.scene.note)}</p>\n<h3>Readings</h3>\n{_ledger(part.scene)}"
        f"{_list('Preparation', steps, 'The table is used as it was read.')}"
        f"{_list('Rows left out here', out, 'No row was left out by hand.')}"
        f"{_list('Remarks', [advice.text for advice in part.scene.advice], '')}<dl>{told}</dl>\n"
    )


def _inline(scene: Scene) -> str:
    """The figure as SVG with outlines, so that no font is needed; without the declaration of a file."""
    return to_svg(scene, "outlines").decode().partition("?>\n")[2]


def _ledger(scene: Scene) -> str:
    names = {lane.key: lane.name for lane in scene.lanes}
    panels = {panel.key: panel.name for panel in scene.panels}
    panel_of = {lane.key: panels.get(lane.panel, "") for lane in scene.lanes}
    held = list(dict.fromkeys(inside.name for lane in scene.readings for inside in lane.inside))
    head = "".join(f'<th scope="col">{words}</th>' for words in [*(words for _, words in _LEDGER), *map(escape, held)])

    def name(key: str) -> str:
        return escape(" · ".join(part for part in (panel_of.get(key, ""), names.get(key, key)) if part))

    rows = "".join(
        f'<tr><th scope="row">{name(lane.lane)}</th>{_cells(lane, scene.decimals)}{_held(lane, held)}</tr>\n'
        for lane in scene.readings
    )
    return f'<table>\n<thead><tr><th scope="col">lane</th>{head}</tr></thead>\n<tbody>\n{rows}</tbody>\n</table>\n'


def _cells(lane: LaneReadings, decimals: int) -> str:
    def cell(name: str) -> str:
        value = getattr(lane, name)
        return "–" if value is None else str(value) if name in _WHOLE else lane.limits.get(name) or as_read(value, decimals)

    return "".join(f"<td>{escape(cell(name))}</td>" for name, _ in _LEDGER)


def _held(lane: LaneReadings, names: list[str]) -> str:
    """How many values each guide holds, with their share."""
    inside = {one.name: f"{one.count} ({one.share * 100:.1f} %)" for one in lane.inside}
    return "".join(f"<td>{inside.get(name, '–')}</td>" for name in names)


def _counts(scene: Scene) -> str:
    counts = scene.counts
    aside = [(counts.missing, "without a value"), (counts.censored, "beyond a limit"), (counts.left_out, "left out"),
             (counts.ungrouped, "without a group")]  # fmt: skip
    return ", ".join([f"{counts.used} of {counts.rows} used", *(f"{count} {words}" for count, words in aside if count)])


def _list(title: str, lines: list[str], none: str) -> str:
    if not lines:
        return f'<h3>{title}</h3>\n<p class="quiet">{none}</p>\n' if none else ""
    return f"<h3>{title}</h3>\n<ol>{''.join(f'<li>{escape(line)}</li>' for line in lines)}</ol>\n"
