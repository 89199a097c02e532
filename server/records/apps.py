from django.apps import AppConfig


class RecordsConfig(AppConfig):
    """The record of access."""

    name = "server.records"
