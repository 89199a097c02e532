"""Who is in a study."""

from __future__ import annotations

import uuid

from django.core.exceptions import PermissionDenied
from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from echelle.errors import InputError
from server.accounts.models import Person
from server.accounts.requests import PersonRequest
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.records.models import record
from server.studies.access import owned_study, visible_to
from server.studies.bodies import Member, MemberList, SetMember
from server.studies.digests import member_digest, must_be_as_seen
from server.studies.models import Membership, Role, Study
from server.studies.teams import must_not_come_back, settle
from server.studies.unknown_names import person_called


class Members(Endpoint):
    """Who is in a study."""

    @extend_schema(responses=MemberList)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Its people and their roles."""
        return Response(_members(visible_to(Study.objects.all(), request.user, study_id)))

    @extend_schema(request=SetMember, responses={200: MemberList, 409: Fault, 422: Fault})
    def put(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Let someone in, change a role, or take someone out; for owners. The last owner stays."""
        study = owned_study(request.user, study_id)
        wanted = body_of(request, SetMember)
        mine = Person.objects.filter(username=wanted.username, membership__study=study).first()
        person = mine or person_called(wanted.username, request.user, study.pk)
        with transaction.atomic():
            # Changes of people go one after the other: the last owner stays whoever takes whom out.
            Study.objects.select_for_update().get(pk=study.pk)
            if not Study.objects.owned_by(request.user).filter(pk=study.pk).exists():
                raise PermissionDenied
            held = Membership.objects.filter(study=study, person=person).first()
            must_be_as_seen(wanted.state, member_digest(held), person.shown_name)
            if wanted.role is None:
                _take_out(study, person)
            else:
                given = {"role": wanted.role, "may_sign": wanted.may_sign, "team": None}
                Membership.objects.update_or_create(study=study, person=person, defaults=given)
            must_keep_an_owner(study)
            role = wanted.role or "out"
            record(request.user.username, "role set", study.pk, of=wanted.username, role=role, may_sign=wanted.may_sign)
        return Response(_members(study))


def _take_out(study: Study, person: Person) -> None:
    """Whoever is in a team of the study too has its role from then on. Raises InputError for one who has that already."""
    held = Membership.objects.filter(study=study, person=person)
    if held.exclude(team=None).exists():
        must_not_come_back(study, person)
    held.delete()
    settle([study])


def _members(study: Study) -> MemberList:
    rows = study.membership_set.select_related("person", "team").order_by("person__username")
    return MemberList(
        [
            Member(
                username=m.person.username, name=m.person.shown_name, role=m.role, may_sign=m.may_sign,
                team=m.team.name if m.team else "", active=m.person.is_active,
                state=member_digest(m),
            )
            for m in rows
        ]
    )  # fmt: skip


class Leave(Endpoint):
    """Going."""

    @extend_schema(responses={204: None, 422: Fault})
    def delete(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Leave the study. The last owner stays until somebody else is one."""
        study = visible_to(Study.objects.all(), request.user, study_id)
        with transaction.atomic():
            Study.objects.select_for_update().get(pk=study.pk)
            must_not_come_back(study, request.user)
            Membership.objects.filter(study=study, person=request.user).delete()
            must_keep_an_owner(study)
            record(request.user.username, "left", study.pk)
        return Response(status=204)


def must_keep_an_owner(study: Study) -> None:
    """Raises InputError for a study that nobody owns whose account works."""
    if not Membership.objects.filter(study=study, role=Role.OWNER, person__is_active=True).exists():
        raise InputError("a study keeps at least one owner", remedy="Make someone else an owner first.")
