from django.urls import path

from server.exporting import views

urlpatterns = [
    path("formats", views.Formats.as_view()),
    path("comparisons/<uuid:comparison_id>/export/<str:kind>", views.Export.as_view()),
]
