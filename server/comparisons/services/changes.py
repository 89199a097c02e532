"""What of a comparison changes without a state of its own: name, notes, tags, whether it is watched."""

from __future__ import annotations

from server.comparisons.bodies import ChangeComparison
from server.comparisons.models import Comparison
from server.comparisons.services.watch import must_be_watchable
from server.studies.names import named


def change(comparison: Comparison, wanted: ChangeComparison) -> None:
    """Keep what is asked for. Raises InputError for an empty name, another name of one that is signed off, or a watch over
    nothing.
    """
    if wanted.name is not None:
        comparison.must_be_open()
        comparison.name = named(wanted.name, "comparison")
    if wanted.notes is not None:
        comparison.notes = wanted.notes
    if wanted.tags is not None:
        comparison.tags = list(dict.fromkeys(named(tag, "tag") for tag in wanted.tags))
    if wanted.watched is not None:
        if wanted.watched:
            must_be_watchable(comparison)
        comparison.watched, comparison.alarm = wanted.watched, ""
    comparison.save(update_fields=["name", "notes", "tags", "watched", "alarm"])
