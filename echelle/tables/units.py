"""Units in headings: what stands in brackets, or in a row of units, and reads as one.

The grammar is that of UCUM (Unified Code for Units of Measure: prefixes, atoms, exponents, "." and "/", annotations in braces),
with the spellings that laboratories use besides: "copies/mL", "×10⁹/L", "mL/min/1.73 m²", "Zellen/µl", "per field".
"""

from __future__ import annotations

import re
from functools import cache

from echelle.tables.trade_words import TRADE_WORDS

_WORDS = TRADE_WORDS["units"]
_BRACKETS = re.compile(r"^(.*\S)\s*[(\[]\s*([^()\[\]]+?|[^()\[\]]*\([^()]*\)[^()\[\]]*?)\s*[)\]]$")
# As likely the name of a group or a word on the value itself as a unit.
_NOT_UNITS = frozenset(_WORDS["names"].split())
_QUALIFIERS = frozenset(_WORDS["qualifiers"].split())
_NEITHER = frozenset(["yes/no", "y/n", "m/f", "f/m", "n/a", "and/or", "true/false", "0/1", "1/0"])
_SIGNED = re.compile(r"^[^\s,;:]{1,24}/[^\s,;:]{1,24}$")
_CAPITALS = re.compile(r"^[A-Z]{3,5}$")


@cache
def _unit_pattern() -> re.Pattern[str]:
    metric, fixed = "|".join(_WORDS["metric"]), "|".join(_WORDS["fixed"])
    prefix = "(?:da|mc|[yzafpnµμumcdhkKMGTPEZY])?"
    exponent = r"(?:\^?\(?[+\-−]?[1-9]\)?|[⁺⁻]?[¹²³⁴⁵⁶⁷⁸⁹]|\*\*-?[1-9])?"
    ten = r"(?:[×x*]?\s*10(?:[\^*]?[+\-−⁻]?[0-9⁰¹²³⁴⁵⁶⁷⁸⁹]+)?\*?)"
    of = rf"(?:\s+(?:{'|'.join(_WORDS['of'])}))?"
    atom = rf"(?:(?:{fixed})|{prefix}(?:{metric})){exponent}(?:\{{[^}}]*\}})?"
    numbered = rf"(?:\d+(?:[.,]\d+)?\s*)?{atom}{of}"
    field = f"(?:{'|'.join(_WORDS['per'])})"
    term = rf"(?:{ten}\s*)?(?:{numbered}|{field}|\{{[^}}]*\}})"
    join = r"\s*(?:/|·|\.|\*|⋅|×| per | pro | par | por |\s)\s*"
    return re.compile(
        rf"^(?:(?:log10|log₁₀|log2|ln|log)\s+)?(?:(?:{ten}|1)?\s*(?:/|per )\s*)?{term}(?:{join}{term})*$|^{ten}$|^\{{[^}}]+\}}$"
    )


def is_unit(text: str) -> bool:
    """Whether a text reads as a unit."""
    return len(text) <= 40 and bool(_unit_pattern().match(text))


def split_unit(name: str) -> tuple[str, str | None]:
    """ "Ferritin (µg/L)" gives ("Ferritin", "µg/L"); brackets that hold a plain qualifier stay in the name.

    Single letters that are as likely the name of a group ("Lot (A)") stay too.
    """
    match = _BRACKETS.match(name)
    if match is None:
        return name, None
    inside = match[2].removeprefix("in ")
    if inside in _NOT_UNITS or not (is_unit(inside) or _looks_like_one(inside)):
        return name, None
    return match[1], inside


def _looks_like_one(text: str) -> bool:
    """Whether a word that the grammar does not know is written as units are: "Kopien/ml", "NTU"."""
    if text.upper() in _QUALIFIERS or text.lower() in (
        "yes/no",
        "y/n",
        "m/f",
        "f/m",
        "n/a",
        "and/or",
        "true/false",
        "0/1",
        "1/0",
    ):
        return False
    if _SIGNED.match(text):
        left, right = text.split("/", 1)
        return is_unit(left) or is_unit(right)
    return bool(_CAPITALS.match(text))
