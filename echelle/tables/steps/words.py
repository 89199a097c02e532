"""A step in a few words, for the band and for an auditor."""

from __future__ import annotations

from echelle.catalogue.catalogue import catalogue
from echelle.tables.steps import models
from echelle.tables.steps.conditions import condition_words


def step_words(step: models.Step) -> str:
    """What a step does, without its outcome."""
    match step:
        case models.Rename():
            return f"{step.column} is called {step.to}"
        case models.SetKind():
            return f"{step.column} is {_article(step.kind)}"
        case models.SetUnit():
            return f"{step.column} in {step.unit}" if step.unit else f"{step.column} without a unit"
        case models.SetOrder():
            return f"{step.column}: {_listed(step.levels)}" if step.ordered else f"{step.column} has no order"
        case models.SetLabels():
            return f"{step.column}: {_listed([f'{level} is {label}' for level, label in step.labels.items()])}"
        case models.JoinLevels():
            return f"{_listed(step.levels)} joins {step.into}"
        case models.AsMissing():
            return f"{_listed(step.marks)} is missing" + (f" in {step.column}" if step.column else "")
        case models.StandIn():
            return f"limits of {step.column} stand at {_stand_in(step)}"
        case models.Convert():
            how = f"by {step.by}" if step.by else f"× {step.factor:g}" if step.factor is not None else "without a factor"
            return f"{step.column} to {step.to} {how}"
        case models.Keep():
            return f"keep {condition_words(step.where, catalogue())}"
        case models.LeaveOut():
            rows = _listed([str(entry.row) + (f" · {entry.part}" if entry.part else "") for entry in step.rows])
            return f"leave out {'row' if len(step.rows) == 1 else 'rows'} {rows}"
        case models.WideToLong():
            return f"{len(step.columns)} columns to {step.names} and {step.values}"
        case models.LongToWide():
            return f"{step.values} to a column per {step.names}"
        case models.Append():
            return f"append {step.table.name}"
        case models.Join():
            return f"join {step.table.name} by {_listed([pair.here for pair in step.keys])}"
        case models.Combine():
            return f"{step.how} per {_listed(step.by)}"
        case models.Intervals():
            return f"{step.to}: {step.column} cut at {_listed([f'{edge:g}' for edge in step.edges])}"
        case models.DatePart():
            return f"{step.to}: {step.part} of {step.column}"
        case models.Derive():
            return f"{step.to} = {step.formula}"
        case models.Relative():
            within = f" within {_listed(step.within)}" if step.within else ""
            return f"{step.to}: {step.column}, {step.how}{within}"


def _article(kind: str) -> str:
    return f"an {kind}" if kind == "identifier" else kind if kind in ("text", "yes/no") else f"a {kind}"


def _listed(words: list[str]) -> str:
    return ", ".join(words[:3]) + (f" and {len(words) - 3} more" if len(words) > 3 else "")


def _stand_in(step: models.StandIn) -> str:
    said = [f"{how}" for how in (step.below, step.above) if how != "as it is"]
    return " and ".join(dict.fromkeys(said)) or "their place"


def preparation_words(before: list[models.Step], now: list[models.Step]) -> str:
    """What changed from one preparation to the next: the step added, removed, edited, moved or switched."""
    if len(now) == len(before) + 1:
        added = next((i for i, (a, b) in enumerate(zip(before, now, strict=False)) if a != b), len(before))
        return f"+ {step_words(now[added])}"
    if len(now) == len(before) - 1:
        gone = next((i for i, (a, b) in enumerate(zip(before, now, strict=False)) if a != b), len(now))
        return f"− {step_words(before[gone])}"
    changed = [i for i, (a, b) in enumerate(zip(before, now, strict=False)) if a != b]
    if len(now) == len(before) and len(changed) == 1:
        old, new = before[changed[0]], now[changed[0]]
        if old.model_copy(update={"on": new.on}) == new:
            return f"{'on' if new.on else 'off'}: {step_words(new)}"
        return f"edited: {step_words(new)}"
    if len(now) == len(before) and all(step in before for step in now):
        return "steps in another order"
    return f"{len(now)} steps"
