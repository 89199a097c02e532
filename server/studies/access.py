"""From an address to something the signed-in person may use: 404 for strangers, 403 for those who may not see or do as much."""

from __future__ import annotations

import uuid
from typing import TypeVar

from django.core.exceptions import PermissionDenied
from django.db import models
from django.http import Http404
from django.shortcuts import get_object_or_404

from server.accounts.models import Person
from server.studies.models import Study, WithinStudies

M = TypeVar("M", bound=models.Model)


def as_uuid(text: str) -> uuid.UUID:
    """An id from an address. Raises Http404 for anything else."""
    try:
        return uuid.UUID(text)
    except ValueError:
        raise Http404 from None


def visible_to(rows: WithinStudies[M], person: Person, id: object) -> M:
    """The object, for whoever may look at it."""
    return get_object_or_404(rows.seen_by(person), pk=id)


def readable_by(rows: WithinStudies[M], person: Person, id: object) -> M:
    """The object, for whoever may see the rows behind it."""
    result = rows.read_by(person).filter(pk=id).first()
    if result is None:
        visible_to(rows, person, id)
        raise PermissionDenied
    return result


def editable_by(rows: WithinStudies[M], person: Person, id: object) -> M:
    """The object, for whoever may change it."""
    result = rows.changed_by(person).filter(pk=id).first()
    if result is None:
        visible_to(rows, person, id)
        raise PermissionDenied
    return result


def owned_study(person: Person, study_id: uuid.UUID) -> Study:
    """The study, for its owners: 404 for strangers, 403 for those who only work in it."""
    study = Study.objects.owned_by(person).filter(pk=study_id).first()
    if study is None:
        visible_to(Study.objects.all(), person, study_id)
        raise PermissionDenied
    return study
