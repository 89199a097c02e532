from django.urls import path

from server.uploads import views

urlpatterns = [
    path("tables/<uuid:table_id>/read", views.ReadAgain.as_view()),
    path("uploads", views.Uploads.as_view()),
    path("uploads/<uuid:job_id>", views.UploadJob.as_view()),
    path("uploads/<uuid:job_id>/stop", views.StopUpload.as_view()),
]
