"""Recipes of earlier releases, made those of this one. A recipe carries its version in the key ``echelle``."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

VERSION = 1
# From a version to the next one; each takes the recipe as plain data.
UPGRADES: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {}


def upgraded(data: dict[str, Any]) -> dict[str, Any]:
    """The recipe as this release writes it. Raises ValueError for one of a newer release."""
    version = data.get("echelle")
    while isinstance(version, int) and version in UPGRADES:
        data = UPGRADES[version]({**data}) | {"echelle": version + 1}
        version += 1
    if isinstance(version, int) and version > VERSION:
        raise ValueError(f"this recipe is of a newer release (version {version}, and this one reads up to {VERSION})")
    return data
