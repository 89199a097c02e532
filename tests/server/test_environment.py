"""Settings of the machine: the file of the store, the environment before it, and a wrong one named."""

from __future__ import annotations

from pathlib import Path

import pytest
from pydantic import ValidationError

from server.environment import read_environment


@pytest.fixture(autouse=True)
def store(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    (tmp_path / "settings.env").write_text("DB_PORT=5544\nSECRET_KEY=a=b\nCACHE_MEGABYTES=64\nOTHER=1\n")
    monkeypatch.setenv("ECHELLE_STORE", str(tmp_path))
    return tmp_path


def test_the_file_of_the_store_is_read_and_the_environment_goes_before_it(store: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("ECHELLE_CACHE_MEGABYTES", "8.5")
    environment = read_environment()
    assert environment.store == store
    assert (environment.db_port, environment.secret_key, environment.cache_megabytes) == (5544, "a=b", 8.5)
    assert environment.upload_megabytes == 200


@pytest.mark.parametrize(
    ("name", "value"), [("DB_PORT", "door"), ("UPLOAD_MEGABYTES", "0"), ("DEV", "perhaps"), ("CACHE_MEGABYTES", "-1")]
)
def test_a_wrong_setting_is_named(name: str, value: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv(f"ECHELLE_{name}", value)
    with pytest.raises(ValidationError, match=name.lower()):
        read_environment()
