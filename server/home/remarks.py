"""The remarks of a whole study."""

from __future__ import annotations

from server.comparisons.models import Remark
from server.comparisons.services.remarks import threads
from server.home.bodies import StudyRemark
from server.studies.models import Study

MOST_SETTLED = 100


def remarks_of_study(study: Study) -> list[StudyRemark]:
    """Every remark that is open, the newest first, then those that were settled last; none of what lies in the bin."""
    held = Remark.objects.filter(comparison__study=study, comparison__binned=None).select_related("comparison").order_by("at")
    told = [
        StudyRemark(**dict(state), comparison=str(remark.comparison_id), name=remark.comparison.name)
        for remark, state in threads(held)
    ]
    open_ones = [remark for remark in told if remark.settled_at is None]
    settled = sorted((remark for remark in told if remark.settled_at is not None), key=lambda remark: str(remark.settled_at))
    return [*open_ones[::-1], *settled[::-1][:MOST_SETTLED]]
