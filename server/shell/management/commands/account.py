"""Ends the account of a person, or lets it work again."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from echelle.errors import InputError
from server.accounts.models import Person
from server.studies.deactivation import deactivate, reactivate

_BY = "whoever keeps the server"


class Command(BaseCommand):
    """./run --deactivate and ./run --reactivate call it."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """Which way, and whose."""
        parser.add_argument("way", choices=["deactivate", "reactivate"])
        parser.add_argument("username")

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it, and say so."""
        person = Person.objects.filter(username=options["username"]).first()
        if person is None:
            raise CommandError(f"Nobody here is called “{options['username']}”.")
        try:
            (deactivate if options["way"] == "deactivate" else reactivate)(person, _BY)
        except InputError as error:
            raise CommandError(error.sentence()) from None
        self.stdout.write(f"The account of {person.username} {'works again' if person.is_active else 'works no more'}.")
