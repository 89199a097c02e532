"""How light a colour looks, and colours between others."""

from __future__ import annotations

from collections.abc import Sequence


def lightness(colour: str) -> float:
    """Lightness of "#RRGGBB" between 0 (black) and 1 (white), by OKLab (Ottosson 2020)."""
    red, green, blue = (_linear(int(colour[i : i + 2], 16) / 255) for i in (1, 3, 5))
    long = 0.4122214708 * red + 0.5363325363 * green + 0.0514459929 * blue
    middle = 0.2119034982 * red + 0.6806995451 * green + 0.1073969566 * blue
    short = 0.0883024619 * red + 0.2817188376 * green + 0.6299787005 * blue
    return float(0.2104542553 * long ** (1 / 3) + 0.7936177850 * middle ** (1 / 3) - 0.0040720468 * short ** (1 / 3))


def _linear(share: float) -> float:
    return float(share / 12.92 if share <= 0.04045 else ((share + 0.055) / 1.055) ** 2.4)


def between_colours(stops: Sequence[str], share: float) -> str:
    """The colour at a share (0 to 1) of the way along evenly spaced stops, each "#RRGGBB"."""
    at = min(max(share, 0.0), 1.0) * (len(stops) - 1)
    first = min(int(at), len(stops) - 2)
    low, high = (_channels(stops[place]) for place in (first, first + 1))
    mixed = (round(a + (b - a) * (at - first)) for a, b in zip(low, high, strict=True))
    return "#" + "".join(f"{channel:02X}" for channel in mixed)


def _channels(colour: str) -> tuple[int, int, int]:
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)
