from django.urls import path

from server.sources import views

urlpatterns = [
    path("sources", views.OwnSources.as_view()),
    path("studies/<uuid:study_id>/sources", views.BringSource.as_view()),
    path("tables/<uuid:table_id>/look-again", views.LookAgain.as_view()),
    path("tables/<uuid:table_id>/countings", views.Countings.as_view()),
    path("countings/<int:counting_id>/stop", views.StopCounting.as_view()),
    path("countings/<int:counting_id>/go-on", views.GoOn.as_view()),
]
