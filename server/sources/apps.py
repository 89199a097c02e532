from django.apps import AppConfig


class SourcesConfig(AppConfig):
    name = "server.sources"
