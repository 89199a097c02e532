"""Bytes to text, by what the bytes say."""

from __future__ import annotations

import codecs
import re
from dataclasses import dataclass
from typing import Literal

from echelle.errors import InputError
from echelle.tables.reading.byte_pieces import CONTROLS, holds_controls
from echelle.tables.table import Remark, Remedy

Encoding = Literal[
    "utf-8", "utf-16", "windows-1252", "windows-1250", "windows-1251", "windows-1253", "windows-1254", "mac-roman", "cp850",
    "latin-9", "shift-jis", "gb18030", "big5", "euc-kr", "koi8-r",
]  # fmt: skip

# Python's codec and the name that people know.
_CODECS: dict[str, tuple[str, str]] = {
    "utf-8": ("utf-8-sig", "UTF-8"), "utf-16": ("utf-16", "UTF-16"), "windows-1252": ("cp1252", "Windows-1252"),
    "windows-1250": ("cp1250", "Windows-1250"), "windows-1251": ("cp1251", "Windows-1251"),
    "windows-1253": ("cp1253", "Windows-1253"),
    "windows-1254": ("cp1254", "Windows-1254"), "mac-roman": ("mac_roman", "Mac Roman"), "cp850": ("cp850", "DOS 850"),
    "latin-9": ("iso8859_15", "Latin-9"), "shift-jis": ("cp932", "Shift JIS"), "gb18030": ("gb18030", "GB 18030"),
    "big5": ("cp950", "Big5"), "euc-kr": ("cp949", "EUC-KR"), "koi8-r": ("koi8_r", "KOI8-R"),
}  # fmt: skip
_MARKS = (
    (codecs.BOM_UTF8, "utf-8-sig", "UTF-8"),
    (codecs.BOM_UTF16_LE, "utf-16", "UTF-16"),
    (codecs.BOM_UTF16_BE, "utf-16", "UTF-16"),
)
# Tried in this order on bytes that are no Unicode; the first wins a tie.
_PAGES: tuple[Encoding, ...] = (
    "windows-1252", "windows-1250", "windows-1251", "windows-1253", "koi8-r", "mac-roman", "cp850",
)  # fmt: skip
_OF_ONE_SCRIPT = ("windows-1251", "windows-1253", "koi8-r")


@dataclass(frozen=True)
class _Pairs:
    """The usual letters of a page of two bytes: their first bytes and the least second byte; where another page has its letters
    in the same place too, those that make up a third of any text.
    """

    first: frozenset[int]
    second: int
    common: str = ""


# JIS X 0208, KS X 1001, GB 2312, Big5: signs, kana and the usual characters. Tried in this order.
_PAIRED: dict[Encoding, _Pairs] = {
    "shift-jis": _Pairs(frozenset((0x81, 0x82, 0x83, *range(0x88, 0x98))), 0x40),
    "euc-kr": _Pairs(
        frozenset((0xA1, 0xA3, *range(0xB0, 0xC9))), 0xA1,
        "이다는을의에가지고하도은로를사한리대인자기나라시일정과전해수서"
        "상구부보아주원실장동호명성조남여북연월간환병검체중비용번값치농신",
    ),
    "gb18030": _Pairs(frozenset((0xA1, 0xA3, *range(0xB0, 0xD8))), 0xA1),
    "big5": _Pairs(frozenset((0xA1, 0xA2, *range(0xA4, 0xC7))), 0x40),
}  # fmt: skip
_MOSTLY, _COMMON = 0.85, 0.3
_USUAL = frozenset("äöüÄÖÜßéèêëÉàâáçñóòôõíìîïúùûåøæÅØÆãąęłńśźżćčďěňřšťůžýőű°µ²³±–’‘“”…×·€£§®½")
_NOTHING = b" \t\r\n\x00\x1a\xef\xbb\xbf\xff\xfe"
_PIECE = 1 << 20
_SAMPLE = 200_000
_MOST_CONTROLS = 0.1
_MOST_LINES = 2_000
# How much better than the usual page another one must fit.
_MARGIN = 0.3


@dataclass(frozen=True, eq=False)
class Decoded:
    """The text as UTF-8 with "\\n" at line ends, the name of its encoding, and what was guessed or taken out."""

    data: bytes
    encoding: str
    remarks: tuple[Remark, ...] = ()


