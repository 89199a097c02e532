from django.apps import AppConfig


class ComparisonsConfig(AppConfig):
    name = "server.comparisons"
