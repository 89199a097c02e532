from django.urls import path

from server.accounts import views

urlpatterns = [
    path("sign-in", views.SignIn.as_view(), name="sign-in"),
    path("sign-out", views.sign_out, name="sign-out"),
    path("account", views.account, name="account"),
    path("enter/<str:secret>", views.one_time_link, name="one-time-link"),
]
