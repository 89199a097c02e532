"""Tables coming in: kept whole or not at all."""

from __future__ import annotations

import hashlib
import io
import random
from pathlib import Path

import polars as pl
import pyarrow as pa
import pytest
from django.core.management import call_command
from django.db import connection
from django.test import Client

from echelle.child_process import ChildLimits, run_child
from echelle.errors import InputError
from echelle.tables.reading.subprocess_reader import read_into
from server.comparisons.models import Comparison
from server.studies.models import Study
from server.tables.models import DataTable, RawFile, RawPiece, ReadingJob, StoredColumn
from server.tables.services.cache import Cache, table_of
from server.tables.services.reading import ReadFile, quick_pool, read_apart
from tests.support.child import for_ever
from tests.support.uploads import bring, send
from tests.support.worker import work

GOOD = "who,ward,level\n" + "".join(f"P-{i:03d},{'AB'[i % 2]},{i + 0.5}\n" for i in range(30))


def stored() -> dict[str, int]:
    models = (Study, Comparison, DataTable, StoredColumn, RawFile, RawPiece, ReadingJob)
    return {model.__name__: model.objects.count() for model in models}


def test_the_raw_file_is_kept_byte_for_byte(people: dict[str, Client], study: Study, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("server.tables.services.reading.PIECE", 100)
    data = GOOD.replace("\n", "\r\n").encode("utf-16")
    assert bring(people["owner"], data, study=str(study.pk), name="a b.csv").status_code == 200
    raw = RawFile.objects.get()
    assert b"".join(raw.pieces()) == data and raw.rawpiece_set.count() == -(-len(data) // 100)
    assert raw.sha256 == hashlib.sha256(data).hexdigest() and raw.name == "a b.csv"
    with connection.cursor() as cursor:
        cursor.execute("SELECT attstorage FROM pg_attribute WHERE attrelid = 'tables_rawpiece'::regclass AND attname = 'data'")
        assert cursor.fetchone()[0] == "e"


def test_columns_come_back_as_read(people: dict[str, Client], study: Study) -> None:
    bring(people["owner"], GOOD, study=str(study.pk))
    table = table_of(DataTable.objects.get())
    assert [(c.name, c.kind) for c in table.columns] == [("who", "identifier"), ("ward", "category"), ("level", "measure")]
    assert table.columns[2].numbers is not None and table.columns[2].numbers.sum() == sum(i + 0.5 for i in range(30))


def test_a_table_may_begin_a_study(people: dict[str, Client]) -> None:
    answer = bring(people["stranger"], GOOD, new_study="My first")
    [card] = people["stranger"].get("/api/studies").json()
    assert card["name"] == "My first" and card["role"] == "owner"
    assert [c["id"] for c in card["comparisons"]] == [answer.json()["comparison"]]


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "empty"),
        (b"a,b\n", "No rows below the header"),
        (b"\x89PNG\r\n\x1a\n\x00\x00\x00", "a picture"),
        (",".join(f"c{i}" for i in range(20_000)).encode(), "20,000 columns"),
        (b"x" * 3000, "larger than the 0.002 MB"),
    ],
)
def test_a_refused_file_leaves_nothing(data: bytes, says: str, people: dict[str, Client], study: Study, settings) -> None:
    settings.UPLOAD_MEGABYTES = 0.2 if len(data) > 3000 else 0.002
    before = stored()
    for query in ({"study": str(study.pk)}, {"new_study": "Half"}):
        answer = bring(people["owner"], data, **query)
        fault = answer.json()
        assert answer.status_code in (413, 422) and set(fault) == {"what", "where", "remedy", "mends"}
        assert says.lower() in fault["what"].lower() and fault["remedy"] and fault["where"].startswith("levels.csv")
    assert stored() == before
    assert not settings.UPLOADS.exists() or not list(settings.UPLOADS.iterdir())


def upload_large(client: Client, data: str | bytes, **query: str) -> dict[str, object]:
    answer = bring(client, data, **query)
    assert answer.status_code == 200, answer.content
    return answer.json()


@pytest.fixture
def large(settings, transactional_db, people: dict[str, Client], study: Study) -> Study:
    """Every file counts as large."""
    settings.JOB_ABOVE_MEGABYTES = 0.000001
    return study


def test_a_large_file_is_read_by_the_worker(large: Study, people: dict[str, Client]) -> None:
    state = upload_large(people["owner"], GOOD, study=str(large.pk))
    assert state["state"] == "waiting" and not DataTable.objects.exists()
    work()
    state = people["owner"].get(f"/api/uploads/{state['id']}").json()
    assert (state["state"], state["progress"], state["fault"]) == ("done", 1.0, None)
    assert people["owner"].get(f"/api/comparisons/{state['comparison']}").json()["rows"] == 30


