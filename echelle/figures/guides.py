"""Guides: reference lines and bands, with labels that keep out of one another's way."""

from __future__ import annotations

import numpy as np

from echelle.figures.frame import MarkOf
from echelle.figures.lettering import LEADING, Box, Lettering, claimed
from echelle.figures.plan import Layout, PanelPlace
from echelle.figures.scene import Advice, Change, Paint, Remedy, ScenePart
from echelle.figures.study import Study
from echelle.numbers.quantiles import quantiles
from echelle.recipes.looks import Guide

_SMALL = 0.9
_BAND = 0.1


def value_of(guide: Guide, study: Study) -> float | None:
    """Where a line stands: its number, or the mean or median of all values drawn."""
    pooled = study.arrangement.pooled
    if isinstance(guide.at, str):
        if not len(pooled):
            return None
        return float(np.mean(pooled)) if guide.at == "mean" else quantiles(pooled, (0.5,), 7)[0]
    return guide.at


def guide_bands(laid: Layout, study: Study, letters: Lettering) -> list[ScenePart]:
    """Bands, which lie under all marks."""
    parts: list[ScenePart] = []
    for number, guide in enumerate(study.recipe.guides):
        if guide.band is None:
            continue
        for place in laid.panels:
            frame = place.frame
            low, high = frame.held(max(guide.band[0], frame.domain[0])), frame.held(min(guide.band[1], frame.domain[1]))
            if abs(high - low) < 1e-9:
                continue
            start, end = frame.sides
            paint = Paint(fill=letters.style.muted, opacity=_BAND)
            parts.append(frame.rect(MarkOf("", f"guide{number + 1}", "guide"), low, high, start, end, paint))
    return parts


def guide_lines(laid: Layout, study: Study, letters: Lettering, taken: dict[str, list[Box]]) -> list[ScenePart]:
    """Lines and labels, which lie over all marks; ``taken`` collects the labels' boxes by panel."""
    style, size = letters.style, letters.style.text_size * _SMALL
    parts: list[ScenePart] = []
    for place in laid.panels:
        frame = place.frame
        start, end = frame.sides
        for number, guide in enumerate(study.recipe.guides):
            value = value_of(guide, study) if guide.band is None else None
            if value is not None and frame.domain[0] <= value <= frame.domain[1]:
                paint = Paint(stroke=style.muted, stroke_width=0.9, dash=guide.dash)
                mark = MarkOf("", f"guide{number + 1}", "guide")
                parts.append(frame.line(mark, frame.along(value), start, frame.along(value), end, paint))
            at = value if value is not None else (guide.band or (None, None))[1]
            if guide.label and at is not None and (guide.band or (at,))[0] <= frame.domain[1] and at >= frame.domain[0]:
                parts += _label(
                    place, guide, number, frame.held(min(at, frame.domain[1])), taken[place.panel.key], letters, size
                )
    return parts


def _label(
    place: PanelPlace, guide: Guide, number: int, along: float, taken: list[Box],
    letters: Lettering, size: float,
) -> list[ScenePart]:  # fmt: skip
    """Beside its line, on the side that has room, a line lower for each label in its way; left out where none is free."""
    frame = place.frame
    block = letters.block(guide.label, frame.width * 0.6, size, 400, 2)
    for step in range(12):
        if frame.runs == "across":
            x = along + 3 if along + 3 + block.width <= frame.left + frame.width else along - 3 - block.width
            y = frame.top + 2 + step * size * LEADING
        else:
            x = frame.left + frame.width - block.width - 2
            y = along - block.height - 1 - step * size * LEADING
        box = (x, y, x + block.width, y + block.height)
        inside = frame.left <= x and frame.top - 1 <= y and y + block.height <= frame.top + frame.height + 1
        if inside and claimed(box, taken):
            mark = MarkOf("", f"guide{number + 1}", "guide-label")
            return list(letters.put_block(mark, frame.key, block, x, y, letters.style.muted))
    return []


def guides_out_of_view(laid: Layout, study: Study) -> list[Advice]:
    """Which guides no panel shows."""
    gone = []
    first = min(place.frame.domain[0] for place in laid.panels)
    last = max(place.frame.domain[1] for place in laid.panels)
    reach: dict[str, float] = {}
    for guide in study.recipe.guides:
        value = value_of(guide, study)
        low, high = guide.band or (value, value)
        if low is None or high is None:
            continue
        if not any(place.frame.domain[0] <= high and low <= place.frame.domain[1] for place in laid.panels):
            gone.append(guide.label or f"{low:g}")
            if low > last:
                reach["to"] = max(reach.get("to", last), high + 0.02 * (high - first))
            else:
                reach["from"] = min(reach.get("from", first), low * 0.98 if low > 0 else low - 0.02 * (last - low))
    if not gone:
        return []
    why = "Let the axis reach further, or take the guide away."
    text = f"Guides out of view: {', '.join(gone[:4])}."
    changes = [Change(path=["axis", end], value=float(f"{value:.6g}")) for end, value in reach.items()]
    return [Advice(key="guides", text=text, why=why, remedies=[Remedy(words="Let the axis reach them", changes=changes)])]
