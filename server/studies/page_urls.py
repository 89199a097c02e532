from django.urls import path

from server.studies.views.deactivation import own_deactivation
from server.studies.views.invitations import invited

urlpatterns = [
    path("invited/<str:secret>", invited, name="invited"),
    path("account/deactivate", own_deactivation, name="deactivate"),
]
