"""The states of a file on its way in."""

from typing import Literal

ReadingState = Literal["waiting", "reading", "done", "refused", "stopped"]
