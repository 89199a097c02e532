"""Lines of the log: of an error its kind and its places in the code, never its words, which may quote a cell."""

from __future__ import annotations

import logging
import traceback
from types import TracebackType

ExcInfo = tuple[type[BaseException], BaseException, TracebackType | None] | tuple[None, None, None]


class LogLines(logging.Formatter):
    """Formats a record."""

    def formatException(self, ei: ExcInfo) -> str:
        """The places where it went, from the outside in, and what kinds of errors led to it."""
        error: BaseException | None = ei[1]
        lines: list[str] = []
        while error is not None:
            lines.append(f"{type(error).__module__}.{type(error).__qualname__}")
            lines += [
                f"  {place.filename}:{place.lineno} in {place.name}" for place in traceback.extract_tb(error.__traceback__)
            ]
            error = error.__cause__ or error.__context__
        return "\n".join(lines)
