"""What changed from one preparation to the next, in a few words, for the band and for an auditor."""

from __future__ import annotations

from collections.abc import Sequence

from echelle.tables.steps.base import StepBase


def preparation_words(before: Sequence[StepBase], now: Sequence[StepBase]) -> str:
    """What changed from one preparation to the next: the step added, removed, edited, moved or switched."""
    if len(now) == len(before) + 1:
        added = next((i for i, (a, b) in enumerate(zip(before, now, strict=False)) if a != b), len(before))
        return f"+ {now[added].words()}"
    if len(now) == len(before) - 1:
        gone = next((i for i, (a, b) in enumerate(zip(before, now, strict=False)) if a != b), len(now))
        return f"− {before[gone].words()}"
    changed = [i for i, (a, b) in enumerate(zip(before, now, strict=False)) if a != b]
    if len(now) == len(before) and len(changed) == 1:
        old, new = before[changed[0]], now[changed[0]]
        if old.model_copy(update={"on": new.on}) == new:
            return f"{'on' if new.on else 'off'}: {new.words()}"
        return f"edited: {new.words()}"
    if len(now) == len(before) and all(step in before for step in now):
        return "steps in another order"
    return f"{len(now)} steps"
