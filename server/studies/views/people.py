"""Who is in a study."""

from __future__ import annotations

import uuid
from datetime import timedelta

from django.core.exceptions import PermissionDenied
from django.db import transaction
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from echelle.errors import InputError
from server.accounts.models import Person
from server.accounts.requests import PersonRequest
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.records.models import count_since, record
from server.studies.access import owned_study, visible_to
from server.studies.bodies import (
    Member,
    MemberList,
    SetMember,
)
from server.studies.models import Membership, Role, Study

MOST_UNKNOWN = 10


class Members(Endpoint):
    """Who is in a study."""

    @extend_schema(responses=MemberList)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Its people and their roles."""
        return Response(_members(visible_to(Study.objects.all(), request.user, study_id)))

    @extend_schema(request=SetMember, responses={200: MemberList, 422: Fault})
    def put(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Let someone in, change a role, or take someone out; for owners. The last owner stays."""
        study = owned_study(request.user, study_id)
        wanted = body_of(request, SetMember)
        if count_since(request.user.username, "unknown name", timezone.now() - timedelta(hours=1)) >= MOST_UNKNOWN:
            raise InputError("too many names were tried that nobody has", remedy="Try again in an hour.")
        person = Person.objects.filter(username=wanted.username).first()
        if person is None:
            record(request.user.username, "unknown name", study.pk)
            raise InputError(f"nobody here is called “{wanted.username}”", remedy="Ask for an account for them first.")
        with transaction.atomic():
            # Changes of people go one after the other: the last owner stays whoever takes whom out.
            Study.objects.select_for_update().get(pk=study.pk)
            if not Study.objects.owned_by(request.user).filter(pk=study.pk).exists():
                raise PermissionDenied
            if wanted.role is None:
                Membership.objects.filter(study=study, person=person).delete()
            else:
                given = {"role": wanted.role, "may_sign": wanted.may_sign}
                Membership.objects.update_or_create(study=study, person=person, defaults=given)
            must_keep_an_owner(study)
            role = wanted.role or "out"
            record(request.user.username, "role set", study.pk, of=wanted.username, role=role, may_sign=wanted.may_sign)
        return Response(_members(study))


def _members(study: Study) -> MemberList:
    rows = study.membership_set.select_related("person").order_by("person__username")
    return MemberList(
        [Member(username=m.person.username, name=m.person.shown_name, role=m.role, may_sign=m.may_sign) for m in rows]
    )


class Leave(Endpoint):
    """Going."""

    @extend_schema(responses={204: None, 422: Fault})
    def delete(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Leave the study. The last owner stays until somebody else is one."""
        study = visible_to(Study.objects.all(), request.user, study_id)
        with transaction.atomic():
            Study.objects.select_for_update().get(pk=study.pk)
            Membership.objects.filter(study=study, person=request.user).delete()
            must_keep_an_owner(study)
            record(request.user.username, "left", study.pk)
        return Response(status=204)


def must_keep_an_owner(study: Study) -> None:
    """Raises InputError for a study that nobody owns."""
    if not Membership.objects.filter(study=study, role=Role.OWNER).exists():
        raise InputError("a study keeps at least one owner", remedy="Make someone else an owner first.")