def as_utf8(data: bytes, told: Encoding | None = None) -> Decoded:
    """Decode a file's bytes. Bytes that are UTF-8 already are not copied. ``told`` is the encoding that a person chose.

    Raises InputError for an empty file, for UTF-32, and for bytes that are no text or not in the encoding chosen.
    """
    if not data[:4096].strip(_NOTHING) and not data.strip(_NOTHING):
        raise InputError("the file is empty", remedy="Choose a file with a header and rows.")
    if data.startswith((codecs.BOM_UTF32_LE, codecs.BOM_UTF32_BE)):
        raise InputError("the file is UTF-32 text", remedy="Save it as UTF-8 and bring that.")
    if told is not None:
        codec, name = _CODECS[told]
        return _cleaned(
            _decode(data, codec, f"the file is not {name}: byte {{}} does not fit it", "Choose another encoding."), name
        )
    for mark, codec, name in _MARKS:
        if data.startswith(mark):
            fault = f"the file begins like {name} but byte {{}} does not fit it"
            return _cleaned(_decode(data, codec, fault, "Save it again as UTF-8 text."), name)
    if b"\x00" in data:
        codec_of_zeros = _without_mark(data)
        if codec_of_zeros is not None:
            fault = "the file looks like UTF-16 but byte {} does not fit it"
            text = _decode(data, codec_of_zeros, fault, "Save it again as UTF-8 text.")
            return _cleaned(text, "UTF-16", [Remark("read-no-mark", {"name": "UTF-16"})])
    if _is_utf8(data):
        return _cleaned(data, "UTF-8")
    page = _page_of(data)
    codec, name = _CODECS[page]
    lines = b"\n".join([line for line in data.split(b"\n") if not line.isascii()][:_MOST_LINES])
    here = lines.decode(codec, errors="replace")
    rivals = _PAIRED if page in _PAIRED else _PAGES
    pages = [other for other in rivals if other != page and _fits(data, other) and lines.decode(_CODECS[other][0]) != here]
    others = tuple(Remedy("undo-code-page", {"name": _CODECS[other][1]}, {"encoding": other}) for other in pages)
    start = next(place for place, byte in enumerate(data) if byte >= 0x80)
    line = data.count(b"\n", 0, start) + 1
    line_start = data.rfind(b"\n", 0, start) + 1
    cell = data[max(line_start, start - 40) : start + 40].decode(codec, errors="replace").splitlines()[0].strip()
    remark = Remark("read-code-page", {"name": name, "text": cell}, line=line, remedies=others)
    return _cleaned(data.decode(codec, errors="replace").encode(), name, [remark])


def _fits(data: bytes, page: Encoding) -> bool:
    try:
        data.decode(_CODECS[page][0])
    except UnicodeDecodeError:
        return False
    return True


def _decode(data: bytes, codec: str, fault: str, remedy: str) -> bytes:
    try:
        return data.decode(codec).encode()
    except UnicodeDecodeError as error:
        raise InputError(fault.format(error.start + 1), remedy=remedy) from None
    except UnicodeEncodeError:
        raise InputError("the file holds halves of characters", remedy="Save it again as UTF-8 text.") from None


def _without_mark(data: bytes) -> str | None:
    """UTF-16 without its mark, by where the zeros stand. Raises InputError for UTF-32."""
    start = data[: _SAMPLE - _SAMPLE % 4]
    zeros = [start[place::4].count(0) / max(1, len(start[place::4])) for place in range(4)]
    if sum(share > 0.9 for share in zeros) >= 2 and sum(zeros) > 2.5:
        raise InputError("the file is UTF-32 text", remedy="Save it as UTF-8 and bring that.")
    even, odd = (zeros[0] + zeros[2]) / 2, (zeros[1] + zeros[3]) / 2
    if odd > 0.3 and even < 0.1:
        return "utf-16-le"
    return "utf-16-be" if even > 0.3 and odd < 0.1 else None


def _is_utf8(data: bytes) -> bool:
    """Whether the bytes are UTF-8, looked at piece by piece."""
    if data.isascii():
        return True
    decoder = codecs.getincrementaldecoder("utf-8")()
    try:
        for start in range(0, len(data), _PIECE):
            piece = data[start : start + _PIECE]
            # A letter that the piece before began is none.
            if not piece.isascii() or decoder.getstate()[0]:
                decoder.decode(piece)
        decoder.decode(b"", final=True)
    except UnicodeDecodeError:
        return False
    return True


