from django.urls import path

from server.comparisons.views import advice, bundle_import, comparisons, forms, previews, rows, trail

urlpatterns = [
    path("forms", forms.Forms.as_view()),
    path("layers/<slug:layer>/pictures", forms.Pictures.as_view()),
    path("comparisons", comparisons.Comparisons.as_view()),
    path("comparisons/<uuid:comparison_id>/newest", comparisons.TakeNewest.as_view()),
    path("comparisons/<uuid:comparison_id>", comparisons.OneComparison.as_view()),
    path("comparisons/<uuid:comparison_id>/shelf", comparisons.ShelfOfComparison.as_view()),
    path("comparisons/<uuid:comparison_id>/mark", comparisons.MarkOfComparison.as_view()),
    path("comparisons/<uuid:comparison_id>/trail", trail.Trail.as_view()),
    path("comparisons/<uuid:comparison_id>/states", trail.States.as_view()),
    path("comparisons/<uuid:comparison_id>/head", trail.Head.as_view()),
    path("comparisons/<uuid:comparison_id>/scene", previews.ComparisonScene.as_view()),
    path("comparisons/<uuid:comparison_id>/form/<slug:form>", previews.RecipeInForm.as_view()),
    path("comparisons/<uuid:comparison_id>/questions", previews.OtherQuestions.as_view()),
    path("comparisons/<uuid:comparison_id>/forms", previews.ComparisonForms.as_view()),
    path("comparisons/<uuid:comparison_id>/row", rows.RowOfComparison.as_view()),
    path("comparisons/<uuid:comparison_id>/left-out", rows.LeaveOut.as_view()),
    path("comparisons/<uuid:comparison_id>/rows", rows.RowsOfComparison.as_view()),
    path("comparisons/<uuid:comparison_id>/advice", advice.ComparisonAdvice.as_view()),
    path("comparisons/<uuid:comparison_id>/differences", advice.ComparisonDifferences.as_view()),
    path("comparisons/<uuid:comparison_id>/measures", previews.ComparisonMeasures.as_view()),
    path("comparisons/<uuid:comparison_id>/dismissed", comparisons.DismissAdvice.as_view()),
    path("comparisons/<uuid:comparison_id>/trail/<int:number>", trail.TrailRecipe.as_view()),
    path("comparisons/<uuid:comparison_id>/trail/<int:number>/name", trail.StateName.as_view()),
    path("comparisons/<uuid:comparison_id>/lock", comparisons.Lock.as_view()),
    path("comparisons/<uuid:comparison_id>/style", comparisons.TakeStyle.as_view()),
    path("comparisons/<uuid:comparison_id>/versions", comparisons.Versions.as_view()),
    path("comparisons/<uuid:comparison_id>/copies", comparisons.Copies.as_view()),
    path("studies/<uuid:study_id>/bundles", bundle_import.Bundles.as_view()),
]
