"""A far table: its parts, what its columns are, and the counts that a comparison needs."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import polars as pl

from echelle.errors import InputError
from echelle.far.counted_table import FarSample, counted_table, reading_of_source
from echelle.far.engine import HERE, Engine, counted_parts
from echelle.far.examples import ORDER, ROW
from echelle.far.manifest import Manifest, manifest_of
from echelle.far.opened_cells import Opened, next_cells
from echelle.far.question import CountQuestion
from echelle.far.rows import frame_at
from echelle.far.tally import PartTally, merged_tallies, with_tally
from echelle.tables.steps.base import StepBase
from echelle.tables.steps.left_out import LeftOut
from echelle.tables.steps.lineage import needed_for
from echelle.tables.steps.prepare import TableOf, all_steps, no_tables
from echelle.tables.table import PART_KEYS, Table

# Cells are opened by so many further passes at most: what was looked for there may move into another one.
MOST_PASSES = 5
_LEVELLED = ("category", "identifier", "yes/no", "date")


@dataclass(frozen=True)
class PartsDone:
    """How many parts are counted, of how many."""

    done: int
    of: int


@dataclass(frozen=True, eq=False)
class FarTable:
    """The parts of a source with a sample of their rows."""

    manifest: Manifest
    sample: FarSample

    @staticmethod
    def at(address: str) -> FarTable:
        """The table at an address. Raises InputError where there is none."""
        manifest = manifest_of(address)
        return FarTable(manifest, reading_of_source(manifest)[1])

    @cached_property
    def _raw_names(self) -> Mapping[str, str]:
        """By a column's name what the parts call it."""
        return {column.name: raw for column, raw in zip(self.sample.table.columns, self.sample.raw_names, strict=True)}

    def question(
        self, measure: str, columns: Iterable[str], steps: Sequence[StepBase] = (), tables: TableOf = no_tables
    ) -> FarQuestion:
        """What must be counted so that ``measure`` can be arranged by ``columns``, which ``steps`` make; ``tables`` gives those
        that are joined.

        Raises InputError for a step that does not fit, and for a column that is not there.
        """
        raw, prepared = self.sample.table, all_steps(self.sample.table, steps, tables)
        names = [prepared.column(name).name for name in dict.fromkeys((measure, *columns))]
        needed, kept = needed_for(names, steps)
        known = {key: column.name for column in raw.columns for key in (column.heading, column.name)}
        taken = sorted({known[name] for name in needed if name in known})
        of_measure, _ = needed_for(names[:1], [step for step in kept if not step.leaves_out])
        values = [name for name in taken if name in {known.get(other) for other in of_measure}] or taken
        first = next((name for name in values if raw.column(name).kind == "measure"), values[0])
        rest = [name for name in taken if name != first]
        lanes = [name for name in rest if raw.column(name).kind in _LEVELLED]
        names_of = self._raw_names
        asked = CountQuestion(names_of[first], tuple(names_of[name] for name in rest), tuple(names_of[name] for name in lanes))
        return FarQuestion(asked, tuple(kept), tables)

    def table_of(self, counted: Counted, left_out: Sequence[LeftOut] = ()) -> Table:
        """The counted rows after the steps that the question needs. Rows that are left out are among those at hand, so that
        what they hold can be taken off the counts. Raises InputError for one that is not there.
        """
        tally, question = counted.tally, counted.question
        if left_out:
            tally = replace(tally, examples=self._with_rows(tally.examples, left_out))
        rows = counted_table(self.manifest, self.sample, question.count, tally, counted.parts, counted.opened)
        return all_steps(rows, question.steps, question.tables)

    def _with_rows(self, examples: pl.DataFrame, left_out: Sequence[LeftOut]) -> pl.DataFrame:
        places = {part.name: place for place, part in enumerate(self.manifest.parts, 1)}
        gone = next((entry for entry in left_out if entry.part not in places), None)
        if gone is not None:
            what = f"left-out row {gone.row} · {gone.part} is not in the table"
            raise InputError(what, where="$.left_out", remedy="Take the entry out.")
        keys = [places[entry.part] * PART_KEYS + entry.row for entry in left_out]
        rows = frame_at(self.manifest, self.sample, keys).with_columns(pl.lit(0, dtype=examples.schema[ORDER]).alias(ORDER))
        return pl.concat([examples, rows.select(examples.columns)], how="vertical_relaxed").unique(ROW).sort(ROW)

    def tally(
        self, question: CountQuestion, engine: Engine = HERE, progress: Callable[[PartsDone], None] = lambda done: None
    ) -> PartTally:
        """What all parts come to. Raises InputError for a part that cannot be read."""
        every = range(len(self.manifest.parts))
        held: list[PartTally] = []
        for done, (_, tally) in enumerate(counted_parts(self.manifest, every, question, self.sample.separator, engine), 1):
            held = with_tally(held, tally, question)
            progress(PartsDone(done, len(every)))
        return merged_tallies(held, question)

    def count(
        self,
        questions: Mapping[str, FarQuestion],
        use: Callable[[Table], object] = lambda table: None,
        engine: Engine = HERE,
        progress: Callable[[PartsDone], None] = lambda done: None,
        left_out: Sequence[LeftOut] = (),
    ) -> Table:
        """All parts counted for the questions of one or several measures, by their names. Where values gathered into cells,
        those in which ``use`` of the table looks for a rank or a limit are opened, by as many further passes as that takes.
        Raises InputError for a part that cannot be read, and what ``use`` raises.
        """
        parts = len(self.manifest.parts)
        counted = {
            name: Counted(question, self.tally(question.count, engine, progress), parts) for name, question in questions.items()
        }
        table, _ = self.opened(counted, use, lambda cells: self.tally(cells, engine, progress), left_out)
        return table

    def opened(
        self,
        counted: Mapping[str, Counted],
        use: Callable[[Table], object],
        values_of: Callable[[CountQuestion], PartTally | None],
        left_out: Sequence[LeftOut] = (),
    ) -> tuple[Table, dict[str, Counted]]:
        """The table of what was counted, by the measures' names, and the same with the cells opened that ``use`` of the table
        looks into. ``values_of`` gives what they hold; where it gives None, they stay closed.
        """
        held = dict(counted)
        for passes in range(MOST_PASSES + 1):
            tables = {name: self.table_of(part, left_out) for name, part in held.items()}
            table = several_counted(tables)
            if passes == MOST_PASSES or not any(part.tally.grids and self._whole(part) for part in held.values()):
                break
            use(table)
            asked = {
                name: next_cells(part.question.count, part.tally, part.opened, _wanted(tables[name]))
                for name, part in held.items()
            }
            if not any(asked.values()):
                return several_counted({name: known_table(own) for name, own in tables.items()}), held
            for name, cells in asked.items():
                if cells is None:
                    continue
                values = values_of(cells)
                if values is None:
                    return table, held
                held[name] = replace(held[name], opened=Opened(cells, values))
        return table, held

    def _whole(self, counted: Counted) -> bool:
        return counted.parts == len(self.manifest.parts)


