"""All advice on a figure that costs no time, in the order in which it is read."""

from __future__ import annotations

from echelle.catalogue.catalogue import Catalogue
from echelle.figures.advice import axis, bins, marks, rows, shape
from echelle.figures.advice.question import Check, Question
from echelle.scene.advice import advice
from echelle.scene.models import Advice

CHECKS: tuple[Check, ...] = (
    rows.no_rows, rows.read_as_codes, rows.units, rows.repeated_subjects, rows.limits_inside, rows.few_values,
    axis.out_of_view, axis.lines_cut, axis.bars_off_zero, axis.cut_that_magnifies, axis.past_limit,
    shape.skewed_fences, shape.means_of_skewed, shape.long_tail,
    bins.counts_of_unequal_n, bins.unequal_widths, bins.off_step, bins.many_stacked,
    marks.points_and_boxes, marks.points_on_points, marks.outliers_drawn_twice, marks.too_many, marks.colours,
    rows.unequal_n,
)  # fmt: skip


def advice_on(question: Question) -> list[Advice]:
    """Everything that there is to say, at most once a key."""
    remarks: dict[str, Advice] = {}
    for check in CHECKS:
        for remark in check(question):
            remarks.setdefault(remark.key, remark)
    return list(remarks.values())


def advice_on_layout(words: Catalogue, turned: bool, unwritable: str, shortened: int) -> list[Advice]:
    """What happened to names and letters."""
    result = []
    if turned:
        result.append(advice(words, "turned", "turned"))
    if shortened:
        result.append(advice(words, "shortened", "shortened", names=shortened))
    if unwritable:
        result.append(advice(words, "unwritable", "unwritable", letters=" ".join(unwritable)))
    return result
