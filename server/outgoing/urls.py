from django.urls import path

from server.outgoing import views

urlpatterns = [
    path("outgoing", views.Outgoing.as_view()),
    path("outgoing/<uuid:outgoing_id>", views.OneOutgoing.as_view()),
    path("outgoing/<uuid:outgoing_id>/stop", views.StopOutgoing.as_view()),
    path("outgoing/<uuid:outgoing_id>/file", views.OutgoingFile.as_view()),
]
