"""Remarks on a figure or a lane of it: said, answered, settled."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from django.utils import timezone

from echelle.errors import InputError
from server.accounts.models import Person
from server.comparisons.bodies import NewRemark, RemarkState
from server.comparisons.models import Comparison, Remark

MOST_REMARKS = 500


def remarks_of(comparison: Comparison) -> list[RemarkState]:
    """All remarks with their answers, oldest first."""
    return [state for _, state in threads(comparison.remark_set.all())]


def threads(remarks: Iterable[Remark]) -> Iterator[tuple[Remark, RemarkState]]:
    """Remarks that answer none, in their order, each with its answers."""
    held = list(remarks)
    answers: dict[object, list[RemarkState]] = {}
    for remark in held:
        if remark.answers_id is not None:
            answers.setdefault(remark.answers_id, []).append(_state(remark, []))
    return ((remark, _state(remark, answers.get(remark.pk, []))) for remark in held if remark.answers_id is None)


def say(comparison: Comparison, wanted: NewRemark, person: Person) -> None:
    """Keep a remark, or an answer to one. Raises InputError for an empty one."""
    text = wanted.text.strip()
    if not text:
        raise InputError("a remark says something", where="text", remedy="Write it first.")
    if comparison.remark_set.count() >= MOST_REMARKS:
        raise InputError(f"a comparison has at most {MOST_REMARKS} remarks", remedy="Settle this in another place.")
    answered = comparison.remark_set.filter(pk=wanted.answers, answers=None).first() if wanted.answers else None
    if wanted.answers and answered is None:
        raise InputError("the remark that you answer is gone", remedy="Reload the page.")
    lane = answered.lane if answered else wanted.lane
    Remark.objects.create(
        comparison=comparison,
        answers=answered,
        lane=lane,
        state=comparison.head,
        text=text,
        person=person,
        by=person.shown_name,
    )


def settle_remark(remark: Remark, settled: bool, person: Person) -> None:
    """Somebody says that a remark is done with, or open again."""
    remark.settled_at = timezone.now() if settled else None
    remark.settled_by = person.shown_name if settled else ""
    remark.save(update_fields=["settled_at", "settled_by"])


def _state(remark: Remark, answers: list[RemarkState]) -> RemarkState:
    return RemarkState(
        id=str(remark.pk), lane=remark.lane, state=remark.state, text=remark.text, by=remark.by, at=remark.at,
        settled_by=remark.settled_by, settled_at=remark.settled_at, answers=answers,
    )  # fmt: skip
