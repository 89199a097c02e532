"""Links that let people into a study: made by owners, taken up once by whoever has them."""

from __future__ import annotations

import uuid

from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_http_methods
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from server.accounts.forms import NewPersonForm
from server.accounts.models import Person
from server.accounts.requests import PersonRequest
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.studies.access import owned_study
from server.studies.bodies import InvitationState, InvitationStates, NewInvitation
from server.studies.invitations import find, invite, let_in, send_link
from server.studies.models import Invitation


class Invitations(Endpoint):
    """Who is asked in."""

    @extend_schema(responses=InvitationStates)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """The invitations that nobody took up yet, for owners."""
        open_ones = owned_study(request.user, study_id).invitation_set.select_related("by").order_by("until")
        return Response(InvitationStates([_state(invitation) for invitation in open_ones]))

    @extend_schema(request=NewInvitation, responses={200: InvitationState, 422: Fault})
    def post(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Another one. Its link is told once; it goes by mail too, where an address is given and mail is set up."""
        study = owned_study(request.user, study_id)
        wanted = body_of(request, NewInvitation)
        made, path = invite(study, wanted, request.user)
        mailed = bool(wanted.mail) and send_link(made, request._request.build_absolute_uri(path), wanted.mail)
        return Response(_state(made).model_copy(update={"path": path, "mailed": mailed}))


class OneInvitation(Endpoint):
    """An invitation."""

    @extend_schema(responses={204: None})
    def delete(self, request: PersonRequest, study_id: uuid.UUID, invitation_id: uuid.UUID) -> Response:
        """Take it back: its link leads nowhere from now on."""
        owned_study(request.user, study_id).invitation_set.filter(pk=invitation_id).delete()
        return Response(status=204)


def _state(invitation: Invitation) -> InvitationState:
    return InvitationState.model_validate(
        {
            "id": str(invitation.pk), "role": invitation.role, "may_sign": invitation.may_sign, "words": invitation.words,
            "by": invitation.by.shown_name, "until": invitation.until,
        }
    )  # fmt: skip


@login_not_required
@never_cache
@require_http_methods(["GET", "POST"])
def invited(request: HttpRequest, secret: str) -> HttpResponse:
    """What the link lets one into. Who is signed in comes in by a press; others choose a name and a password first."""
    invitation = find(secret)
    if invitation is None:
        return render(request, "studies/invitation_over.html", status=410)
    person = request.user if isinstance(request.user, Person) else None
    form = None if person else NewPersonForm(request.POST or None)
    if request.method == "POST" and (form is None or form.is_valid()):
        with transaction.atomic():
            entering = person or form.save()  # type: ignore[union-attr]
            if not let_in(invitation, entering):
                transaction.set_rollback(True)
                return render(request, "studies/invitation_over.html", status=410)
        if person is None:
            login(request, entering, backend="django.contrib.auth.backends.ModelBackend")
        return redirect(f"/studies/{invitation.study_id}")
    return render(request, "studies/invited.html", {"invitation": invitation, "form": form, "person": person, "secret": secret})
