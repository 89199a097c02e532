"""What differs between machines, from ECHELLE_… variables or from .store/settings.env, which ./run writes."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

from pydantic import Field
from pydantic_settings import (
    BaseSettings,
    DotEnvSettingsSource,
    EnvSettingsSource,
    PydanticBaseSettingsSource,
    SettingsConfigDict,
)

ROOT = Path(__file__).resolve().parent.parent


class _Place(BaseSettings):
    """Where the store is, which must be known before its own file is read."""

    model_config = SettingsConfigDict(env_prefix="ECHELLE_", extra="ignore")
    store: Path = ROOT / ".store"


class Environment(BaseSettings):
    """One field a setting; a variable of the environment goes before the file of the store.

    Raises:
        pydantic.ValidationError: a setting is no number, or too small; it names the setting.
    """

    model_config = SettingsConfigDict(env_prefix="ECHELLE_", extra="ignore", frozen=True)
    store: Path
    dev: bool = False
    secret_key: str = ""
    hosts: str = "127.0.0.1,localhost"
    db_password: str = ""
    db_port: int = Field(5432, ge=1, le=65535)
    upload_megabytes: float = Field(200, gt=0)
    job_above_megabytes: float = Field(2, ge=0)
    count_workers: int = Field(0, ge=0, le=256, description="processes that count the files of far tables; 0: threads")
    cache_megabytes: float = Field(512, ge=0)
    mail_by: Literal["smtp", "filebased"] = "smtp"
    mail_host: str = Field("", description="of the mail server; without one nothing is mailed")
    mail_port: int = Field(587, ge=1, le=65535)
    mail_user: str = ""
    mail_password: str = ""
    mail_from: str = "echelle@localhost"
    trusted_proxy: str = Field("", description="address of the proxy whose word on the client's address is taken")

    @classmethod
    def settings_customise_sources(
        cls,
        settings_cls: type[BaseSettings],
        init_settings: PydanticBaseSettingsSource,
        env_settings: PydanticBaseSettingsSource,
        dotenv_settings: PydanticBaseSettingsSource,
        file_secret_settings: PydanticBaseSettingsSource,
    ) -> tuple[PydanticBaseSettingsSource, ...]:
        """In the file of the store the names stand without the prefix."""
        del dotenv_settings, file_secret_settings
        file = DotEnvSettingsSource(settings_cls, env_file=_Place().store / "settings.env", env_prefix="")
        return (init_settings, EnvSettingsSource(settings_cls), file)


def read_environment() -> Environment:
    """The settings of this machine."""
    return Environment(store=_Place().store)
