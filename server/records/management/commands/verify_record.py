"""Verifies the record of access: that no line of it was changed, taken out or put in."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from server.records.models import RecordLine, first_break, record


class Command(BaseCommand):
    """Each study's chain, and that of what concerns none."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """Whether the store was just restored from a backup, which becomes a line too."""
        parser.add_argument("--restored", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        """Ends with an error that names the first line at which a chain breaks."""
        studies = RecordLine.objects.values_list("study", flat=True).distinct()
        for study in studies:
            chain = RecordLine.objects.filter(study=study).order_by("number")
            if (line := first_break(chain.iterator())) is not None:
                raise CommandError(f"The record of {study or 'what concerns no study'} breaks at line {line.number}: {line}.")
        if options["restored"]:
            record("", "restored")
        self.stdout.write(f"The record is whole: {RecordLine.objects.count()} lines in {len(studies)} chains.")