def _page_of(data: bytes) -> Encoding:
    """The code page under which the letters make words: usual ones score, signs inside words and runs of accents do not."""
    lines = [line for line in data[: 10 * _SAMPLE].split(b"\n") if not line.isascii()][:_MOST_LINES]
    paired = next((page for page in _PAIRED if _is_paired(b"\n".join(lines), page)), None)
    if paired is not None:
        return paired
    best, best_score = _PAGES[0], -float("inf")
    for page in _PAGES:
        text = b"\n".join(lines).decode(_CODECS[page][0], errors="replace")
        high = [letter for letter in text if letter >= "\x80"]
        usual = sum(letter in _USUAL or "а" <= letter.lower() <= "я" or "ά" <= letter.lower() <= "ώ" for letter in high)
        inside = len(re.findall(r"(?<=[A-Za-zÀ-ɏ])(?:[^\w\s\x00-\x7f]|[²³¹ªº])(?=[a-z])", text))
        runs = len(re.findall(r"[À-ÿ]{4,}", text))
        mixed = len(re.findall(r"[A-Za-z][а-яА-ЯΆ-ώ]|[а-яА-ЯΆ-ώ][A-Za-z]", text))
        if page in _OF_ONE_SCRIPT:
            # A capital after a small letter, or a sigma of word ends inside a word, is a letter of another page.
            upper = len(re.findall(r"(?<=[а-яά-ώ])[А-ЯΆ-Ώ]|ς(?=\w)", text))
        else:
            upper = len(re.findall(r"(?<=[a-z])[^\x00-\x7f\W\d_a-zà-ÿ](?=[a-z]|\b)", text))
        rest = 0.0 if page == _PAGES[0] else _MARGIN
        score = -rest + (usual - 2 * inside - 3 * runs - 2 * mixed - upper - 4 * text.count("\ufffd")) / max(1, len(high))
        if score > best_score + 1e-9:
            best, best_score = page, score
    return best


def _is_paired(lines: bytes, page: Encoding) -> bool:
    """Whether bytes are letters of two bytes under a page: nearly all of them usual ones, and hardly one beside a Latin letter,
    where an accent of another page took its neighbour along.
    """
    codec, pairs = _CODECS[page][0], _PAIRED[page]
    text = lines.decode(codec, errors="replace")
    letters = [letter for letter in text if letter >= "\x80"]
    codes = [letter.encode(codec) for letter in letters if letter != "\ufffd"]
    usual = sum(len(code) == 2 and code[0] in pairs.first and code[1] >= pairs.second for code in codes)
    beside = len(re.findall(r"[A-Za-z][^\x00-\x7f]|[^\x00-\x7f][A-Za-z]", text))
    common = sum(letter in pairs.common for letter in letters) if pairs.common else len(letters)
    return usual - beside >= _MOSTLY * max(1, len(letters)) and common >= _COMMON * len(letters)


def _cleaned(data: bytes, name: str, remarks: list[Remark] | None = None) -> Decoded:
    """Without control characters, and with "\\n" at line ends. Raises InputError where too much of the start is no text."""
    said = list(remarks or [])
    if holds_controls(data):
        bare = data.translate(None, CONTROLS)
        gone = len(data) - len(bare)
        start = data[:_SAMPLE]
        if len(start) - len(start.translate(None, CONTROLS)) > _MOST_CONTROLS * len(start):
            zero = f": byte {data.index(0) + 1} is a NUL" if b"\x00" in data else ""
            raise InputError(f"the file is not text{zero}", remedy="Save the table as CSV or TSV and bring that.")
        ended = data.rstrip(b"\x00\x1a\r\n ")
        place = next((i for i, byte in enumerate(ended) if byte in CONTROLS), None)
        line = data.count(b"\n", 0, place) + 1 if place is not None else None
        said.append(Remark("read-controls", {"count": gone}, line=line))
        data = bare
    return Decoded(_plain(data), name, tuple(said))


def _plain(data: bytes) -> bytes:
    """Line ends as "\\n". A carriage return inside quotes is part of its cell."""
    if b"\r" not in data:
        return data
    data = data.replace(b"\r\n", b"\n")
    if b"\r" not in data:
        return data
    if b'"' not in data:
        return data.replace(b"\r", b"\n")
    parts = data.split(b'"')
    if len(parts) % 2 == 0:
        return data.replace(b"\r", b"\n")
    parts[::2] = [part.replace(b"\r", b"\n") for part in parts[::2]]
    return b'"'.join(parts)
