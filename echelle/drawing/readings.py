"""The readings of a figure as a file: a row for each lane."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np
import orjson
import polars as pl

from echelle.scene.models import LaneReadings, Scene
from echelle.tables.column_builders import measure_of, words_of
from echelle.tables.storage.writers import rows_file
from echelle.tables.table import Column, Table

ReadingsFormat = Literal["csv", "xlsx", "json"]
_NOT_COLUMNS = {"lane", "outliers", "limits", "outliers_cut", "inside", "named"}


def readings_file(scene: Scene, file_format: ReadingsFormat) -> bytes:
    """Every number of every lane, in full digits."""
    if file_format == "json":
        readings = [reading.model_dump(mode="json") for reading in scene.readings]
        return orjson.dumps(readings, option=orjson.OPT_INDENT_2 | orjson.OPT_APPEND_NEWLINE)
    return rows_file(_table(scene), file_format).data


def _table(scene: Scene) -> Table:
    panels = {panel.key: panel.name for panel in scene.panels}
    panel_of = {lane.key: panels.get(lane.panel, "") for lane in scene.lanes}
    columns: list[Column] = []
    if any(panel_of.values()):
        columns.append(
            words_of("panel", "category", pl.Series([panel_of.get(readings.lane, "") for readings in scene.readings]))
        )
    for name in LaneReadings.model_fields:
        if name in _NOT_COLUMNS:
            continue
        cells = [getattr(reading, name) for reading in scene.readings]
        if name in ("group", "subgroup"):
            if any(cell is not None for cell in cells):
                columns.append(words_of(name, "category", pl.Series(cells, dtype=pl.String)))
            continue
        columns.append(_numbers(name, cells))
    for name in dict.fromkeys(inside.name for readings in scene.readings for inside in readings.inside):
        held = [next((inside for inside in readings.inside if inside.name == name), None) for readings in scene.readings]
        columns.append(_numbers(f"{name}: n", [None if readings is None else readings.count for readings in held]))
        columns.append(_numbers(f"{name}: share", [None if readings is None else readings.share for readings in held]))
    for name in dict.fromkeys(reading.name for readings in scene.readings for reading in readings.named):
        named = [next((reading for reading in readings.named if reading.name == name), None) for readings in scene.readings]
        for part in ("value", "low", "high"):
            columns.append(
                _numbers(f"{name}: {part}", [None if reading is None else getattr(reading, part) for reading in named])
            )
    return Table(tuple(columns), len(scene.readings))


def _numbers(name: str, cells: Sequence[float | None]) -> Column:
    return measure_of(name, np.array([np.nan if cell is None else cell for cell in cells], dtype=np.float64))
