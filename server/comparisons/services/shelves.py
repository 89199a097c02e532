"""Comparisons that are put away, and taken out again."""

from __future__ import annotations

from datetime import timedelta

from django.apps import apps
from django.utils import timezone

from echelle.errors import InputError
from server.accounts.models import Person
from server.comparisons.models import Comparison
from server.records.models import record
from server.studies.bodies import ShelfName


def put_on_shelf(comparison: Comparison, shelf: ShelfName) -> None:
    """Put a comparison there. Raises InputError for one that is signed off or set on a folio, and should go to the bin."""
    if shelf == "bin":
        _may_go(comparison)
    now = timezone.now()
    archived = now if shelf == "archive" else None
    binned = now if shelf == "bin" else None
    # When it was put away is no change of the comparison itself.
    Comparison.objects.filter(pk=comparison.pk).update(archived=archived, binned=binned)


def erase(comparison: Comparison, person: Person) -> None:
    """Erase a comparison for good. Raises InputError for one that is not in the bin, or may not go."""
    if comparison.binned is None:
        raise InputError("this comparison is not in the bin", remedy="Put it there first.")
    _may_go(comparison)
    record(person.username, "comparison erased", comparison.study_id, of=comparison.name)
    comparison.delete()


def empty_bins() -> int:
    """Erase what lay in the bin of its study longer than that keeps things; how many that were. What others rely on stays."""
    erased = 0
    for comparison in Comparison.objects.filter(binned__isnull=False).select_related("study"):
        assert comparison.binned is not None
        if comparison.binned + timedelta(days=comparison.study.bin_days) <= timezone.now() and not _why_it_stays(comparison):
            record("", "comparison erased", comparison.study_id, of=comparison.name, after="its days in the bin")
            comparison.delete()
            erased += 1
    return erased


def _may_go(comparison: Comparison) -> None:
    if (reason := _why_it_stays(comparison)) is not None:
        raise reason


def _why_it_stays(comparison: Comparison) -> InputError | None:
    """What others rely on stays: what is signed off, or stands on a folio."""
    if comparison.locked_at is not None:
        remedy = "Archive it: what was signed stays."
        return InputError("this comparison is signed off", where=comparison.lock_words, remedy=remedy)
    folio = apps.get_model("folios", "Folio").objects.filter(study=comparison.study_id, figures__contains=[str(comparison.pk)])
    on = folio.values_list("name", flat=True).first()
    if on is None:
        return None
    return InputError(f"it stands on the folio {on}", where=comparison.name, remedy="Take it off the folio first.")
