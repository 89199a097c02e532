"""What the documents point to is there."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parent.parent
DOCUMENTS = [ROOT / "README.md", *sorted((ROOT / "docs").glob("*.md"))]
FOLDERS = ("echelle", "server", "demo", "benchmarks", "scripts", "tests", "web/src", "web/tests")
SOURCES = [
    str(path.relative_to(ROOT))
    for folder in FOLDERS
    for path in (ROOT / folder).rglob("*")
    if path.suffix in (".py", ".ts", ".tsx", ".ftl") and "node_modules" not in path.parts
]


@pytest.mark.parametrize("document", DOCUMENTS, ids=lambda path: path.name)
def test_every_file_that_a_document_names_exists(document: Path) -> None:
    text = document.read_text()
    # NAME stands for whatever is added.
    named = [name for name in re.findall(r"`([\w./-]+\.(?:py|tsx?|ftl))`", text) if "NAME" not in name]
    assert [name for name in named if not any(f"/{source}".endswith(f"/{name}") for source in SOURCES)] == []
    linked = [link for link in re.findall(r"\]\(([^)#:\s…]+)\)", text) if not (document.parent / link).exists()]
    assert linked == []
