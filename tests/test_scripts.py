"""The two commands: what they say, and the small tools they share. (Installing is proved on a fresh machine.)"""

from __future__ import annotations

import os
import re
import subprocess
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parent.parent


def bash(store: Path, script: str) -> subprocess.CompletedProcess[str]:
    """Run lines after sourcing what ./run and ./test share, on a store of their own."""
    lines = f". '{ROOT}/scripts/common.sh'\nprepare_store\n{script}"
    env = {**os.environ, "ECHELLE_STORE": str(store)}
    return subprocess.run(["bash", "-c", lines], capture_output=True, text=True, env=env, check=False)


def test_help_names_every_way_to_run() -> None:
    done = subprocess.run([ROOT / "run", "--help"], capture_output=True, text=True, check=True)
    readme = (ROOT / "README.md").read_text()
    for flag in ("--port", "--dev", "--example", "--add-person", "--fresh"):
        assert flag in done.stdout and flag in readme


def test_an_unknown_flag_shows_the_help_and_ends() -> None:
    done = subprocess.run([ROOT / "run", "--frsh"], capture_output=True, text=True, check=False)
    assert done.returncode == 2 and "--fresh" in done.stderr


def test_settings_are_kept_for_the_owner_alone(tmp_path: Path) -> None:
    done = bash(tmp_path, "keep_setting A one; keep_setting B 'two=2'; keep_setting A three; setting A; setting B; setting C")
    assert done.stdout.split() == ["three", "two=2"]
    assert (tmp_path / "settings.env").stat().st_mode & 0o077 == 0


def test_a_stamp_holds_until_a_file_changes(tmp_path: Path) -> None:
    file = tmp_path / "list.txt"
    file.write_text("one")
    check = f"stamped x '{file}' && echo fresh || echo stale"
    script = f"{check}; fresh x '{file}'; {check}; echo two >'{file}'; {check}"
    assert bash(tmp_path, script).stdout.split() == ["stale", "fresh", "stale"]


def test_a_full_disk_and_missing_root_are_told_with_a_remedy(tmp_path: Path) -> None:
    full = bash(tmp_path, "df() { printf 'h\\nx 1 1 12 9%% /\\n'; }; need_room /; echo went on")
    assert full.returncode == 1 and "only 12 MB are free" in full.stderr and "went on" not in full.stdout
    nobody = bash(tmp_path, "id() { echo 1000; }; command() { return 1; }; as_root true; echo went on")
    assert nobody.returncode == 1 and "needs root or sudo" in nobody.stderr and "went on" not in nobody.stdout


def test_a_taken_port_is_seen(tmp_path: Path) -> None:
    script = """
    port=$(free_port); port_taken $port && echo taken || echo free
    "$VENV/bin/python" -m http.server --bind 127.0.0.1 $port >/dev/null 2>&1 & server=$!
    for _ in $(seq 100); do port_taken $port && break; sleep 0.1; done
    port_taken $port && echo taken || echo free
    kill $server
    """
    assert bash(tmp_path, script).stdout.split() == ["free", "taken"]


@pytest.mark.parametrize("name", ["app", "test", "node"])
def test_packages_are_pinned_by_hash_and_without_addresses(name: str) -> None:
    text = (ROOT / "requirements" / f"{name}.txt").read_text()
    pins = re.findall(r"^([a-z0-9][\w.\-]*(?:\[[\w,]+\])?)==", text, re.M)
    assert pins and text.count("--hash=sha256:") >= len(pins)
    assert "http" not in text and "--index" not in text


@pytest.mark.parametrize("folder", ["web", "web/codegen"])
def test_lock_files_hold_no_addresses(folder: str) -> None:
    text = (ROOT / folder / "package-lock.json").read_text()
    assert '"resolved"' not in text and "integrity" in text


STARTED = "start_database\n"
# What the application's role tries with a value that does not fit: the value may stand in no log.
SPOIL = """sql echelle echelle "CREATE TABLE t (v varchar(3) NOT NULL CHECK (v <> 'x'))"
sql echelle echelle "INSERT INTO t VALUES ('secret-value')" 2>/dev/null || true
sql echelle echelle "INSERT INTO t VALUES ('secret-value'::varchar(3))" 2>/dev/null || true
sql echelle echelle "SELECT 'secret-value'::int" 2>/dev/null || true
"""


def test_a_store_has_a_database_of_its_own_closed_to_others(tmp_path: Path) -> None:
    first, copy, late = tmp_path / "first", tmp_path / "copy", tmp_path / "late"
    rights = 'sql echelle echelle "SELECT rolsuper::text || rolcreatedb::text FROM pg_roles WHERE rolname = current_user"'
    up = bash(first, f"{STARTED}{SPOIL}{rights}\nsetting DB_PORT\n")
    try:
        assert up.returncode == 0, up.stderr
        assert up.stdout.split()[-2] == "falsefalse"
        assert "secret" not in (first / "pg.log").read_text()
        others = [path for path in [first, *first.iterdir()] if path.stat().st_mode & 0o077]
        assert others == []
        subprocess.run(["cp", "-a", first, copy], check=True)
        refused = bash(copy, STARTED)
        assert refused.returncode == 1 and "a copy of one that was in use" in refused.stderr
        assert bash(first, "database_up && echo up").stdout.strip() == "up"
    finally:
        bash(first, "DATABASE_OURS=yes; stop_database")
    # Copied by whoever may: its files get their owner, its server a port of its own, and the original goes on.
    subprocess.run(["cp", "-r", first, late], check=True)
    port = bash(first, f"{STARTED}setting DB_PORT").stdout.split()[-1]
    try:
        again = bash(late, f"{STARTED}sql echelle echelle 'SELECT count(*) FROM t'\nsetting DB_PORT\nstop_database")
        assert again.returncode == 0, again.stderr
        assert again.stdout.split()[-2] == "1" and again.stdout.split()[-1] != port
        assert bash(first, "database_up && echo up").stdout.strip() == "up"
    finally:
        bash(first, "DATABASE_OURS=yes; stop_database")


def test_a_backup_is_restored_into_an_empty_store(tmp_path: Path) -> None:
    first, second, file = tmp_path / "first", tmp_path / "second", tmp_path / "kept"
    made = bash(
        first, f"{STARTED}sql echelle echelle 'CREATE TABLE t AS SELECT 41 + 1 AS v'\nsetting SECRET_KEY\nstop_database"
    )
    key = made.stdout.split()[-1]

    def script(name: str, store: Path) -> subprocess.CompletedProcess[str]:
        env = {**os.environ, "ECHELLE_STORE": str(store), "RESTORE_ALONE": "yes"}
        return subprocess.run([ROOT / "scripts" / name, file], capture_output=True, text=True, env=env, check=False)

    assert script("backup.sh", first).returncode == 0 and file.stat().st_mode & 0o077 == 0
    assert script("restore.sh", first).returncode == 1
    restored = script("restore.sh", second)
    assert restored.returncode == 0, restored.stderr
    again = bash(second, f"{STARTED}sql echelle echelle 'SELECT v FROM t'\nsetting SECRET_KEY\nstop_database")
    assert again.stdout.split()[-2:] == ["42", key]
