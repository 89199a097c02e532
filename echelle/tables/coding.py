"""Cells as the places of their different texts."""

from __future__ import annotations

import numpy as np
import polars as pl
from numpy.typing import NDArray

from echelle.numbers.pieces import pieces_of

Coded = tuple[NDArray[np.int32], pl.Series]
_SHORT = 2_000
# Texts at the start of a column, and how many different ones there may be, for the others to be looked up by a part of their
# digest; how wide that part is.
_START, _FEW, _SLOTS = 4_096, 256, 1 << 13
_WIDEST = 1 << 16


def written(cells: pl.Series) -> pl.Series:
    """Cells as texts: numbers with all their digits, whole ones of a column of decimals with ".0"; null for blanks."""
    return cells if cells.dtype == pl.String else cells.cast(pl.String)


def code_texts(texts: pl.Series) -> Coded:
    """Each text's place among the distinct ones, −1 for null; and those, in the order of first appearance; numbers in the same
    way as they are written.
    """
    if len(texts) <= _SHORT:
        texts = written(texts)
        places: dict[str, int] = {}
        short = [-1 if text is None else places.setdefault(text, len(places)) for text in texts.to_list()]
        return np.array(short, dtype=np.int32), pl.Series(list(places), dtype=pl.String)
    quick = _code_whole(texts) if texts.dtype.is_integer() else _code_few(texts) if texts.dtype == pl.String else None
    return quick if quick is not None else _code_any(texts)


def _code_any(texts: pl.Series) -> Coded:
    """By an enumeration of their own: polars' categories share a registry that threads can lock one another out of."""
    distinct = texts.drop_nulls().unique(maintain_order=True)
    if len(distinct) == len(texts):
        # Each its own: nothing is looked up.
        return np.arange(len(texts), dtype=np.int32), written(distinct)
    if texts.dtype != pl.String:
        distinct, texts = written(distinct), written(texts)
    places_of = texts.cast(pl.Enum(distinct)).to_physical()
    if places_of.null_count():
        places_of = places_of.cast(pl.Int32).fill_null(-1)
    return places_of.to_numpy().astype(np.int32), distinct


def _code_few(texts: pl.Series) -> Coded | None:
    """Few different texts, looked up by their digests of 64 bits; None where there are more."""
    distinct = texts.head(_START).drop_nulls().unique(maintain_order=True)
    if texts.null_count() or not 0 < len(distinct) <= _FEW:
        return None
    digests: NDArray[np.uint64] = texts.hash().to_numpy()
    while len(distinct) <= _FEW:
        own: NDArray[np.uint64] = distinct.hash().to_numpy()
        shift = _shift_of(own)
        if shift is None:
            return None
        places, codes = np.zeros(_SLOTS, dtype=np.int32), np.empty(len(texts), dtype=np.int32)
        places[_slots(own, shift)] = np.arange(len(own))
        at, stranger = 0, -1
        for part in pieces_of(digests):
            found = places.take(_slots(part, shift), mode="clip")
            codes[at : at + len(part)] = found
            same = own.take(found, mode="clip") == part
            if not same.all():
                stranger = at + int(np.argmin(same))
                break
            at += len(part)
        if stranger < 0:
            return codes, distinct
        # A text that the start does not have: with what follows it for a while.
        more = texts.slice(stranger, _START).unique(maintain_order=True)
        distinct = pl.concat([distinct, more]).unique(maintain_order=True)
    return None


def _slots(digests: NDArray[np.uint64], shift: int) -> NDArray[np.intp]:
    return ((digests >> np.uint64(shift)) & np.uint64(_SLOTS - 1)).astype(np.intp)


def _shift_of(digests: NDArray[np.uint64]) -> int | None:
    """Where in the digests to look for bits that tell all of them apart."""
    return next((shift for shift in range(51) if len(np.unique(_slots(digests, shift))) == len(digests)), None)


def _code_whole(cells: pl.Series) -> Coded | None:
    """Whole numbers in a narrow range, looked up by their value; None for others."""
    low, high = cells.min(), cells.max()
    if cells.null_count() or not isinstance(low, int) or not isinstance(high, int) or high - low >= _WIDEST:
        return None
    offsets = (cells - low).cast(pl.Int32).to_numpy()
    first = np.full(high - low + 1, len(cells), dtype=np.int64)
    # The last that is written stays: backwards that is the first of each.
    first[offsets[::-1]] = np.arange(len(cells) - 1, -1, -1)
    held = np.flatnonzero(first < len(cells))
    held = held[np.argsort(first[held], kind="stable")]
    places = np.zeros(len(first), dtype=np.int32)
    places[held] = np.arange(len(held))
    return places[offsets], pl.Series(held + low, dtype=pl.Int64).cast(pl.String)
