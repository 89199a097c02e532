"""A far table: its parts, what its columns are, and the counts that a comparison needs."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from echelle.far.count import PartTally, merged_tallies
from echelle.far.counted_table import FarSample, counted_table, reading_of_source
from echelle.far.engine import HERE, Engine, counted_parts
from echelle.far.manifest import Manifest, manifest_of
from echelle.far.question import CountQuestion
from echelle.tables.steps.base import StepBase
from echelle.tables.steps.lineage import needed_for
from echelle.tables.steps.prepare import all_steps
from echelle.tables.table import Table

_LEVELLED = ("category", "identifier", "yes/no", "date")
# So many tallies are held before they are made one.
_HELD = 16


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

    def question(self, measure: str, columns: Iterable[str], steps: Sequence[StepBase] = ()) -> FarQuestion:
        """What must be counted so that ``measure`` can be arranged by ``columns``, which ``steps`` make.

        Raises InputError for a step that does not fit, and for a column that is not there.
        """
        raw, prepared = self.sample.table, all_steps(self.sample.table, steps)
        names = [prepared.column(name).name for name in dict.fromkeys((measure, *columns))]
        needed, kept = needed_for(names, steps)
        taken = sorted({raw.column(name).name for name in needed})
        of_measure, _ = needed_for(names[:1], [step for step in kept if not step.leaves_out])
        values = [name for name in taken if name in {raw.column(other).name for other in of_measure}]
        first = next((name for name in values if raw.column(name).kind == "measure"), values[0])
        rest = [name for name in taken if name != first]
        lanes = [name for name in rest if raw.column(name).kind in _LEVELLED]
        names_of = self._raw_names
        asked = CountQuestion(names_of[first], tuple(names_of[name] for name in rest), tuple(names_of[name] for name in lanes))
        return FarQuestion(asked, tuple(kept))

    def table_of(self, question: FarQuestion, tally: PartTally, parts: int) -> Table:
        """The counted rows of so many parts after the steps that the question needs."""
        return all_steps(counted_table(self.manifest, self.sample, tally, parts), question.steps)

    def count(
        self, question: FarQuestion, engine: Engine = HERE, progress: Callable[[PartsDone], None] = lambda done: None
    ) -> Table:
        """All parts counted. Raises InputError for a part that cannot be read."""
        every = range(len(self.manifest.parts))
        held: list[PartTally] = []
        for done, (_, tally) in enumerate(
            counted_parts(self.manifest, every, question.count, self.sample.separator, engine), 1
        ):
            held.append(tally)
            if len(held) > _HELD:
                held = [merged_tallies(held, question.count)]
            progress(PartsDone(done, len(every)))
        return self.table_of(question, merged_tallies(held, question.count), len(every))


@dataclass(frozen=True)
class FarQuestion:
    """What is counted, and the steps that are taken over what was counted."""

    count: CountQuestion
    steps: tuple[StepBase, ...] = ()
