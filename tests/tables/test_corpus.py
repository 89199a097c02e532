"""No ugly file is read wrong in silence: each is read as expected, or refused in one sentence with a remedy."""

from __future__ import annotations

import pytest

from echelle.errors import InputError
from echelle.tables.reading.options import ReadingOptions
from echelle.tables.reading.read import read_bytes
from echelle.tables.reading.read_report import account_of
from tests.support.corpus import FILES, Ugly


def test_the_corpus_is_large() -> None:
    assert len(FILES) >= 60 and len({file.name for file in FILES}) == len(FILES)


@pytest.mark.parametrize("ugly", [f for f in FILES if f.refused is None], ids=lambda f: f.name)
def test_read_as_expected(ugly: Ugly) -> None:
    result = account_of(read_bytes(ugly.bytes(), ReadingOptions(**ugly.options)))
    columns = {column["name"]: column for column in result["columns"]}
    assert list(columns) == list(ugly.columns)
    assert result["rows"] == ugly.rows
    for name, expected in ugly.columns.items():
        assert {key: columns[name][key] for key in expected} == expected, name
        assert columns[name]["unit"] != ""
    if ugly.header_row is not None:
        assert result["header_row"] == ugly.header_row
    if ugly.format is not None:
        assert result["format"] == ugly.format
    said = " ".join(remark["text"] for remark in result["remarks"])
    assert (ugly.remark or "") in said, said


@pytest.mark.parametrize("ugly", [f for f in FILES if f.refused is not None], ids=lambda f: f.name)
def test_refused_in_one_sentence(ugly: Ugly) -> None:
    with pytest.raises(InputError) as caught:
        read_bytes(ugly.bytes(), ReadingOptions(**ugly.options))
    sentence = caught.value.sentence()
    assert ugly.refused is not None and ugly.refused in sentence and caught.value.remedy and "\n" not in sentence
