"""Pages of HTML without outside links: reports with figures, ledgers, method notes, preparation, left-out rows; and what
someone with a link reads.
"""

from __future__ import annotations

from collections.abc import Sequence
from html import escape

from echelle import RELEASE
from echelle.drawing.svg import to_svg
from echelle.reports.content import ReportPart, Section, facts_of, ledger_of, sections_of
from echelle.scene.models import Scene

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


def report(title: str, parts: Sequence[ReportPart], signed: str = "") -> bytes:
    """The report's bytes: the same for the same parts and release; ``signed`` says who locked it. All text is escaped."""
    body = "".join(_part(part, number) for number, part in enumerate(parts, 1))
    off = f"<p><strong>{escape(signed)}</strong></p>\n" if signed else ""
    return _page(title, f"<h1>{escape(title)}</h1>\n{off}{body}", f"Echelle, release {RELEASE}")


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
    told = "".join(f"<dt>{name}</dt><dd>{escape(words)}</dd>" for name, words in facts_of(part))
    return (
        f"<h2>{number}. {escape(part.name)}</h2>\n<figure>{_inline(part.scene)}</figure>\n"
        f"<h3>Method</h3>\n<p>{escape(part.scene.note)}</p>\n<h3>Readings</h3>\n{_ledger(part.scene)}"
        f"{''.join(map(_section, sections_of(part)))}<dl>{told}</dl>\n"
    )


def _inline(scene: Scene) -> str:
    """The figure as SVG with outlines, so that no font is needed; without the declaration of a file."""
    return to_svg(scene, "outlines").decode().partition("?>\n")[2]


def _ledger(scene: Scene) -> str:
    heads, rows = ledger_of(scene)
    head = "".join(f'<th scope="col">{escape(words)}</th>' for words in heads)
    body = "".join(
        f'<tr><th scope="row">{escape(lane)}</th>{"".join(f"<td>{escape(cell)}</td>" for cell in cells)}</tr>\n'
        for lane, *cells in rows
    )
    return f"<table>\n<thead><tr>{head}</tr></thead>\n<tbody>\n{body}</tbody>\n</table>\n"


def _section(section: Section) -> str:
    if not section.lines:
        return f'<h3>{section.title}</h3>\n<p class="quiet">{section.none}</p>\n' if section.none else ""
    return f"<h3>{section.title}</h3>\n<ol>{''.join(f'<li>{escape(line)}</li>' for line in section.lines)}</ol>\n"
