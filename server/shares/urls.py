from django.urls import path

from server.shares import views

urlpatterns = [
    path("comparisons/<uuid:comparison_id>/shares", views.ComparisonShares.as_view()),
    path("folios/<uuid:folio_id>/shares", views.FolioShares.as_view()),
    path("shares/<uuid:share_id>", views.OneShare.as_view()),
    path("studies/<uuid:study_id>/shares", views.SharesOfStudy.as_view()),
    path("studies/<uuid:study_id>/outside-links", views.OutsideLinks.as_view()),
]
