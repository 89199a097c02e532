from django.urls import path

from server.studies.views import guides, house, invitations, people, record, teams

urlpatterns = [
    path("studies/<uuid:study_id>/house", house.House.as_view()),
    path("studies/<uuid:study_id>/guides", guides.Guides.as_view()),
    path("studies/<uuid:study_id>/least-cell", record.LeastCellOfStudy.as_view()),
    path("studies/<uuid:study_id>/record", record.RecordOfStudy.as_view()),
    path("studies/<uuid:study_id>/record.csv", record.RecordFile.as_view()),
    path("studies/<uuid:study_id>/people", people.Members.as_view()),
    path("studies/<uuid:study_id>/people/me", people.Leave.as_view()),
    path("teams", teams.Teams.as_view()),
    path("teams/<uuid:team_id>", teams.OneTeam.as_view()),
    path("teams/<uuid:team_id>/people/me", teams.LeaveTeam.as_view()),
    path("studies/<uuid:study_id>/teams", teams.TeamsInStudy.as_view()),
    path("studies/<uuid:study_id>/invitations", invitations.Invitations.as_view()),
    path("studies/<uuid:study_id>/invitations/<uuid:invitation_id>", invitations.OneInvitation.as_view()),
]
