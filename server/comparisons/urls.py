from django.urls import path

from server.comparisons import views

urlpatterns = [
    path("forms", views.Forms.as_view()),
    path("comparisons", views.Comparisons.as_view()),
    path("comparisons/<uuid:comparison_id>/newest", views.TakeNewest.as_view()),
    path("comparisons/<uuid:comparison_id>", views.OneComparison.as_view()),
    path("comparisons/<uuid:comparison_id>/trail", views.Trail.as_view()),
    path("comparisons/<uuid:comparison_id>/head", views.Head.as_view()),
    path("comparisons/<uuid:comparison_id>/scene", views.ComparisonScene.as_view()),
    path("comparisons/<uuid:comparison_id>/forms", views.ComparisonForms.as_view()),
    path("comparisons/<uuid:comparison_id>/row", views.RowOfComparison.as_view()),
    path("comparisons/<uuid:comparison_id>/left-out", views.LeaveOut.as_view()),
    path("comparisons/<uuid:comparison_id>/export/<str:file_format>", views.Export.as_view()),
]
