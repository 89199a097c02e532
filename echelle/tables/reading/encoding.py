"""Bytes to text, by what the bytes say."""

from __future__ import annotations

import codecs

from echelle.errors import InputError

_MARKS = (
    (codecs.BOM_UTF8, "utf-8-sig", "UTF-8"),
    (codecs.BOM_UTF16_LE, "utf-16", "UTF-16"),
    (codecs.BOM_UTF16_BE, "utf-16", "UTF-16"),
)
_TOLD = {"utf-8": ("utf-8-sig", "UTF-8"), "utf-16": ("utf-16", "UTF-16"), "windows-1252": ("cp1252", "Windows-1252")}
_NOTHING = b" \t\r\n\x00\xef\xbb\xbf\xff\xfe"
_PIECE = 1 << 20


def as_utf8(data: bytes, told: str | None = None) -> tuple[bytes, str]:
    """The text as UTF-8 with "\\n" at line ends, and the name of its encoding: UTF-8, UTF-16 or Windows-1252.

    Bytes that are so already are not copied. ``told`` is the encoding that a person chose. Raises InputError for an empty
    file and for bytes that are no text, or not in the encoding chosen.
    """
    if not data[:4096].strip(_NOTHING) and not data.strip(_NOTHING):
        raise InputError("the file is empty", remedy="Choose a file with a header and rows.")
    if told is not None:
        codec, name = _TOLD[told]
        try:
            return _plain(data.decode(codec).encode()), name
        except UnicodeDecodeError as error:
            raise InputError(
                f"the file is not {name}: byte {error.start + 1} does not fit it", remedy="Choose another encoding."
            ) from None
    for mark, codec, name in _MARKS:
        if data.startswith(mark):
            try:
                return _plain(data.decode(codec).encode()), name
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
    name = "UTF-8"
    if not _is_utf8(data):
        data, name = data.decode("cp1252", errors="replace").encode(), "Windows-1252"
    start = data[:100_000].decode(errors="ignore")
    odd = sum(1 for c in start if (c < " " and c not in "\t\r\n") or c == "\ufffd")
    if odd > len(start) / 200:
        raise InputError("the file is not text", remedy="Save the table as CSV or TSV and bring that.")
    return _plain(data), name


def _is_utf8(data: bytes) -> bool:
    """Whether the bytes are UTF-8, looked at piece by piece."""
    if data.isascii():
        return True
    decoder = codecs.getincrementaldecoder("utf-8")()
    try:
        for start in range(0, len(data), _PIECE):
            decoder.decode(data[start : start + _PIECE])
        decoder.decode(b"", final=True)
    except UnicodeDecodeError:
        return False
    return True


def _plain(data: bytes) -> bytes:
    return data.replace(b"\r\n", b"\n").replace(b"\r", b"\n") if b"\r" in data else data
