"""Numbers written in an unusual way: other dashes and digits, limits in words, flags, units and spreads behind the value."""

from __future__ import annotations

import re
import unicodedata
from dataclasses import dataclass
from functools import cache
from typing import Literal

from echelle.tables.trade_words import TRADE_WORDS
from echelle.tables.units import is_unit

Spelling = Literal["dash", "digits", "thousands", "limit", "flag", "unit", "spread", "bracket", "about", "power"]

_NUM = r"[+-]?(?:\d[\d.,]*|[.,]\d+)(?:[eE][+-]?\d+)?%?"
_DASHES = str.maketrans(dict.fromkeys("‐‑‒–—―−﹣－", "-"))
_RAISED = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻⁺", "0123456789-+")


@dataclass(frozen=True)
class SpelledNumber:
    """The number or limit in plain writing, the way it was written, and the unit behind it."""

    body: str
    spelling: Spelling
    unit: str = ""


@dataclass(frozen=True)
class _Patterns:
    worded: re.Pattern[str]
    limit_in_brackets: re.Pattern[str]
    spread: re.Pattern[str]
    bracket: re.Pattern[str]
    flag: re.Pattern[str]
    flag_first: re.Pattern[str]
    unit: re.Pattern[str]
    about: re.Pattern[str]
    power: re.Pattern[str]
    money: re.Pattern[str]


@cache
def _patterns() -> _Patterns:
    below, above = (f"(?:{'|'.join(TRADE_WORDS['limits'][side])})" for side in ("below", "above"))
    none = r"(?:nd|n\.d\.?|not detected|neg\.?|negative|bdl|bql|<?lod|<?loq)"
    mark = r"(?:[(\[]?\s*(?:H{1,2}|L{1,2}|HI|LO|high|low|abn|abnormal)\s*[)\]]?|\*{1,3}|[†‡#])"
    return _Patterns(
        worded=re.compile(rf"^(?:({below})|{above})\s+({_NUM})$", re.I),
        limit_in_brackets=re.compile(rf"^{none}\s*[(\[]\s*([<≤]\s*{_NUM})\s*[)\]]$", re.I),
        spread=re.compile(rf"^({_NUM})\s*(?:±|\+/-|\+-)\s*{_NUM}\s*(.*)$"),
        bracket=re.compile(rf"^({_NUM})\s*[(\[]\s*{_NUM}(?:\s*(?:-|,|;|to)\s*{_NUM})?\s*[)\]]$"),
        flag=re.compile(rf"^((?:[<>]=?\s*)?{_NUM})\s*{mark}$", re.I),
        flag_first=re.compile(rf"^(?:H{{1,2}}|L{{1,2}}|\*{{1,3}})\s+({_NUM})$"),
        unit=re.compile(rf"^((?:[<>≤≥]=?\s*)?{_NUM})\s*([^\d\s.,+\-][^\s].*|[^\d\s.,+\-])$"),
        power=re.compile(rf"^({_NUM})\s*[×x*·]\s*10\s*\^?\s*([+-]?\d{{1,3}}|[⁻⁺]?[⁰¹²³⁴⁵⁶⁷⁸⁹]{{1,3}})$"),
        money=re.compile(rf"^([+-]?)([$€£¥])\s*({_NUM})$"),
        about=re.compile(rf"^(?:~|≈|ca\.?|circa|approx\.?|about|etwa)\s*({_NUM})$", re.I),
    )


def read_spelling(text: str) -> SpelledNumber | None:
    """The number that an unusually written cell holds, such as "ND(<0.1)", "5.1 H", "1.2±0.3", "kleiner 0,4"; None for none."""
    if not re.search(r"\d", text):
        return None
    patterns = _patterns()
    plain = plain_digits(text)
    bare = plain.translate(_DASHES)
    if re.fullmatch(rf"(?:[<>≤≥]=?\s*)?{_NUM}", bare) and bare != text:
        return SpelledNumber(bare, "digits" if plain != text else "dash")
    if match := patterns.worded.match(bare):
        return SpelledNumber(("<" if match[1] else ">") + match[2], "limit")
    if match := patterns.limit_in_brackets.match(bare):
        return SpelledNumber(match[1], "limit")
    if match := patterns.spread.match(bare):
        return SpelledNumber(match[1], "spread") if not match[2] or is_unit(match[2]) else None
    if match := patterns.bracket.match(bare):
        return SpelledNumber(match[1], "bracket")
    if match := patterns.flag.match(bare) or patterns.flag_first.match(bare):
        return SpelledNumber(match[1], "flag")
    if match := patterns.power.match(bare):
        return SpelledNumber(f"{match[1]}e{match[2].translate(_RAISED)}", "power")
    if match := patterns.money.match(bare):
        return SpelledNumber(match[1] + match[3], "unit", match[2])
    if match := patterns.about.match(bare):
        return SpelledNumber(match[1], "about")
    if (match := patterns.unit.match(bare)) and is_unit(match[2]) and len(match[2]) > 1 and match[2][0] not in "x×":
        return SpelledNumber(match[1], "unit", match[2])
    return None


def plain_digits(text: str) -> str:
    """The text with every script's decimal digits as 0 to 9, and Arabic marks as "." and ","."""
    if text.isascii():
        return text
    out = []
    for letter in text:
        digit = unicodedata.decimal(letter, None)
        out.append(str(digit) if digit is not None else {"٫": ".", "٬": ",", "，": ",", "．": "."}.get(letter, letter))
    return "".join(out)
