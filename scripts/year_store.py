"""A laboratory's store after some years, made up and seeded: studies, tables, comparisons with trails, people.

For benchmarks and tests; it is written into the store that is served.

    ECHELLE_STORE=… python -m scripts.year_store demo --studies 200 --comparisons 5000 --states 50000
"""

from __future__ import annotations

import hashlib
import os
import random
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import TYPE_CHECKING

import click
import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
django.setup()

from django.db import transaction  # noqa: E402
from django.utils import timezone  # noqa: E402

from echelle.recipes.forms import FORMS, form_of, recipe_of_form  # noqa: E402
from echelle.recipes.recipe import Recipe  # noqa: E402
from echelle.recipes.style import Words  # noqa: E402
from server.accounts.models import Person  # noqa: E402
from server.comparisons.models import Comparison, TrailEntry  # noqa: E402
from server.comparisons.services.copies import copy_table  # noqa: E402
from server.home.entry import keep_entry  # noqa: E402
from server.studies.models import Membership, Role, Study, make_study  # noqa: E402
from server.tables.models import DataTable, ReadingJob  # noqa: E402
from server.tables.services.reading import keep_raw, read_pieces  # noqa: E402

if TYPE_CHECKING:
    from echelle.recipes.recipe import FormName

ASSAYS = (
    "cortisol", "ferritin", "creatinine", "troponin", "glucose", "lactate", "albumin", "calcium", "potassium", "bilirubin",
    "transferrin", "prolactin", "thyrotropin", "haemoglobin", "platelets", "magnesium",
)  # fmt: skip
PLACES = ("Harbour", "Ridge", "Valley", "Orchard", "Quarry", "Meadow")
GROUPS = ("ward", "lot", "instrument", "operator", "shift pattern")
REASONS = ("as received", "after recalibration", "without haemolysed samples", "for the audit", "second look", "as submitted")
NAMES = ("Ada Fenn", "Brice Holm", "Cora Lund", "Dario Penn", "Edda Rook", "Finn Sarr", "Gita Thorn", "Hugo Wick")
TAGS = ("audit", "submitted", "monthly", "to check", "poster")
FEW_FORMS: tuple[FormName, ...] = ("box", "violin", "strip", "raincloud", "histogram", "means")


@dataclass(frozen=True)
class Sheet:
    """A small table of one assay with its groups."""

    assay: str
    text: str


def sheet(chance: random.Random, assay: str, rows: int = 120) -> Sheet:
    """Readings of an assay in wards, lots, on instruments, by operators and shifts."""
    centre = chance.uniform(2, 400)
    levels = {
        "ward": PLACES[:4], "lot": [f"L{chance.randrange(1000, 9999)}" for _ in range(5)],
        "instrument": ("A1", "A2", "B1"), "operator": [name.split()[0] for name in NAMES[:4]],
        "shift pattern": ("Day", "Evening", "Night"),
    }  # fmt: skip
    lines = [f"sample,{','.join(levels)},{assay} (units/L)"]
    for row in range(rows):
        value = max(0.1, chance.gauss(centre, centre / 6))
        lines.append(f"S-{row:04d},{','.join(chance.choice(held) for held in levels.values())},{value:.1f}")
    return Sheet(assay, "\n".join(lines) + "\n")


def fill(owner: Person, studies: int, comparisons: int, states: int, seed: int = 1) -> list[Study]:
    """Studies of an owner with so many comparisons and states in all, evenly spread; the same for the same seed."""
    chance = random.Random(seed)  # noqa: S311
    people = [_person(name) for name in NAMES]
    kept = make_study("Templates of the store", owner)
    templates = [_table(kept, owner, sheet(chance, assay)) for assay in ASSAYS[: min(len(ASSAYS), max(2, studies))]]
    made = []
    for number in range(studies):
        with transaction.atomic():
            study = make_study(f"{chance.choice(PLACES)} {chance.choice(ASSAYS)} {2020 + number % 7}, part {number + 1}", owner)
            for person in chance.sample(people, 3):
                Membership.objects.create(study=study, person=person, role=chance.choice(list(Role)))
            sources = chance.sample(templates, min(2, len(templates)))
            tables = [copy_table(source, study, owner.shown_name) for source in sources]
            share = comparisons * (number + 1) // studies - comparisons * number // studies
            each = max(1, states // max(comparisons, 1))
            for _ in range(share):
                _comparison(chance, chance.choice(tables), people, each)
            made.append(study)
    kept.erase()
    return made


def _person(name: str) -> Person:
    first, last = name.split()
    person, new = Person.objects.get_or_create(username=first.lower(), defaults={"first_name": first, "last_name": last})
    if new:
        person.set_unusable_password()
        person.save()
    return person


def _table(study: Study, owner: Person, held: Sheet) -> DataTable:
    data = held.text.encode()
    job = ReadingJob(
        study=study, person=owner, name=f"{held.assay}.csv", sha256=hashlib.sha256(data).hexdigest(), size=len(data)
    )
    table = keep_raw(job, [data], read_pieces([data], {}))
    job.delete()
    return table


def _comparison(chance: random.Random, table: DataTable, people: Sequence[Person], states: int) -> None:
    assay, groups, reason = table.name.removesuffix(".csv"), chance.choice(GROUPS), chance.choice(REASONS)
    name = f"{assay} by {groups}, {reason}"
    comparison = Comparison(study_id=table.study_id, table=table, name=name, tags=chance.sample(TAGS, chance.randrange(3)))
    Comparison.objects.bulk_create([comparison])
    entries = []
    recipe: Recipe | None = None
    for number in range(1, states + 1):
        words = Words(title=f"{assay.capitalize()} {chance.choice(('differs', 'drifts', 'holds'))}, {reason}")
        recipe = recipe_of_form(chance.choice(FEW_FORMS), assay, groups).model_copy(update={"words": words})
        entries.append(
            TrailEntry(
                comparison=comparison, number=number, parent=number - 1 or None, recipe=recipe.model_dump(mode="json"),
                words=reason, table=table, by=chance.choice(people).shown_name,
            )
        )  # fmt: skip
    TrailEntry.objects.bulk_create(entries)
    assert recipe is not None and set(FEW_FORMS) <= set(FORMS)
    at = timezone.now() - timedelta(days=chance.uniform(0, 2000))
    changed = {"head": states, "revision": states, "form": form_of(recipe) or "", "changed": at}
    Comparison.objects.filter(pk=comparison.pk).update(**changed)
    comparison.refresh_from_db()
    keep_entry(comparison)


@click.command()
@click.argument("username")
@click.option("--studies", default=200)
@click.option("--comparisons", default=5_000)
@click.option("--states", default=50_000)
@click.option("--seed", default=1)
def main(username: str, studies: int, comparisons: int, states: int, seed: int) -> None:
    """Fill the store of a person."""
    made = fill(Person.objects.get(username=username), studies, comparisons, states, seed)
    click.echo(f"{len(made)} studies, {comparisons} comparisons, {states} states")


if __name__ == "__main__":
    main()
