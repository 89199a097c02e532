"""A large store: python -m benchmarks.home USERNAME, over a store that scripts.year_store filled.

Prints how long search, the list of studies, a study's page and what was open last take, answers included, beside a plain
sequential scan of the same words in the same run. Limits: docs/speed.md.
"""

from __future__ import annotations

import os
import statistics
import time
from collections.abc import Callable
from urllib.parse import quote

import click
import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")

LIMIT = 100.0
PAIRS = 7
WORDS = (
    "cortisol", "cortisl", "ferritin ward", "recalibration lot", "audit raincloud", "feritin wrad audit", "Ridge 2023",
    "Ada Fenn", "Harbour", "silverman", "zebra", "thyrotropin second look", "meadow potasium part", "a", "median", "2021",
)  # fmt: skip


@click.command()
@click.argument("username")
def main(username: str) -> None:
    """Print the times, in ms."""
    django.setup()
    from django.conf import settings
    from django.db import connection
    from django.test import Client

    from server.accounts.models import Person
    from server.home.models import SearchEntry
    from server.studies.models import Study

    settings.ALLOWED_HOSTS = ["testserver"]
    client = Client()
    person = Person.objects.get(username=username)
    client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")

    def asked(path: str) -> Callable[[], int]:
        return lambda: len(client.get(path).content)

    def scan() -> int:
        with connection.cursor() as cursor:
            cursor.execute("SELECT count(*) FROM home_searchentry WHERE words || rows ~ 'no such words'")
            return int(cursor.fetchone()[0])

    largest = Study.objects.seen_by(person).order_by("-comparison__changed").first()
    assert largest is not None, "fill the store first"
    work = {f"search “{words}”": asked(f"/api/search?words={quote(words)}") for words in WORDS}
    work |= {
        "studies": asked("/api/studies"),
        "a study": asked(f"/api/studies/{largest.pk}"),
        "open last": asked("/api/recent"),
    }
    work |= {"what happened": asked(f"/api/studies/{largest.pk}/activity"), "a plain scan of all words": scan}
    print(f"{SearchEntry.objects.count()} entries")
    times: dict[str, list[float]] = {name: [] for name in work}
    for _ in range(PAIRS):
        for name, run in work.items():
            began = time.perf_counter()
            run()
            times[name].append((time.perf_counter() - began) * 1000)
    searches = [value for name, held in times.items() if name.startswith("search") for value in held]
    for name, held in times.items():
        print(f"{name:42} median {statistics.median(held):7.1f}   most {max(held):7.1f}")
    p95 = sorted(searches)[int(len(searches) * 0.95)]
    print(f"all searches: median {statistics.median(searches):.1f}, 95th percentile {p95:.1f} (no more than {LIMIT:g})")


if __name__ == "__main__":
    main()
