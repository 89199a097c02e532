"""What a browser fetches before a page can be used: python -m benchmarks.first_load.

Opens each page in a fresh Chromium with an empty cache and prints the bytes of script and of fonts as they came over
the wire. Limits: docs/speed.md.
"""

from __future__ import annotations

import os
import sys

import click
import django
from playwright.sync_api import Browser, Page, sync_playwright

from benchmarks.browser import served

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"

LIMITS = {"script": 200_000, "font": 120_000}

# Faces of figures belong to what is drawn, not to the page.
FETCHED = """() => performance.getEntriesByType('resource').map((entry) => [
  /\\.js$/.test(entry.name) ? 'script' : /atkinson.*\\.woff2?$/.test(entry.name) ? 'font'
    : /\\.woff2?$/.test(entry.name) ? 'figure font' : 'other', entry.encodedBodySize])"""


def fetched(page: Page) -> dict[str, int]:
    """Bytes on the wire by what they are."""
    page.wait_for_load_state("networkidle")
    sums: dict[str, int] = {}
    for kind, size in page.evaluate(FETCHED):
        sums[kind] = sums.get(kind, 0) + size
    return sums


def opened(browser: Browser, address: str, state: object, link: str) -> dict[str, int]:
    """What one page of the demo fetches; ``link`` is the name of the link that leads there, empty for the studies."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, storage_state=state)  # type: ignore[arg-type]
    page = context.new_page()
    page.goto(address)
    page.get_by_role("heading", name="Studies").wait_for()
    if link:
        page.goto(address + (page.get_by_role("link", name=link).first.get_attribute("href") or ""))
        page.get_by_role("button", name="Undo").first.wait_for()
    sums = fetched(page)
    context.close()
    return sums


@click.command()
@click.option("--port", default=8766)
def main(port: int) -> None:
    """Print what each page fetches."""
    django.setup()
    from server.accounts.models import OneTimeLink, Person

    good = True
    with served(port) as address, sync_playwright() as play:
        secret = OneTimeLink.make(Person.objects.get(username="demo"), OneTimeLink.Purpose.ENTER)
        browser = play.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"])
        page = browser.new_page()
        page.goto(f"{address}/enter/{secret}")
        page.get_by_role("button", name="Open Echelle").click()
        page.get_by_role("heading", name="Studies").wait_for()
        state = page.context.storage_state()
        for name, link in {"studies": "", "compare bench": "Waking level by shift", "table bench": "samples"}.items():
            sums = opened(browser, address, state, link)
            ok = all(sums.get(kind, 0) <= limit for kind, limit in LIMITS.items())
            good = good and ok
            words = ", ".join(f"{kind} {size / 1000:.0f} kB" for kind, size in sorted(sums.items()))
            click.echo(f"{name:>14}: {words}{'' if ok else '   <-- over the limit'}")
        browser.close()
    sys.exit(0 if good else 1)


if __name__ == "__main__":
    main()
