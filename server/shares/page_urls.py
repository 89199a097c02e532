from django.urls import path

from server.shares import page_views

urlpatterns = [
    path("shared/<str:token>", page_views.shared),
    path("shared/<str:token>/<str:kind>", page_views.shared_file),
]
