"""What a far table is: its parts, in the order of their names, and the columns that all of them have."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path, PurePosixPath
from typing import IO, Any, Literal

import pyarrow as pa

from echelle.errors import InputError

PartFormat = Literal["parquet", "csv"]
MOST_PARTS = 100_000
ENDINGS: dict[str, PartFormat] = {".parquet": "parquet", ".pq": "parquet", ".csv": "csv", ".tsv": "csv", ".txt": "csv"}
# The end of a Parquet file holds what it says of its values.
_END = 1 << 16


@dataclass(frozen=True)
class Part:
    """A file: its name below the source's root, its size in bytes and what tells its content from another's: the store's own
    tag, or size, time and a digest of its end. ``rows`` is None where the file does not say; ``levels`` are those of columns
    that its folders name (year=2026).
    """

    name: str
    size: int
    mark: str
    rows: int | None = None
    levels: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class Manifest:
    """The parts of a source below its root; the data's version is its :attr:`digest`. ``single`` says that its address is that
    of one file.
    """

    root: str
    format: PartFormat
    parts: tuple[Part, ...]
    single: bool = False

    @cached_property
    def digest(self) -> str:
        """SHA-256 over the parts' names and marks."""
        listed = "\n".join(f"{part.name}\t{part.mark}" for part in self.parts)
        return hashlib.sha256(listed.encode()).hexdigest()

    @property
    def size(self) -> int:
        """Bytes of all parts."""
        return sum(part.size for part in self.parts)

    @property
    def rows(self) -> int | None:
        """Rows of all parts; None where a part does not say."""
        counts = [part.rows for part in self.parts if part.rows is not None]
        return sum(counts) if len(counts) == len(self.parts) else None


def root_of(address: str, single: bool) -> str:
    """Where the names of parts begin: the folder, that of a ``single`` file, or the last one before a pattern."""
    from fsspec.core import url_to_fs

    files, root = url_to_fs(address)
    start = root
    if single:
        start = root.rpartition("/")[0]
    elif _is_pattern(root):
        start = re.split(r"[*?[]", root)[0].rpartition("/")[0]
    return str(files.unstrip_protocol(start))


def _is_pattern(root: str) -> bool:
    return re.search(r"[*?[]", root) is not None


def manifest_of(address: str) -> Manifest:
    """The parts below a folder or behind a pattern, or a single file, of the local disk or of a store that fsspec knows.

    Raises InputError where there are none, where they are of several formats, or where folders name other columns.
    """
    from fsspec.core import url_to_fs

    with _store_faults(address):
        files, root = url_to_fs(address)
        single = bool(files.isfile(root))
        listed = files.glob if _is_pattern(root) else files.find
        found = {root: files.info(root)} if single else listed(root, detail=True)
        start = root_of(address, single)
        parts = sorted(_parts(files, found, url_to_fs(start)[1]), key=lambda part: part.name)
    if not parts:
        raise InputError("there are no Parquet or CSV files", where=address, remedy="Name a folder or a pattern of some.")
    if len(parts) > MOST_PARTS:
        raise InputError(f"{len(parts):,} files are more than {MOST_PARTS:,}", where=address, remedy="Make fewer, larger ones.")
    formats = sorted({ENDINGS[PurePosixPath(part.name).suffix.lower()] for part in parts})
    if len(formats) > 1:
        raise InputError(f"the files are of several formats ({', '.join(formats)})", where=address, remedy="Name those of one.")
    odd = next((part for part in parts if [n for n, _ in part.levels] != [n for n, _ in parts[0].levels]), None)
    if odd is not None:
        raise InputError("its folders name other columns than those of the first part", where=odd.name, remedy="Move it apart.")
    return Manifest(start, formats[0], tuple(parts), single)


@contextmanager
def _store_faults(where: str) -> Iterator[None]:
    """What a store raises as one error: its own faults have no class in common."""
    try:
        yield
    except InputError:
        raise
    except Exception as error:
        first = (str(error).splitlines() or [type(error).__name__])[0][:120]
        what = f"the source cannot be read ({first})"
        raise InputError(what, where=where, remedy="Check its address and rights.") from None


def _parts(files: Any, found: dict[str, dict[str, Any]], root: str) -> Iterator[Part]:
    for path, info in found.items():
        below = path.removeprefix(root).lstrip("/")
        places = PurePosixPath(below).parts
        hidden = any(place.startswith((".", "_")) for place in places)
        if info.get("type") != "file" or hidden or PurePosixPath(path).suffix.lower() not in ENDINGS:
            continue
        levels = [place.partition("=") for place in places[:-1] if "=" in place]
        size = int(info.get("size") or 0)
        rows = _rows_of(files, path) if ENDINGS[PurePosixPath(path).suffix.lower()] == "parquet" else None
        mark = _mark(files, path, info, size)
        yield Part(below, size, mark, rows, tuple((name, level) for name, _, level in levels))


def _rows_of(files: Any, path: str) -> int | None:
    try:
        with files.open(path, "rb") as file:
            extent = extent_of(file)
    except OSError:
        return None
    return extent[0] if extent else None


def extent_of(file: Path | IO[bytes]) -> tuple[int, int] | None:
    """How many rows and columns a Parquet file says it has; None where it says nothing, which shows when it is read."""
    from pyarrow.parquet import read_metadata

    try:
        claimed = read_metadata(file)
    except (pa.ArrowException, OSError, ValueError):
        return None
    return int(claimed.num_rows), int(claimed.num_columns)


def _mark(files: Any, path: str, info: dict[str, Any], size: int) -> str:
    tag = info.get("ETag") or info.get("etag") or info.get("md5")
    if tag:
        return f"{size}-{str(tag).strip(chr(34))}"
    end = files.cat_file(path, start=max(0, size - _END), end=size)
    return f"{size}-{info.get('mtime', '')}-{hashlib.sha256(end).hexdigest()[:32]}"


def opened(manifest: Manifest, part: Part) -> Any:
    """The part's bytes as a file. Raises InputError where the store does not give them."""
    from fsspec.core import url_to_fs

    with _store_faults(part.name):
        files, root = url_to_fs(manifest.root)
        return files.open(f"{root}/{part.name}", "rb")


def damaged(part: Part, error: Exception) -> InputError:
    """The error of a part that no reader understands."""
    first = (str(error).splitlines() or ["damaged"])[0][:120]
    return InputError(f"the part cannot be read ({first})", where=part.name, remedy="Write it again, or move it away.")
