from django.urls import path

from server.shares import pages

urlpatterns = [
    path("shared/<str:token>", pages.shared),
    path("shared/<str:token>/<str:kind>", pages.shared_file),
]
