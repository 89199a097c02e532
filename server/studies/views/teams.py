"""Teams, and what they may do in a study."""

from __future__ import annotations

import uuid

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from server.accounts.requests import PersonRequest
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.studies.access import owned_study, visible_to
from server.studies.bodies import KeptTeam, SetTeam, TeamsOfStudy, TeamStates
from server.studies.models import Study, Team
from server.studies.teams import change_team, end_team, leave_team, make_team, set_team, state_of, teams_in, teams_of


class Teams(Endpoint):
    """The teams of the signed-in person."""

    @extend_schema(responses=TeamStates)
    def get(self, request: PersonRequest) -> Response:
        """Those that they keep or are in."""
        return _teams(request)

    @extend_schema(request=KeptTeam, responses={200: TeamStates, 422: Fault})
    def post(self, request: PersonRequest) -> Response:
        """Make one; its maker keeps it."""
        wanted = body_of(request, KeptTeam)
        make_team(wanted.name, wanted.people, request.user)
        return _teams(request)


class OneTeam(Endpoint):
    """A team, for its keeper."""

    @extend_schema(request=KeptTeam, responses={200: TeamStates, 409: Fault, 422: Fault})
    def put(self, request: PersonRequest, team_id: uuid.UUID) -> Response:
        """Rename it, or say who is in it."""
        team = get_object_or_404(_kept_by(request), pk=team_id)
        wanted = body_of(request, KeptTeam)
        change_team(team, wanted.name, wanted.people, wanted.state)
        return _teams(request)

    @extend_schema(responses={204: None})
    def delete(self, request: PersonRequest, team_id: uuid.UUID) -> Response:
        """End it: its people leave the studies that they came into with it."""
        end_team(get_object_or_404(_kept_by(request), pk=team_id))
        return Response(status=204)


class LeaveTeam(Endpoint):
    """Going."""

    @extend_schema(responses={204: None})
    def delete(self, request: PersonRequest, team_id: uuid.UUID) -> Response:
        """Leave the team, and the studies that one came into with it."""
        leave_team(get_object_or_404(request.user.team_set.all(), pk=team_id), request.user)
        return Response(status=204)


class TeamsInStudy(Endpoint):
    """The teams of a study."""

    @extend_schema(operation_id="teams_of_study", responses=TeamsOfStudy)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """With their people and roles."""
        return Response(TeamsOfStudy(teams_in(visible_to(Study.objects.all(), request.user, study_id))))

    @extend_schema(operation_id="set_team", request=SetTeam, responses={200: TeamsOfStudy, 409: Fault, 422: Fault})
    def put(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Let a team in, change its role, or take it out; for owners."""
        study = owned_study(request.user, study_id)
        set_team(study, body_of(request, SetTeam), request.user)
        return Response(TeamsOfStudy(teams_in(study)))


def _kept_by(request: PersonRequest) -> QuerySet[Team]:
    return request.user.kept_team_set.select_related("keeper")


def _teams(request: PersonRequest) -> Response:
    teams = teams_of(request.user).select_related("keeper").prefetch_related("people")
    return Response(TeamStates([state_of(team, request.user) for team in teams]))
