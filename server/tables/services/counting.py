"""Far tables: what was counted of their files, kept by file, so that only new files are ever counted again."""

from __future__ import annotations

import threading
import time
from collections.abc import Iterable
from dataclasses import asdict
from typing import Literal

from cachetools import LRUCache
from django.conf import settings
from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone
from procrastinate.contrib.django import app

from echelle.errors import InputError
from echelle.far.engine import Engine, counted_parts
from echelle.far.far_table import Counted, FarQuestion, FarTable
from echelle.far.manifest import Manifest
from echelle.far.question import CountQuestion, question_from
from echelle.far.record import far_table_from
from echelle.far.tally import PartTally, merged_tallies, with_tally
from echelle.tables.table import Table
from server.api.faults import BeingCounted, fault_of
from server.tables.models import Counting, DataTable, StoredTally

QUEUE = "counting"
# Whether a figure may be of the files counted so far, and whether it is worth a counting.
Patience = Literal["whole", "early", "look"]
# So long an answer waits for a counting that may be quick, in seconds.
_PATIENCE, _LOOK = 3.0, 0.15
# In between, the files counted so far are made one for whoever looks.
_EVERY = 2.0
_held: LRUCache[tuple[str, str], PartTally] = LRUCache(settings.CACHE_MEGABYTES * 1e6, getsizeof=lambda tally: _size(tally))
_lock = threading.Lock()


def _size(tally: PartTally) -> int:
    numbers = sum(lane.values.nbytes for lane in tally.lanes) + sum(grid.counts.nbytes for grid in tally.grids)
    return int(tally.counted.estimated_size() + tally.examples.estimated_size()) + numbers + 1_000


def far_table_of(stored: DataTable, sample: Table) -> FarTable:
    """A far table of the study, whose stored columns are a sample of its rows."""
    assert stored.source is not None, "only far tables have a source"
    return far_table_from(b"".join(stored.raw.pieces()), stored.source.address, sample)


def counted_for(stored: DataTable, far: FarTable, question: FarQuestion, patience: Patience = "whole") -> Counted:
    """What was counted for a question; "early" of the files counted so far, where there are some. Whoever only has a "look"
    begins no counting.

    Raises InputError for what cannot be counted, and BeingCounted while files are being counted.
    """
    parts = len(far.manifest.parts)
    tally = _whole(stored, far.manifest, question.count)
    if tally is not None:
        return Counted(question, tally, parts)
    if patience == "look":
        raise BeingCounted(0, parts)
    counting = _begun(stored, far, question.count)
    so_far = _so_far(stored, question.count) if patience == "early" else None
    if so_far is None:
        until = time.monotonic() + _PATIENCE
        while time.monotonic() < until and counting.state in Counting.UNFINISHED:
            time.sleep(_LOOK)
            counting.refresh_from_db()
        if (tally := _whole(stored, far.manifest, question.count)) is not None:
            return Counted(question, tally, parts)
        so_far = _so_far(stored, question.count) if patience == "early" else None
    if so_far is not None:
        return Counted(question, *so_far)
    raise _unfinished(stored, counting)


def _unfinished(stored: DataTable, counting: Counting) -> Exception:
    """Why there is nothing of a counting yet; one that ended comes first among those of its table."""
    if counting.state in Counting.ENDED:
        # Beside the figure that asks for it.
        Counting.objects.filter(pk=counting.pk).update(made=timezone.now())
    if counting.state == Counting.State.REFUSED:
        return InputError(**{name: (counting.fault or {}).get(name, "") for name in ("what", "where", "remedy")})
    if counting.state == Counting.State.STOPPED:
        return InputError("the counting of the files was stopped", where=stored.name, remedy="Go on with it beside the figure.")
    return BeingCounted(counting.done, counting.of)


def values_in_cells(stored: DataTable, far: FarTable, question: CountQuestion, patience: Patience) -> PartTally | None:
    """What all files hold in a question's cells; None while that is being counted, for who is in no hurry. Who begins a
    counting ends those for other cells of the table that still wait for their turn.

    Raises InputError and BeingCounted as :func:`counted_for` does, where the whole is asked for.
    """
    tally = _whole(stored, far.manifest, question)
    if tally is not None:
        return tally
    with transaction.atomic():
        others = Counting.objects.filter(table=stored, of_cells=True).exclude(question=question.digest)
        # One that goes on may be somebody else's.
        others = others.exclude(state=Counting.State.COUNTING)
        _parts_counted(stored, others.values_list("question", flat=True)).delete()
        others.filter(state=Counting.State.WAITING).delete()
    counting = _begun(stored, far, question)
    why = _unfinished(stored, counting)
    if patience == "early":
        return None
    raise why


def _whole(stored: DataTable, manifest: Manifest, question: CountQuestion) -> PartTally | None:
    """The tally of all files of the table's version."""
    key = (manifest.digest, question.digest)
    with _lock:
        held = _held.get(key)
    if held is not None:
        return held
    kept = StoredTally.objects.filter(source=stored.source, part="", mark=key[0], question=key[1]).first()
    if kept is None:
        return None
    tally = PartTally.unpacked(bytes(kept.data))
    with _lock:
        if _size(tally) <= _held.maxsize:
            _held[key] = tally
    return tally


