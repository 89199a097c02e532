"""What the worker does by itself: what lay in a bin long enough is erased."""

from __future__ import annotations

from procrastinate.contrib.django import app

from server.api.retry import AGAIN
from server.comparisons.models import Drawing
from server.comparisons.services.drawings import run_drawing
from server.comparisons.services.shelves import empty_bins
from server.tables.services.counting import QUEUE


@app.task(name="draw_figure", queue=QUEUE, retry=AGAIN)
def draw_figure(drawing_id: int) -> None:
    """Draw one figure, unless that was stopped or is gone."""
    drawing = Drawing.objects.select_related("table").filter(pk=drawing_id, state__in=Drawing.UNFINISHED).first()
    if drawing is not None:
        run_drawing(drawing)


@app.periodic(cron="17 2 * * *")
@app.task(name="empty_bins", queue="file-jobs")
def empty_bins_nightly(timestamp: int) -> None:
    """Every night."""
    del timestamp
    empty_bins()