def test_a_large_file_that_is_refused_says_why_and_leaves_nothing(large: Study, people: dict[str, Client], settings) -> None:
    state = upload_large(people["owner"], "a,b\n", study=str(large.pk))
    work()
    state = people["owner"].get(f"/api/uploads/{state['id']}").json()
    assert state["state"] == "refused" and "no rows below the header" in state["fault"]["what"].lower()
    assert not DataTable.objects.exists() and not RawFile.objects.exists() and not list(settings.UPLOADS.iterdir())


def test_reading_can_be_stopped(large: Study, people: dict[str, Client], settings) -> None:
    state = upload_large(people["owner"], GOOD, study=str(large.pk))
    assert send(people["owner"], "post", f"uploads/{state['id']}/stop").json()["state"] == "stopped"
    work()
    assert not DataTable.objects.exists() and not list(settings.UPLOADS.iterdir())


def test_a_reading_cut_off_in_the_middle_is_taken_up_again(large: Study, people: dict[str, Client], settings) -> None:
    state = upload_large(people["owner"], GOOD, study=str(large.pk))
    ReadingJob.objects.update(state="reading", progress=0.4)
    (settings.UPLOADS / "left over").write_bytes(b"x")
    call_command("requeue_jobs")
    assert [path.name for path in settings.UPLOADS.iterdir()] == [state["id"]]
    work()
    assert people["owner"].get(f"/api/uploads/{state['id']}").json()["state"] == "done"
    assert Comparison.objects.count() == 1


def test_a_file_that_finds_no_turn_is_left_to_the_worker(people: dict[str, Client], study: Study, monkeypatch) -> None:
    monkeypatch.setattr("server.api.limits.WAIT_SECONDS", 0.05)
    with quick_pool.turn(), quick_pool.turn():
        state = bring(people["owner"], GOOD, study=str(study.pk)).json()
    assert state["state"] == "waiting" and ReadingJob.objects.get().path.exists()


def test_the_child_keeps_to_its_memory(tmp_path: Path) -> None:
    file, folder = tmp_path / "f.csv", tmp_path / "out"
    folder.mkdir()
    file.write_text("who,level\n" + "".join(f"name {i},{i}.5\n" for i in range(300_000)))
    with pytest.raises(InputError, match="memory"):
        run_child(read_into, folder, (file, {}), ChildLimits(megabytes=60, seconds=100))
    assert not (folder / "meta.json").exists()


def test_the_child_keeps_to_its_time(tmp_path: Path) -> None:
    with pytest.raises(InputError, match="1 seconds"):
        run_child(for_ever, tmp_path, (), ChildLimits(megabytes=2_000, seconds=1))


def test_a_cache_is_bounded_in_bytes() -> None:
    cache, made = Cache(0.001), []

    def get(key: int, size: int = 400) -> int:
        return cache.get(key, lambda: made.append(key) or key, lambda value: size)

    assert [get(1), get(2), get(1), get(3), get(1), get(2)] == [1, 2, 1, 3, 1, 2]
    assert made == [1, 2, 3, 2]
    get(9, size=5000)
    get(9, size=5000)
    assert made[-2:] == [9, 9]


def test_a_child_that_is_stopped_leaves_the_job_stopped(large: Study, people: dict[str, Client], monkeypatch) -> None:
    state = upload_large(people["owner"], GOOD, study=str(large.pk))

    def stop_soon(*_: object) -> ReadFile:
        ReadingJob.objects.filter(pk=state["id"]).update(state="stopped")
        return read_apart(*_)  # type: ignore[arg-type]

    monkeypatch.setattr("server.tables.services.reading.read_apart", stop_soon)
    work()
    job = ReadingJob.objects.get(pk=state["id"])
    assert (job.state, job.fault) == ("stopped", None) and not DataTable.objects.exists() and not job.path.exists()


def damaged_files() -> list[bytes]:
    """Files that no reader expects: typed columns of other kinds, cut containers, noise."""
    rng = random.Random(4)
    out, sink = io.BytesIO(), pa.BufferOutputStream()
    pl.DataFrame({"took": pl.Series([1, 2], dtype=pl.Duration("us")), "level": [1.5, 2.5]}).write_parquet(out)
    table = pa.table({"raw": pa.array([b"\xff\x00", None], type=pa.binary()), "level": [1.5, 2.5]})
    with pa.ipc.new_stream(sink, table.schema) as writer:
        writer.write_table(table)
    noise = [bytes(rng.randrange(256) for _ in range(300)) for _ in range(4)]
    starts = [b"PK\x03\x04", b"PAR1", b"ARROW1", b"\x1f\x8b", b"BZh", b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1", b"{", b"[", b"%PDF"]
    return [out.getvalue(), bytes(sink.getvalue()), out.getvalue()[:40], *noise, *(start + noise[0] for start in starts)]


@pytest.mark.parametrize("place", range(len(damaged_files())))
def test_no_upload_is_a_fault_of_the_server(place: int, people: dict[str, Client], study: Study) -> None:
    answer = bring(people["owner"], damaged_files()[place], study=str(study.pk))
    assert answer.status_code in (200, 201, 202, 422), answer.content
    assert answer.status_code != 422 or answer.json()["what"]
