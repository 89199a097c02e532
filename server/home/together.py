"""One act with several comparisons of a study; with which it could not be done, and why."""

from __future__ import annotations

import uuid
from collections.abc import Callable

from django.db import transaction

from echelle.errors import InputError
from echelle.folios.models import FolioPage
from server.accounts.models import Person
from server.api.faults import StaleRevision, fault_of
from server.comparisons.models import Comparison
from server.comparisons.services.copies import copy_to_study
from server.comparisons.services.newest import take_newest_data, take_newest_style
from server.comparisons.services.shelves import put_on_shelf
from server.folios.models import Folio
from server.home.bodies import Done, NotDone, Together
from server.studies.access import as_uuid, editable_by
from server.studies.models import Study
from server.studies.names import named

MOST_TAGS = 20


def do_together(study: Study, wanted: Together, person: Person) -> Done:
    """Do it with each; what is refused leaves that comparison as it was. Raises InputError where it can be done with none."""
    ids = [as_uuid(pk) for pk in dict.fromkeys(wanted.comparisons)]
    held = {comparison.pk: comparison for comparison in Comparison.objects.filter(study=study, pk__in=ids)}
    to = ""
    act: Callable[[Comparison], object]
    if wanted.act == "folio":
        folio = _folio(study, wanted.to, person)
        to, act = str(folio.pk), lambda comparison: _onto(folio.pk, comparison)
    elif wanted.act == "copy":
        target = editable_by(Study.objects.all(), person, as_uuid(wanted.to))
        to, act = str(target.pk), lambda comparison: copy_to_study(comparison, target, person)
    elif wanted.act == "tag":
        tag = named(wanted.to, "tag")[:40]
        act = lambda comparison: _tag(comparison, tag)  # noqa: E731
    elif wanted.act == "newest data":
        act = lambda comparison: take_newest_data(comparison, comparison.revision, person)  # noqa: E731
    elif wanted.act == "newest style":
        act = lambda comparison: take_newest_style(comparison.pk)  # noqa: E731
    else:
        shelf = wanted.act
        act = lambda comparison: put_on_shelf(comparison, shelf)  # noqa: E731
    refused = [fault for pk in ids if (fault := _tried(held.get(pk), pk, act)) is not None]
    return Done(done=len(ids) - len(refused), refused=refused, to=to)


def _tried(comparison: Comparison | None, pk: uuid.UUID, act: Callable[[Comparison], object]) -> NotDone | None:
    """Why it could not be done; None where it was."""
    try:
        if comparison is None:
            raise InputError("this comparison is not in the study", remedy="Reload the page.")
        with transaction.atomic():
            act(comparison)
    except InputError as error:
        return NotDone(comparison=str(pk), name=comparison.name if comparison else "", fault=fault_of(error))
    except StaleRevision as error:
        fault = fault_of(InputError(error.what, remedy=error.remedy))
        return NotDone(comparison=str(pk), name=comparison.name if comparison else "", fault=fault)
    return None


def _folio(study: Study, pk: str, person: Person) -> Folio:
    """The folio of an id; a new one for none."""
    if not pk:
        return Folio.objects.create(study=study, name="Folio", page=FolioPage().model_dump(mode="json"))
    folio = editable_by(Folio.objects.all(), person, as_uuid(pk))
    folio.must_be_open()
    if folio.study_id != study.pk:
        raise InputError("the folio is of another study", remedy="Choose one of this study.")
    return folio


def _onto(folio: uuid.UUID, comparison: Comparison) -> None:
    held = Folio.objects.select_for_update().get(pk=folio)
    if str(comparison.pk) not in held.figures:
        held.figures = [*held.figures, str(comparison.pk)]
        held.revision += 1
        held.save()


def _tag(comparison: Comparison, tag: str) -> None:
    if tag in comparison.tags:
        return
    if len(comparison.tags) >= MOST_TAGS:
        raise InputError(f"it has {MOST_TAGS} tags already", remedy="Take one off first.")
    comparison.tags = [*comparison.tags, tag]
    comparison.save(update_fields=["tags"])
