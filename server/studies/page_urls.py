from django.urls import path

from server.studies.views.invitations import invited

urlpatterns = [path("invited/<str:secret>", invited, name="invited")]
