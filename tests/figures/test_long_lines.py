"""A long line loses nothing that a sheet shows."""

from __future__ import annotations

import numpy as np

from echelle.figures.geometry.long_lines import places_seen


def test_a_long_line_keeps_its_ends_its_peaks_and_its_way() -> None:
    rng = np.random.default_rng(2)
    across, along = np.sort(rng.uniform(0, 400, 200_000)), rng.normal(100, 5, 200_000)
    along[[777, 150_000]] = 10.0, 300.0
    seen_along, seen_across = places_seen(along, across)
    assert len(seen_along) <= 4 * 4_001 and (np.diff(seen_across) >= 0).all()
    assert (seen_along[0], seen_along[-1]) == (along[0], along[-1]) and {10.0, 300.0} <= set(seen_along)
    # In each strip it reaches as far as before.
    for start in (0.0, 123.4, 399.8):
        whole, kept = (
            values[(at >= start) & (at < start + 0.1)] for values, at in ((along, across), (seen_along, seen_across))
        )
        assert len(whole) > 4 >= len(kept) and (whole.min(), whole.max()) == (kept.min(), kept.max())


def test_a_line_that_a_sheet_shows_stays_as_it_is() -> None:
    along = np.arange(10_000.0)
    assert places_seen(along, along / 1e6)[0] is along
    back = np.concatenate([np.arange(9_000.0), np.arange(9_000.0)[::-1]])
    assert np.array_equal(np.stack(places_seen(back, back)), np.stack([back, back]))
