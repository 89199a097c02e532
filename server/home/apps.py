from django.apps import AppConfig


class HomeConfig(AppConfig):
    """Where everything is found: studies, a study's page, search."""

    name = "server.home"

    def ready(self) -> None:
        """What is saved is searched from then on."""
        from server.home import signals  # noqa: F401
