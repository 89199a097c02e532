from django.urls import path

from server.comparisons import arriving, asking, exporting, views

urlpatterns = [
    path("forms", views.Forms.as_view()),
    path("layers/<slug:layer>/pictures", views.Pictures.as_view()),
    path("comparisons", views.Comparisons.as_view()),
    path("comparisons/<uuid:comparison_id>/newest", views.TakeNewest.as_view()),
    path("comparisons/<uuid:comparison_id>", views.OneComparison.as_view()),
    path("comparisons/<uuid:comparison_id>/trail", views.Trail.as_view()),
    path("comparisons/<uuid:comparison_id>/head", views.Head.as_view()),
    path("comparisons/<uuid:comparison_id>/scene", views.ComparisonScene.as_view()),
    path("comparisons/<uuid:comparison_id>/forms", asking.ComparisonForms.as_view()),
    path("comparisons/<uuid:comparison_id>/row", asking.RowOfComparison.as_view()),
    path("comparisons/<uuid:comparison_id>/left-out", asking.LeaveOut.as_view()),
    path("comparisons/<uuid:comparison_id>/rows", asking.RowsOfComparison.as_view()),
    path("comparisons/<uuid:comparison_id>/advice", asking.ComparisonAdvice.as_view()),
    path("comparisons/<uuid:comparison_id>/differences", asking.ComparisonDifferences.as_view()),
    path("comparisons/<uuid:comparison_id>/measures", asking.ComparisonMeasures.as_view()),
    path("comparisons/<uuid:comparison_id>/dismissed", views.DismissAdvice.as_view()),
    path("comparisons/<uuid:comparison_id>/trail/<int:number>", views.TrailRecipe.as_view()),
    path("comparisons/<uuid:comparison_id>/trail/<int:number>/name", views.StateName.as_view()),
    path("comparisons/<uuid:comparison_id>/lock", views.Lock.as_view()),
    path("comparisons/<uuid:comparison_id>/style", views.TakeStyle.as_view()),
    path("comparisons/<uuid:comparison_id>/versions", views.Versions.as_view()),
    path("comparisons/<uuid:comparison_id>/copies", views.Copies.as_view()),
    path("comparisons/<uuid:comparison_id>/export/<str:kind>", exporting.Export.as_view()),
    path("studies/<uuid:study_id>/bundles", arriving.Bundles.as_view()),
]
