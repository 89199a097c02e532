"""What the reader says of a file: like remarks as one, and first what changes or drops a value."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from echelle.catalogue.catalogue import MessageValue
from echelle.tables.table import Remark, Remedy

_MOST_REMEDIES = 12
# Remarks on guesses that leave every value as it stands; all others change, drop or move something.
_GUESSES = frozenset(
    [
        "read-codes", "read-zeros", "read-long", "read-years", "read-names", "read-clock", "read-order", "read-units",
        "read-near-levels", "read-wide", "read-summaries", "read-spaces", "read-marks", "read-mark-kept", "read-nameless",
        "read-double-name", "read-richest", "read-code-page", "read-labels",
    ]
)  # fmt: skip
# What may stand once for several columns, and the values that must agree.
_BY_COLUMN = {
    "read-codes": ("kind",), "read-zeros": ("kind",), "read-long": (), "read-years": ("kind",), "read-names": (),
    "read-clock": (), "read-marks": ("marks",), "read-spelling": ("way",), "read-date-order": ("order",),
    "read-date-zone": ("zone",), "read-date-zones": (), "read-date-mixed": (), "read-compact-dates": (),
    "read-serial-dates": (), "read-decimal-column": ("mark",), "read-nameless": (), "read-mark-kept": ("marks",),
    "read-odd-decimal": (), "read-missing-code": ("code",), "read-double-name": (), "read-duration": (), "read-bytes": (),
}  # fmt: skip
_BY_LINE: dict[str, tuple[str, ...]] = {"read-above-heading": (), "read-tail": ("what",)}
_SUMMED = ("cells", "count")


def in_order(remarks: Sequence[Remark]) -> list[Remark]:
    """Like remarks joined; what changes or drops values first, then what stands in a record, then guesses about columns."""
    joined: list[Remark] = []
    groups: dict[tuple[object, ...], list[Remark]] = {}
    for remark in remarks:
        same = _BY_COLUMN.get(remark.message, _BY_LINE.get(remark.message))
        if same is None:
            joined.append(remark)
            continue
        key = (remark.message, *(remark.values.get(name) for name in same))
        if key not in groups:
            groups[key] = []
            joined.append(remark)
        groups[key].append(remark)
    by_first = {id(group[0]): group for group in groups.values()}
    joined = [_joined(by_first[id(remark)]) if id(remark) in by_first else remark for remark in joined]
    return sorted(joined, key=lambda remark: (remark.message in _GUESSES, remark.row is None))


def _joined(group: Sequence[Remark]) -> Remark:
    first = group[0]
    if len(group) == 1:
        return first
    values: dict[str, MessageValue] = dict(first.values)
    for key in _SUMMED:
        if isinstance(values.get(key), int):
            values[key] = sum(value for remark in group if isinstance(value := remark.values[key], int))
    if first.message in _BY_COLUMN:
        columns = list(dict.fromkeys(str(remark.values["column"]) for remark in group))
        values["column"] = columns
    if "text" in values:
        values["text"] = [str(remark.values["text"]) for remark in group]
    if "cell" in values and first.message == "read-odd-decimal":
        values["cell"] = [str(remark.values["cell"]) for remark in group]
        values["value"] = [str(remark.values["value"]) for remark in group]
    one_column = len({remark.column for remark in group}) == 1
    return replace(
        first,
        values=values,
        column=first.column if one_column else None,
        cells=sum(remark.cells for remark in group),
        remedies=_all_remedies(group),
    )


def _all_remedies(group: Sequence[Remark]) -> tuple[Remedy, ...]:
    """What undoes all of them at once, then each of them by the name of its column."""
    everyone = [remark.remedies[0] for remark in group if remark.remedies]
    if not everyone:
        return ()
    if not all(remedy.steps for remedy in everyone):
        return group[0].remedies
    together = replace(everyone[0], steps=tuple(step for remedy in everyone for step in remedy.steps))
    columns = list(dict.fromkeys(remark.column for remark in group))
    if len(columns) < 2:
        return (together,)
    each = [
        Remedy("undo-each", {"column": str(remark.column), "undo": remark.remedies[0].words}, steps=remark.remedies[0].steps)
        for remark in group
        if remark.remedies
    ]
    return (together, *each[:_MOST_REMEDIES])
