"""Text to runs: ordered by the Unicode bidirectional rules, each in one face and direction."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator, Mapping, Sequence
from itertools import groupby

from bidi import algorithm

from echelle.drawing.fonts.faces import has_glyph
from echelle.recipes.markup import PLAIN, TextStyle

_CONTROLS = dict.fromkeys(c for c in range(0x20)) | dict.fromkeys([0x7F, *range(0x202A, 0x202F), *range(0x2066, 0x206A)])


def clean_text(text: str) -> str:
    """One line of plain text: tabs and line ends become spaces, control and direction marks go."""
    return unicodedata.normalize("NFC", text.replace("\t", " ").replace("\n", " ")).translate(_CONTROLS)


Run = tuple[str, str, bool, TextStyle]


def runs_of(text: str, chains: Mapping[bool, Sequence[str]], manners: Sequence[TextStyle] = ()) -> tuple[list[Run], str]:
    """Runs as (text in logical order, face, backwards, manner) from left to right, and the characters nobody can write.

    ``chains`` holds the faces to ask in turn, upright (False) and slanted (True); ``manners`` one for each character, or none.
    """
    pieces: list[tuple[int, str, TextStyle, str]] = []
    unwritable = ""
    face = chains[False][0]
    manner = PLAIN
    for place, (character, level) in enumerate(zip(text, levels_of(text), strict=True)):
        before, manner = manner, manners[place] if manners else PLAIN
        stays = bool(pieces) and before == manner
        stays = stays and (character == " " or bool(unicodedata.combining(character)) or character in "\u200c\u200d")
        if not (stays and (has_glyph(face, character) or character in "\u200c\u200d")):
            faces = chains[manner.italic]
            result = next((f for f in faces if has_glyph(f, character)), None)
            if result is None:
                unwritable += character
            face = result or faces[0]
        pieces.append((level, face, manner, character))
    joined = [(of, "".join(piece[3] for piece in group)) for of, group in groupby(pieces, key=lambda piece: piece[:3])]
    return [(body, face, level % 2 == 1, how) for (level, face, how), body in _visual(joined)], unwritable


def levels_of(text: str) -> list[int]:
    """The embedding level of each character (Unicode Standard Annex 9)."""
    if all(unicodedata.bidirectional(c) not in ("R", "AL", "AN") for c in text):
        return [0] * len(text)
    storage = algorithm.get_empty_storage()
    storage["base_level"] = algorithm.get_base_level(text)
    storage["base_dir"] = ("L", "R")[storage["base_level"]]
    algorithm.get_embedding_levels(text, storage)
    algorithm.explicit_embed_and_overrides(storage)
    algorithm.resolve_weak_types(storage)
    algorithm.resolve_neutral_types(storage, False)
    algorithm.resolve_implicit_levels(storage, False)
    ordered = iter([character["level"] for character in storage["chars"]])
    levels: list[int] = []
    for character in text:
        # Rule X9 takes boundary-neutral characters (joiners) out: they go with what stands before them.
        skipped = unicodedata.bidirectional(character) in algorithm.X9_REMOVED
        levels.append((levels[-1] if levels else storage["base_level"]) if skipped else next(ordered))
    return levels


Piece = tuple[tuple[int, str, TextStyle], str]


def _visual(runs: list[Piece]) -> Iterator[Piece]:
    """Rule L2: from the highest level down to the lowest odd one, reverse what is at that level or above."""
    highest = max((of[0] for of, _ in runs), default=0)
    for level in range(highest, 0, -1):
        turned: list[Piece] = []
        for above, group in groupby(runs, key=lambda run: run[0][0] >= level):
            members = list(group)
            turned += reversed(members) if above else members
        runs = turned
    yield from runs
