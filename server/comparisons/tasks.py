"""What the worker does by itself: what lay in a bin long enough is erased."""

from __future__ import annotations

from procrastinate.contrib.django import app

from server.comparisons.services.shelves import empty_bins


@app.periodic(cron="17 2 * * *")
@app.task(name="empty_bins", queue="file-jobs")
def empty_bins_nightly(timestamp: int) -> None:
    """Every night."""
    del timestamp
    empty_bins()
