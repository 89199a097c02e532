"""What is kept of a source: the list of its files, its columns' names, and a sample of its rows."""

from __future__ import annotations

from dataclasses import asdict
from pathlib import Path

import orjson

from echelle.errors import InputError
from echelle.far.counted_table import FarSample, reading_of_source
from echelle.far.far_table import FarTable
from echelle.far.manifest import Manifest, Part, manifest_of, root_of
from echelle.tables.reading.subprocess_reader import lay_down, meta_of
from echelle.tables.table import Table


def record_of(manifest: Manifest, sample: FarSample) -> bytes:
    """The list of a source's files as JSON, without where they lie."""
    record = asdict(manifest) | {"raw_names": sample.raw_names, "separator": sample.separator}
    del record["root"]
    return orjson.dumps(record, option=orjson.OPT_INDENT_2)


def far_table_from(record: bytes, address: str, sample: Table) -> FarTable:
    """Back from :func:`record_of`, with where the files lie and the sample's rows."""
    kept = orjson.loads(record)
    parts = tuple(
        Part(part["name"], part["size"], part["mark"], part["rows"], tuple((name, level) for name, level in part["levels"]))
        for part in kept["parts"]
    )
    single = kept.get("single", False)
    manifest = Manifest(root_of(address, single), kept["format"], parts, single)
    return FarTable(manifest, FarSample(sample, tuple(kept["raw_names"]), kept["separator"]))


def read_source_into(folder: Path, address: str) -> None:
    """What a child process does with a source: list it and read its sample; what came of it lies in the folder as meta.json,
    source.json and a file a column. Raises InputError where it cannot be read, or does not say how many rows it has.
    """
    manifest = manifest_of(address)
    if manifest.rows is None:
        raise InputError("its files do not say how many rows they have", remedy="Bring Parquet files.")
    reading, sample = reading_of_source(manifest)
    meta = meta_of(reading)
    meta["options"] |= {"format": manifest.format, "sample_rows": reading.table.rows, "files": len(manifest.parts)}
    meta["rows"] = manifest.rows
    lay_down(folder, reading.table, meta)
    folder.joinpath("source.json").write_bytes(record_of(manifest, sample))
