"""How delimited text is cut: which character separates the cells, which one quotes them, and what escapes a quote."""

from __future__ import annotations

import csv
import re
from collections import Counter
from collections.abc import Iterable, Iterator
from contextlib import suppress
from dataclasses import dataclass, replace
from typing import Literal

DELIMITERS = ("\t", ";", ",", "|", "^", "~", "¦", "§", ":")
BLANKS = " "
Quote = Literal['"', "'", "`", "none"]
_SAMPLE_LINES = 400
_IN_NUMBER = re.compile(r"(?<=\d),(?=\d)")
_WORD = re.compile(r'"(?:[^"]|"")*"|[^\s"]+')
_NUMBER = re.compile(r"[<>]?[+-]?[\d.,]*\d(?:[eE][+-]?\d+)?")


@dataclass(frozen=True)
class Dialect:
    """One delimiter (a blank stands for runs of blanks), one quote, and whether a backslash escapes what follows."""

    delimiter: str
    quote: Quote = '"'
    backslash: bool = False


def dialect_of(text: str, delimiter: str | None = None) -> Dialect:
    """The delimiter and quotes under which most lines hold the same number of cells, more than one.

    Ties go to the delimiter earlier in :data:`DELIMITERS`; a table of one column gets a comma. Blanks separate only where
    nothing else does, every line has as many words, and numbers are among them.
    """
    lines = text.split("\n")[:_SAMPLE_LINES]
    if len(lines) == _SAMPLE_LINES or (len(lines) > 1 and len(text) >= 400_000):
        lines.pop()  # it may be cut
    sample = "\n".join(lines)
    quote = _quote_of(sample, (delimiter,) if delimiter else DELIMITERS)
    if delimiter is not None:
        return _escaped(Dialect(delimiter, quote), sample)
    best, best_score, cut = ",", 0.0, 0.0
    for candidate in DELIMITERS:
        if candidate not in sample or (candidate == "," and _is_decimal_comma(lines)):
            continue
        score = _score(sample, Dialect(candidate, quote))
        if candidate == ":" and (score < 0.9 or _is_clock(sample)):
            continue
        if candidate in "^~¦§:" and score < 0.8:
            continue
        cut = max(cut, sum(candidate in line for line in lines) / len(lines))
        if score > best_score + 1e-9:
            best, best_score = candidate, score
    if best_score < 0.75 and cut < 0.7 and _separated_by_blanks(lines):
        return Dialect(BLANKS, quote)
    return _escaped(Dialect(best, quote), sample)


def _escaped(dialect: Dialect, sample: str) -> Dialect:
    """The dialect, with a backslash before quotes where lines then agree better."""
    if dialect.quote == "none" or f"\\{dialect.quote}" not in sample:
        return dialect
    escaped = replace(dialect, backslash=True)
    return escaped if _records_held(sample, escaped) > _records_held(sample, dialect) else dialect


def _records_held(sample: str, dialect: Dialect) -> int:
    """How many records a strict reading gives before the first quote that is not closed as it should be."""
    held = 0
    with suppress(csv.Error):
        for _ in csv_reader(sample.splitlines(keepends=True), dialect, strict=True):
            held += 1
    return held


def _score(sample: str, dialect: Dialect) -> float:
    """The share of lines that hold the usual number of cells; 0 where that is one."""
    if dialect.quote == "none" or dialect.quote not in sample:
        widths = Counter(
            line.count(dialect.delimiter) + 1 for line in sample.split("\n") if line.strip(dialect.delimiter + " ")
        )
    else:
        widths = Counter()
        with suppress(csv.Error):
            widths.update(len(row) for row in csv_reader(sample.split("\n"), dialect) if any(row))
    if not widths:
        return 0.0
    width, lines = max(widths.items(), key=lambda item: (item[1], item[0]))
    wide = [(count, rows) for count, rows in widths.items() if count > 1 and rows >= 0.25 * widths.total()]
    if width < 2 and wide:
        # A block of settings above the table holds one cell a line.
        width, lines = max(wide)
        return 0.75 * lines / widths.total() + 0.25
    return 0.0 if width < 2 else lines / widths.total()


def csv_reader(lines: Iterable[str], dialect: Dialect, strict: bool = False) -> Iterator[list[str]]:
    """Python's csv reader over lines, in a dialect; ``strict`` makes a quote that is not closed as it should be an error."""
    if dialect.quote == "none":
        return csv.reader(lines, delimiter=dialect.delimiter, quoting=csv.QUOTE_NONE)
    return csv.reader(
        lines,
        delimiter=dialect.delimiter,
        quotechar=dialect.quote,
        escapechar="\\" if dialect.backslash else None,
        doublequote=not dialect.backslash,
        skipinitialspace=dialect.delimiter != "\t",
        strict=strict,
    )


def _quote_of(sample: str, delimiters: tuple[str, ...]) -> Quote:
    """The quote that opens cells at their start and closes them at their end; double quotes where none does."""
    at = "".join(re.escape(delimiter) for delimiter in delimiters)
    counts: dict[Quote, int] = {}
    quotes: tuple[Quote, ...] = ('"', "'", "`")
    for quote in quotes:
        mark = re.escape(quote)
        counts[quote] = len(re.findall(rf"(?:^|[{at}]) *{mark}[^\n{mark}]*{mark} *(?=$|[{at}\n])", sample, re.M))
    best = max(counts, key=lambda quote: counts[quote])
    return best if counts[best] > 1 and counts[best] > 4 * counts['"'] else '"'


def _is_decimal_comma(lines: list[str]) -> bool:
    """Whether commas stand in numbers, in lines that something else cuts more often; however uneven that leaves the lines."""
    text = "\n".join(lines)
    filled = [line for line in lines if line.strip()]
    cut = any(sum(line.count(other) > 1 for line in filled) >= 0.9 * len(filled) for other in ("\t", ";", "|"))
    return cut and len(_IN_NUMBER.findall(text)) >= 0.9 * text.count(",")


def _is_clock(sample: str) -> bool:
    return bool(re.search(r"\b\d{1,2}:\d{2}\b", sample))


def words_of_line(line: str) -> list[str]:
    """A line's words between blanks; quotes hold blanks together."""
    return _WORD.findall(line) if '"' in line else line.split()


def _separated_by_blanks(lines: list[str]) -> bool:
    words = [words_of_line(line) for line in lines if line.strip()]
    if len(words) < 2:
        return False
    width, often = Counter(map(len, words)).most_common(1)[0]
    rows = [row for row in words[1:] if len(row) == width]
    numbers = sum(bool(_NUMBER.fullmatch(word)) for row in rows for word in row)
    aligned = often >= 0.6 * len(words) or often >= len(words) - 1
    return width > 1 and aligned and numbers >= 0.3 * max(1, sum(map(len, rows)))
