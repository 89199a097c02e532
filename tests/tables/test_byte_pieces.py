"""What stands in a large text is found wherever pieces of it begin."""

from __future__ import annotations

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from echelle.tables.reading import byte_pieces
from echelle.tables.reading.byte_pieces import count_of_byte, holds_controls, touches
from echelle.tables.reading.delimited import _spaces_at_edges
from echelle.tables.reading.encoding import as_utf8

texts = st.lists(st.sampled_from([b"a", b" ", b",", b"\n", b"\t", "µ".encode(), "\u3000".encode(), b"\x01"]), max_size=30).map(
    b"".join
)


@given(texts, st.integers(1, 7))
def test_pieces_hide_nothing(text: bytes, piece: int) -> None:
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(byte_pieces, "_PIECE", piece)
        assert count_of_byte(text, 0x2C) == text.count(b",") and holds_controls(text) == (b"\x01" in text)
        assert touches(text, 0x20, b",\n") == bool(re.search(rb"^ | $| [,\n]|[,\n] ", text))
        cells = re.split(r"[,\n]", text.decode())
        at_edges = any(cell != cell.strip() for cell in cells)
        assert _spaces_at_edges(text, b",") or not at_edges


@given(st.text(st.sampled_from("aµ名🦎,\n"), min_size=1).filter(str.strip), st.integers(1, 5), st.booleans())
def test_utf8_is_known_piece_by_piece(text: str, piece: int, spoilt: bool) -> None:
    data = b"n,m\n" + text.encode() + (b"\xc3" if spoilt else b"")
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("echelle.tables.reading.encoding._PIECE", piece)
        assert (as_utf8(data).encoding == "UTF-8") != spoilt
