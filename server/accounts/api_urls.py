from django.urls import path

from server.accounts import views

urlpatterns = [path("session", views.Session.as_view())]