def _wanted(table: Table) -> set[int]:
    gathered = table.tally.gathered if table.tally is not None else None
    return set() if gathered is None else gathered.wanted


def known_table(table: Table) -> Table:
    """The table of whose cells all that were looked into are open."""
    if table.tally is None or table.tally.gathered is None:
        return table
    return replace(table, tally=replace(table.tally, gathered=replace(table.tally.gathered, known=True)))


def checked_table(table: Table, use: Callable[[Table], object]) -> Table:
    """Counted rows whose source is not there, for a ``use`` of them: whether all values that it looks for are known. Cells stay
    as they are.
    """
    if table.tally is None or table.tally.gathered is None:
        return table
    gathered = replace(table.tally.gathered, wanted=set(), waits=False)
    table = replace(table, tally=replace(table.tally, gathered=gathered))
    use(table)
    return table if gathered.wanted else known_table(table)


@dataclass(frozen=True, eq=False)
class Counted:
    """What so many parts came to for a question, and the cells that were opened."""

    question: FarQuestion
    tally: PartTally
    parts: int
    opened: Opened | None = None


@dataclass(frozen=True)
class FarQuestion:
    """What is counted, and the steps that are taken over what was counted, with the tables that they join."""

    count: CountQuestion
    steps: tuple[StepBase, ...] = ()
    tables: TableOf = no_tables


def several_counted(tables: Mapping[str, Table]) -> Table:
    """What was counted of several measures, by their name, as one table: that of the first, with the others beside."""
    first, *others = tables
    whole = tables[first]
    if not others or whole.tally is None:
        return whole
    return replace(whole, tally=replace(whole.tally, others={name: tables[name] for name in others}))
