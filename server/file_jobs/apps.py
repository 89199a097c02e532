from django.apps import AppConfig


class FileJobsConfig(AppConfig):
    """Files that the worker makes."""

    name = "server.file_jobs"
    # Stores that exist know the app by this label.
    label = "outgoing"

    def ready(self) -> None:
        """What is erased takes its files along."""
        from server.file_jobs import signals  # noqa: F401
