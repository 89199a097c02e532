"""All advice on a figure that costs no time, in the order in which it is read."""

from __future__ import annotations

from echelle.figures.advice import axis, bins, marks, rows, shape
from echelle.figures.advice.question import Check, Question
from echelle.scene.models import Advice

CHECKS: tuple[Check, ...] = (
    rows.no_rows, rows.units, rows.repeated_subjects, rows.limits_inside, rows.few_values,
    axis.out_of_view, axis.lines_cut, axis.bars_off_zero, axis.magnified, axis.past_limit,
    shape.skewed_fences, shape.means_of_skewed, shape.long_tail,
    bins.counts_of_unequal_n, bins.unequal_widths, bins.off_step, bins.stacked,
    marks.points_and_boxes, marks.points_on_points, marks.outliers_drawn_twice, marks.too_many, marks.colours,
    rows.unequal_n,
)  # fmt: skip


def advice_on(asked: Question) -> list[Advice]:
    """Everything that there is to say, at most once a key."""
    remarks: dict[str, Advice] = {}
    for check in CHECKS:
        for advice in check(asked):
            remarks.setdefault(advice.key, advice)
    return list(remarks.values())


def advice_on_layout(turned: bool, unwritable: str, shortened: int) -> list[Advice]:
    """What happened to names and letters."""
    result = []
    if turned:
        result.append(Advice(key="turned", text="Lanes were turned across.", why="Side by side their names would collide."))
    if shortened:
        names = "1 name" if shortened == 1 else f"{shortened} names"
        why = "Rename the level, or make the sheet larger."
        result.append(Advice(key="shortened", text=f"{names} shortened to fit.", why=why))
    if unwritable:
        text = f"No font here can write {' '.join(unwritable)}."
        result.append(Advice(key="unwritable", text=text, why="An empty box stands in its place."))
    return result
