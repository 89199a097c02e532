from django.urls import path

from server.folios import views

urlpatterns = [
    path("folios", views.Folios.as_view()),
    path("folios/<uuid:folio_id>", views.OneFolio.as_view()),
    path("folios/<uuid:folio_id>/lock", views.LockFolio.as_view()),
    path("folios/<uuid:folio_id>/versions", views.FolioVersions.as_view()),
    path("folios/<uuid:folio_id>/pages", views.PagesOfFolio.as_view()),
    path("folios/<uuid:folio_id>/export/<str:kind>", views.ExportFolio.as_view()),
]
