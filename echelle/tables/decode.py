"""Bytes to text, by what the bytes say."""

from __future__ import annotations

import codecs

from echelle.errors import InputError

_MARKS = (
    (codecs.BOM_UTF8, "utf-8-sig", "UTF-8"),
    (codecs.BOM_UTF16_LE, "utf-16", "UTF-16"),
    (codecs.BOM_UTF16_BE, "utf-16", "UTF-16"),
)


def decode(data: bytes) -> tuple[str, str]:
    """The text and the name of its encoding: UTF-8, UTF-16 or Windows-1252; line ends become "\\n".

    Raises InputError for an empty file and for bytes that are no text.
    """
    if not data.strip(b" \t\r\n\x00\xef\xbb\xbf\xff\xfe"):
        raise InputError("the file is empty", remedy="Choose a file with a header and rows.")
    for mark, codec, name in _MARKS:
        if data.startswith(mark):
            try:
                return _plain(data.decode(codec)), name
            except UnicodeDecodeError as error:
                raise InputError(
                    f"the file begins like {name} but byte {error.start + 1} does not fit it",
                    remedy="Save it again as UTF-8 text.",
                ) from None
    if b"\x00" in data:
        raise InputError(
            f"the file is not text: byte {data.index(0) + 1} is a NUL",
            remedy="Save the table as CSV or TSV and bring that.",
        )
    try:
        text, name = data.decode("utf-8"), "UTF-8"
    except UnicodeDecodeError:
        text, name = data.decode("cp1252", errors="replace"), "Windows-1252"
    start = text[:100_000]
    odd = sum(1 for c in start if (c < " " and c not in "\t\r\n") or c == "\ufffd")
    if odd > len(start) / 200:
        raise InputError("the file is not text", remedy="Save the table as CSV or TSV and bring that.")
    return _plain(text), name


def _plain(text: str) -> str:
    return text.replace("\r\n", "\n").replace("\r", "\n") if "\r" in text else text
