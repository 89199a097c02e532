from django.urls import path

from server.file_jobs import views

urlpatterns = [
    path("file-jobs", views.FileJobs.as_view()),
    path("file-jobs/<uuid:file_job_id>", views.FileJobDetail.as_view()),
    path("file-jobs/<uuid:file_job_id>/stop", views.StopFileJob.as_view()),
    path("file-jobs/<uuid:file_job_id>/file", views.FileJobFile.as_view()),
]
