"""Names a folder or store of many files, and opens it to people."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db.models import ProtectedError

from echelle.errors import InputError
from echelle.far.manifest import manifest_of
from server.accounts.models import Person
from server.tables.models import Source


class Command(BaseCommand):
    """./run --source and ./run --no-source call it."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """What is done to which source."""
        parser.add_argument("way", choices=["open", "remove"])
        parser.add_argument("name")
        parser.add_argument("address", nargs="?", default="", help="of a new source: a folder, a pattern, or s3://…")
        parser.add_argument("--person", action="append", default=[], help="who may bring it; several times for several")

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it, and say so."""
        if options["way"] == "remove":
            self._remove(options["name"])
            return
        people = [self._person(name) for name in options["person"]]
        source = Source.objects.filter(name=options["name"]).first()
        if source is None or options["address"]:
            source = self._named(options["name"], options["address"])
        source.people.add(*people)
        names = ", ".join(person.username for person in source.people.order_by("username")) or "nobody yet"
        self.stdout.write(f"The source {source.name} is open to: {names}.")

    def _named(self, name: str, address: str) -> Source:
        if not address:
            raise CommandError(f"There is no source “{name}” yet: name its folder or address too.")
        try:
            manifest = manifest_of(address)
        except InputError as error:
            raise CommandError(error.sentence()) from None
        self.stdout.write(f"{len(manifest.parts)} files, {manifest.size / 1e6:,.0f} MB.")
        return Source.objects.update_or_create(name=name, defaults={"address": address})[0]

    def _remove(self, name: str) -> None:
        try:
            gone, _ = Source.objects.filter(name=name).delete()
        except ProtectedError:
            raise CommandError(f"Tables of studies are of {name}: erase those first.") from None
        if not gone:
            raise CommandError(f"There is no source “{name}”.")
        self.stdout.write(f"The source {name} is gone; its files stay where they are.")

    def _person(self, name: str) -> Person:
        person = Person.objects.filter(username=name).first()
        if person is None:
            raise CommandError(f"Nobody here is called “{name}”.")
        return person
