"""The states of a file on its way out."""

from typing import Literal

FileJobStateName = Literal["waiting", "working", "done", "refused", "stopped"]
