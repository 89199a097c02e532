from django.urls import path

from server.home.views import comparisons, search, studies

urlpatterns = [
    path("studies", studies.AllStudies.as_view()),
    path("studies/<uuid:study_id>", studies.OneStudy.as_view()),
    path("studies/<uuid:study_id>/pin", studies.PinOfStudy.as_view()),
    path("studies/<uuid:study_id>/together", studies.ComparisonsTogether.as_view()),
    path("studies/<uuid:study_id>/remarks", studies.RemarksOfStudy.as_view()),
    path("studies/<uuid:study_id>/activity", studies.ActivityOfStudy.as_view()),
    path("comparisons/<uuid:comparison_id>/uses", comparisons.UsesOfComparison.as_view()),
    path("search", search.Search.as_view()),
    path("recent", comparisons.Recent.as_view()),
]
