from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "server.accounts"

    def ready(self) -> None:
        """Keep in the record who signs in and out, and who tries."""
        from server.accounts import signals  # noqa: F401 (it registers itself; models are not there before)
