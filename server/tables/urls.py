from django.urls import path

from server.tables import views

urlpatterns = [
    path("studies/<uuid:study_id>/tables", views.TablesOfStudy.as_view()),
    path("tables/<uuid:table_id>", views.OneTable.as_view()),
    path("tables/<uuid:table_id>/preparation", views.PreparationOfTable.as_view()),
    path("tables/<uuid:table_id>/try", views.TrySteps.as_view()),
    path("tables/<uuid:table_id>/rows", views.RowsOfTable.as_view()),
    path("tables/<uuid:table_id>/find", views.FindInTable.as_view()),
    path("tables/<uuid:table_id>/keys", views.KeysOfTable.as_view()),
    path("tables/<uuid:table_id>/left-out", views.LeaveOutOfTable.as_view()),
    path("tables/<uuid:table_id>/changes", views.ChangesOfTable.as_view()),
    path("tables/<uuid:table_id>/rows/<str:file_format>", views.RowsFileOfTable.as_view()),
]
