"""Prints a one-time link: to sign in (for the demo analyst) or, with --password, to choose a password."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser

from server.accounts.models import OneTimeLink, Person


class Command(BaseCommand):
    """./run and ./run --add-person call it."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """Name, address and purpose."""
        parser.add_argument("username")
        parser.add_argument("--address", default="http://127.0.0.1:8000")
        parser.add_argument("--password", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        """Make the person where needed, and the link."""
        name = options["username"].strip()
        try:
            Person.username_validator(name)
        except ValidationError:
            raise CommandError("A name has letters, digits and @ . + - _ only.") from None
        if Person.objects.filter(username=name, is_active=False).exists():
            raise CommandError(f"The account of {name} is deactivated. Let it work again first: ./run --reactivate {name}")
        if options["password"]:
            person, made = Person.objects.get_or_create(username=name)
            if made:
                person.set_unusable_password()
                person.save()
            secret = OneTimeLink.make(person, OneTimeLink.Purpose.PASSWORD, timedelta(days=3))
        else:
            secret = OneTimeLink.make(Person.objects.get(username=name), OneTimeLink.Purpose.ENTER)
        self.stdout.write(f"{options['address']}/enter/{secret}")
