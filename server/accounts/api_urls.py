from django.contrib.auth.decorators import login_not_required
from django.urls import path

from server.accounts import views

urlpatterns = [
    path("session", views.Session.as_view()),
    path("session/again", login_not_required(views.SessionAgain.as_view())),
]
