"""What a newer file changed: rows added, gone and changed, columns, levels."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from echelle.tables.table import Column, Table


@dataclass(frozen=True)
class LevelChange:
    """Levels that came to a column, and those that are gone."""

    column: str
    added: tuple[str, ...]
    gone: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class TableChange:
    """How many rows came, went, changed and stayed; ``by`` is the identifier they were matched by, None for all cells.

    Without an identifier a changed row counts as one gone and one added.
    """

    by: str | None
    added: int
    gone: int
    changed: int
    same: int
    columns_added: tuple[str, ...]
    columns_gone: tuple[str, ...]
    levels: tuple[LevelChange, ...]


def changes_between(older: Table, newer: Table) -> TableChange:
    """Compare two readings of a table over the columns that both have."""
    old = {column.name: column for column in older.columns}
    new = {column.name: column for column in newer.columns}
    common = [name for name in old if name in new]
    by = next((name for name in common if _identifies(old[name]) and _identifies(new[name])), None)
    before, after = _rows(older, common), _rows(newer, common)
    if by is None:
        counts, recount = Counter(before), Counter(after)
        same = sum((counts & recount).values())
        added, gone, changed = len(after) - same, len(before) - same, 0
    else:
        place = common.index(by)
        then, now = {row[place]: row for row in before}, {row[place]: row for row in after}
        both = then.keys() & now.keys()
        changed = sum(then[key] != now[key] for key in both)
        same, added, gone = len(both) - changed, len(now) - len(both), len(then) - len(both)
    levels = []
    for name in common:
        if old[name].kind in ("category", "yes/no") and new[name].kind in ("category", "yes/no"):
            known, given = set(old[name].levels), set(new[name].levels)
            if known != given:
                came = tuple(level for level in new[name].levels if level not in known)
                went = tuple(level for level in old[name].levels if level not in given)
                levels.append(LevelChange(name, came, went))
    return TableChange(
        by=by, added=added, gone=gone, changed=changed, same=same, columns_added=tuple(name for name in new if name not in old),
        columns_gone=tuple(name for name in old if name not in new), levels=tuple(levels),
    )  # fmt: skip


def _identifies(column: Column) -> bool:
    return column.kind == "identifier" and column.missing == 0 and len(column.levels) == len(column.texts)


def _rows(table: Table, names: list[str]) -> list[tuple[str | None, ...]]:
    return list(zip(*(table.column(name).texts.to_list() for name in names), strict=True))
