"""Tables that hold one group a row, or repeats side by side: offered to be turned round, never turned unasked."""

from __future__ import annotations

import re
from collections import defaultdict

from echelle.tables.table import Column, Remark, Remedy

_NUMBERED = re.compile(r"^(.*?)[ _.\-·#]*(\d+)$")
_LEAST = 3


def turned_remarks(columns: list[Column]) -> list[Remark]:
    """One remark for each run of numbered columns of numbers ("rep 1", "rep 2", "rep 3") beside a column of words."""
    if all(column.kind == "measure" for column in columns):
        return []
    stems: dict[tuple[str, str | None], list[str]] = defaultdict(list)
    for column in columns:
        if column.kind == "measure" and (match := _NUMBERED.match(column.name)) and match[1].strip():
            stems[match[1].strip(), column.unit].append(column.name)
    remarks = []
    taken = {column.name for column in columns}
    for (stem, _), names in stems.items():
        if len(names) < _LEAST:
            continue
        values = stem if stem not in taken else f"{stem} value"
        which = f"{stem} number" if f"{stem} number" not in taken else f"which {stem}"
        step = {"step": "wide to long", "columns": names, "names": which, "values": values}
        remarks.append(
            Remark(
                "read-wide",
                {"first": names[0], "last": names[-1], "count": len(names)},
                names[0],
                remedies=(Remedy("undo-wide", steps=(step,)),),
            )
        )
    return remarks
