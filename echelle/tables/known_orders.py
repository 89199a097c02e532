"""Categories whose levels have an order that everyone knows: calendars, grades, numbered days and doses."""

from __future__ import annotations

import re
from collections.abc import Sequence

from echelle.tables.dates import MONTHS, WEEKDAYS

_SCALES: tuple[tuple[str, ...], ...] = (
    *(tuple(name.lower() for name in names) for names in (WEEKDAYS, MONTHS)),
    *(tuple(name[:3].lower() for name in names) for names in (WEEKDAYS, MONTHS)),
    ("very low", "low", "medium", "high", "very high"),
    ("low", "normal", "high"),
    ("low", "moderate", "high"),
    ("low", "middle", "high"),
    ("none", "mild", "moderate", "severe"),
    ("none", "low", "medium", "high"),
    ("absent", "mild", "moderate", "severe"),
    ("early", "intermediate", "late"),
    ("small", "medium", "large"),
    ("never", "rarely", "sometimes", "often", "always"),
    ("poor", "fair", "good", "very good", "excellent"),
    ("i", "ii", "iii", "iv", "v"),
    ("negative", "trace", "+", "++", "+++", "++++"),
    ("q1", "q2", "q3", "q4"),
    ("before", "during", "after"),
    ("baseline", "follow-up"),
)
_TIMED = re.compile(r"^(?:day|week|month|year|hour|visit|cycle|stage|grade|d|w|h)[ \-]?([+-]?\d+(?:\.\d+)?)$", re.I)
_DOSED = re.compile(r"^([+-]?\d+(?:\.\d+)?) ?(?:µg|ug|mg|g|ng|ml|mL|µM|uM|nM|mM|mg/kg|h|min|days?|weeks?|months?|years?)$")
_SIGN = r"[<>≤≥]=?|under|below|less than|up to|unter|bis|over|above|more than|über|ab"
_OPEN = r"\+|and (?:over|above|more|older)|or (?:more|over|older|above|less|under)|u\.? mehr"
_VALUE = r"[$€£]?([+-]?\d[\d.,]*)[kKmM]?"
_RANGE = re.compile(
    rf"^(?:({_SIGN})\s*)?{_VALUE}\s*(?:(?:-|–|to|bis|and|,|\.\.|…)\s*(?:under|<|below)?\s*{_VALUE}|({_OPEN}))?\s*[a-zA-Zµ%/³²\])]*$",
    re.I,
)
_LOWEST = ("<", "≤", "under", "below", "less than", "up to", "unter", "bis")
_QUARTER = re.compile(r"^(?:(\d{4})[ \-/]?Q([1-4])|Q([1-4])[ \-/]?(\d{4}))$", re.I)
_LEAST = 3


def known_order(levels: Sequence[str]) -> tuple[str, ...] | None:
    """The levels in their order, where they are at least three of one scale, or the same word with numbers; else None.

    Roman numerals ask for the first two, since single letters are more often names.
    """
    plain = {level.strip().lower(): level for level in levels}
    if len(plain) < _LEAST or len(plain) < len(levels):
        return None
    for scale in _SCALES:
        if set(plain) <= set(scale) and not (scale[0] == "i" and not {"i", "ii"} <= set(plain)):
            return tuple(plain[word] for word in scale if word in plain)
    for pattern in (_TIMED, _DOSED):
        result = [pattern.match(level) for level in levels]
        words = {re.sub(r"[\d.+-]+", "", level).strip().lower() for level in levels}
        if all(result) and len(words) == 1:
            return tuple(sorted(levels, key=lambda level: float(pattern.match(level)[1])))  # type: ignore[index]
    quarters = {level: _QUARTER.match(level) for level in levels}
    if all(quarters.values()):
        return tuple(sorted(levels, key=lambda level: _year_and_quarter(quarters[level])))
    return _order_of_ranges(levels)


def _year_and_quarter(match: re.Match[str] | None) -> tuple[str, str]:
    assert match is not None
    return (match[1] or match[4], match[2] or match[3])


def _order_of_ranges(levels: Sequence[str]) -> tuple[str, ...] | None:
    """Ranges by their lower ends: "<=20", "20-40", ">40"; None where most are no range, or any is another word."""
    keys: dict[str, tuple[float, float]] = {}
    ranges = 0
    for level in levels:
        match = _RANGE.match(level.strip())
        if match is None:
            return None
        low = _number(match[2])
        sign = (match[1] or "").lower()
        ranges += bool(match[1] or match[3] or match[4])
        if low is None:
            return None
        less = bool(sign.startswith(_LOWEST) or (match[4] or "").lower() in ("or less", "or under"))
        keys[level] = (-float("inf"), low) if less else (low, 1.0 if sign or match[4] else 0.0)
    return tuple(sorted(levels, key=lambda level: keys[level])) if ranges else None


def _number(text: str) -> float | None:
    try:
        return float(text.rstrip(".,").replace(",", ""))
    except ValueError:
        return None
