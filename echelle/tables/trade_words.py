"""The words of the trade, as data: names of columns, units, rows of totals and notes."""

from __future__ import annotations

import tomllib
from pathlib import Path
from typing import Any

TRADE_WORDS: dict[str, dict[str, Any]] = tomllib.loads(Path(__file__).with_suffix(".toml").read_text(encoding="utf-8"))
