from django.urls import path

from server.studies import views

urlpatterns = [
    path("studies", views.AllStudies.as_view()),
    path("studies/<uuid:study_id>", views.OneStudy.as_view()),
    path("studies/<uuid:study_id>/house", views.House.as_view()),
    path("studies/<uuid:study_id>/guides", views.Guides.as_view()),
    path("studies/<uuid:study_id>/least-cell", views.LeastCellOfStudy.as_view()),
    path("studies/<uuid:study_id>/record", views.RecordOfStudy.as_view()),
    path("studies/<uuid:study_id>/record.csv", views.RecordFile.as_view()),
    path("studies/<uuid:study_id>/people", views.Members.as_view()),
]
