"""Units in headings: what stands in brackets, or in a row of units, and reads as one."""

from __future__ import annotations

import re

_PREFIX = r"[pnµμumkcdMG]?"
_PLAIN = (
    r"copies|cells|counts|events|%|‰|°[CF]|K|h|hr|hrs|hours?|min|mins|minutes?|sec|secs|seconds?|d|days?|wk|weeks?|months?"
    r"|y|yr|yrs|years?|mmHg|bpm|beats|kg|AU|RLU|OD|ppm|ppb|CFU|cfu|fl|fL|log10|ratio|pH|z|points?|score"
)
_BASE = rf"(?:{_PREFIX}(?:g|l|L|mol|M|U|IU|kat|m|s|Pa|Hz|V|A|W|J|cal|Eq|osm|Osm|Osmol)|{_PLAIN})"
_POWER = r"[²³⁻¹0-9^]*"
_TEN = r"10[\^⁰¹²³⁴⁵⁶⁷⁸⁹0-9]*\s*"
_PER = rf"(?:\s*(?:/|·|\*|⋅| per )\s*(?:{_TEN})?(?:{_BASE}|Hb|creatinine|field|hpf|mm|cm|1\.73 ?m²){_POWER})"
_COUNT = r"/\s*(?:µl|µL|mL|ml|L|l|mm³|h|min|s|field|hpf)"
_UNIT = re.compile(rf"^(?:[×x]?\s*{_TEN})?(?:/\s*)?{_BASE}{_POWER}{_PER}*$|^{_COUNT}$")
_BRACKETS = re.compile(r"^(.*\S)\s*[\(\[]\s*([^()\[\]]+?)\s*[\)\]]$")
_NOT_UNITS = frozenset(["A", "V", "M", "W", "J", "z", "y", "points", "point"])


def is_unit(text: str) -> bool:
    """Whether a text reads as a unit."""
    return bool(_UNIT.match(text))


def split_unit(name: str) -> tuple[str, str | None]:
    """ "Ferritin (µg/L)" gives ("Ferritin", "µg/L"); brackets that hold no unit stay in the name.

    Single letters that are as likely the name of a group ("Lot (A)") stay too.
    """
    match = _BRACKETS.match(name)
    if match and is_unit(match[2]) and match[2] not in _NOT_UNITS:
        return match[1], match[2]
    return name, None
