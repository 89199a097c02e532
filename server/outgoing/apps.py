from django.apps import AppConfig


class OutgoingConfig(AppConfig):
    name = "server.outgoing"
