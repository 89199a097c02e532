"""Pages of HTML without outside links: reports with figures, ledgers, method notes, preparation, left-out rows; and what
someone with a link reads.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache

from jinja2 import Environment, PackageLoader, StrictUndefined
from markupsafe import Markup

from echelle import RELEASE
from echelle.drawing.svg import to_svg
from echelle.reports.content import ReportPart, facts_of, ledger_of, sections_of
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
    return _page("report", title, f"Echelle, release {RELEASE}", parts=parts, signed=signed)


def shared_page(title: str, scenes: Sequence[Scene], words: str, files: Sequence[tuple[str, str]]) -> bytes:
    """What someone with a link reads: figures with their readings and note, ``words`` on who settled them, and files by name
    and address. No row ids but those that a scene holds.
    """
    return _page("shared", title, "Echelle", scenes=scenes, words=words, files=files)


def plain_page(title: str, words: str) -> bytes:
    """A page that says one thing."""
    return _page("plain", title, "Echelle", words=words)


def _page(template: str, title: str, foot: str, **values: object) -> bytes:
    page = _templates().get_template(f"{template}.html.jinja")
    return page.render(title=title, foot=foot, style=Markup(STYLE), **values).encode()  # noqa: S704


@cache
def _templates() -> Environment:
    templates = Environment(
        loader=PackageLoader("echelle.reports"),
        autoescape=True,
        trim_blocks=True,
        lstrip_blocks=True,
        undefined=StrictUndefined,
    )
    templates.filters["svg"] = _inline
    templates.globals |= {"ledger_of": ledger_of, "sections_of": sections_of, "facts_of": facts_of}
    return templates


def _inline(scene: Scene) -> Markup:
    """The figure as SVG with outlines, so that no font is needed; without the declaration of a file."""
    return Markup(to_svg(scene, "outlines").decode().partition("?>\n")[2])  # noqa: S704
