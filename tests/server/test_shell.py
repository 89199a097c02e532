"""The page: what it begins with at each address, so that nothing waits its turn."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from django.conf import settings
from django.test import Client

from server.comparisons.models import Comparison

DIST = Path(settings.ROOT) / "web" / "dist"


def begins_with(client: Client, address: str) -> tuple[str, list[str]]:
    page = client.get(address).content.decode()
    return page, re.findall(
        r'<(?:link rel="(?:preload|stylesheet|modulepreload)"|script type="module") (?:href|src)="([^"]+)', page
    )


def test_a_comparison_brings_its_bench_and_its_data(people: dict[str, Client], comparison: Comparison) -> None:
    address = f"/comparisons/{comparison.pk}"
    _, ahead = begins_with(people["owner"], address)
    assert ahead[0] == f"/api{address}" and people["owner"].get(ahead[0]).status_code == 200
    files = [DIST / result.removeprefix("/static/") for result in ahead[1:]]
    assert all(file.is_file() for file in files) and len(set(files)) == len(files)
    assert any(file.name.startswith("Bench-") for file in files) and files[-1].name.startswith("index-")


@pytest.mark.parametrize(("address", "bench"), [("/folios/x", "FolioBench-"), ("/tables/x", "TableBench-"), ("/", None)])
def test_other_pages_bring_their_own(people: dict[str, Client], address: str, bench: str | None) -> None:
    _, ahead = begins_with(people["owner"], address)
    names = [result.rsplit("/", 1)[1] for result in ahead]
    assert [name.split("-")[0] + "-" for name in names if "Bench-" in name] == ([bench] if bench else [])
    assert not any(result.startswith("/api") for result in ahead)


def test_an_address_cannot_write_into_the_page(people: dict[str, Client]) -> None:
    page, _ = begins_with(people["owner"], '/comparisons/"><script>alert(1)</script>')
    assert "<script>alert" not in page and "&quot;&gt;&lt;script" in page
