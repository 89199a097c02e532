"""Every address of the server."""

from django.urls import include, path, re_path

from server.shell.views import server_error, shell

handler500 = server_error

urlpatterns = [
    path("", include("server.accounts.urls")),
    path("api/", include("server.accounts.api_urls")),
    path("", include("server.studies.page_urls")),
    path("api/", include("server.studies.urls")),
    path("api/", include("server.tables.urls")),
    path("api/", include("server.uploads.urls")),
    path("api/", include("server.sources.urls")),
    path("api/", include("server.comparisons.urls")),
    path("api/", include("server.exporting.urls")),
    path("api/", include("server.folios.urls")),
    path("api/", include("server.shares.urls")),
    path("api/", include("server.file_jobs.urls")),
    path("api/", include("server.home.urls")),
    path("", include("server.shares.page_urls")),
    re_path(r"^(?:studies|comparisons|folios|tables)?(?:/.*)?$", shell, name="shell"),
]