def _so_far(stored: DataTable, question: CountQuestion) -> tuple[PartTally, int] | None:
    """What the counting laid down for whoever looks meanwhile, and of how many files it is."""
    kept = StoredTally.objects.filter(source=stored.source, part="", mark=_early_mark(stored), question=question.digest).first()
    if kept is None:
        return None
    done, _, data = bytes(kept.data).partition(b"\n")
    return PartTally.unpacked(data), int(done)


def _begun(stored: DataTable, far: FarTable, question: CountQuestion) -> Counting:
    """The counting for a question, begun where it is none yet."""
    begins = {"asked": asdict(question), "of": len(far.manifest.parts), "of_cells": bool(question.cells)}
    with transaction.atomic():
        counting, new = Counting.objects.get_or_create(table=stored, question=question.digest, defaults=begins)
        if new or counting.state == Counting.State.DONE:
            # Done, and yet its tally is not there: it was taken for another table and swept.
            Counting.objects.filter(pk=counting.pk).update(state=Counting.State.WAITING)
            defer_counting(counting)
    counting.refresh_from_db()
    return counting


def defer_counting(counting: Counting) -> None:
    """Hand the counting to the worker."""
    app.configure_task("count_parts", queue=QUEUE).defer(counting_id=counting.pk)


def run_counting(counting: Counting, sample: Table) -> None:
    """Count the files that are not counted yet, each kept as soon as it is done; stopped between two of them."""
    stored = counting.table
    far = far_table_of(stored, sample)
    question = question_from(counting.asked)
    Counting.objects.filter(pk=counting.pk, state=Counting.State.WAITING).update(state=Counting.State.COUNTING, fault=None)
    try:
        _count(counting, stored, far, question)
    except InputError as error:
        fault = fault_of(error).model_dump()
        Counting.objects.filter(pk=counting.pk).update(state=Counting.State.REFUSED, fault=fault)


def _count(counting: Counting, stored: DataTable, far: FarTable, question: CountQuestion) -> None:
    kept = StoredTally.objects.filter(source=stored.source, question=question.digest).exclude(part="")
    marks = {part.name: (place, part.mark) for place, part in enumerate(far.manifest.parts)}
    tallies: list[PartTally] = []
    done = set()
    for name, mark, data in kept.values_list("part", "mark", "data").iterator(chunk_size=8):
        place, wanted = marks.get(name, (-1, ""))
        if mark == wanted:
            tallies = with_tally(tallies, PartTally.unpacked(bytes(data)), question)
            done.add(place)
    left = [place for place in range(len(far.manifest.parts)) if place not in done]
    looked = 0.0
    parts = counted_parts(far.manifest, left, question, far.sample.separator, Engine.from_environment(settings.COUNT_WORKERS))
    try:
        for place, tally in parts:
            part = far.manifest.parts[place]
            names = {"source": stored.source, "part": part.name, "question": question.digest}
            StoredTally.objects.filter(**names).exclude(mark=part.mark).delete()
            StoredTally.objects.get_or_create(**names, mark=part.mark, defaults={"data": tally.packed()})
            done.add(place)
            tallies = with_tally(tallies, tally, question)
            going = Counting.objects.filter(pk=counting.pk, state=Counting.State.COUNTING).update(done=len(done))
            if not going and question.cells:
                return
            if not going:
                _lay_down(stored, question, _early_mark(stored), _early(tallies, question, len(done)))
                return
            if time.monotonic() > looked + _EVERY and len(done) < len(marks) and not question.cells:
                tallies = [merged_tallies(tallies, question)]
                _lay_down(stored, question, _early_mark(stored), _early(tallies, question, len(done)))
                looked = time.monotonic()
    finally:
        parts.close()  # type: ignore[attr-defined]
    whole = merged_tallies(tallies, question)
    with transaction.atomic():
        _lay_down(stored, question, far.manifest.digest, whole.packed())
        StoredTally.objects.filter(source=stored.source, part="", mark=_early_mark(stored), question=question.digest).delete()
        Counting.objects.filter(pk=counting.pk).update(state=Counting.State.DONE, done=len(marks))
        if question.cells:
            # With a new file cells change: what single files hold in these serves nobody then.
            _parts_counted(stored, [question.digest]).delete()


def _early_mark(stored: DataTable) -> str:
    return f"so far {stored.pk}"


def _early(tallies: list[PartTally], question: CountQuestion, done: int) -> bytes:
    return b"%d\n" % done + merged_tallies(tallies, question).packed()


def _parts_counted(stored: DataTable, questions: Iterable[str]) -> QuerySet[StoredTally]:
    """What is kept of single files."""
    return StoredTally.objects.filter(source=stored.source, question__in=questions).exclude(part="")


def _lay_down(stored: DataTable, question: CountQuestion, mark: str, data: bytes) -> None:
    StoredTally.objects.update_or_create(
        source=stored.source, part="", mark=mark, question=question.digest, defaults={"data": data}
    )
