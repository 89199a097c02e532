"""One method note for the figures of a folio."""

from __future__ import annotations

from collections.abc import Mapping, Sequence


def note_of(clauses: Mapping[str, Sequence[str]]) -> str:
    """One note from the sentences of the figures, by letter: a sentence that several share is said once, with their letters,
    and without any where all share it. What most share comes first.
    """
    whose: dict[str, list[str]] = {}
    for letter, said in clauses.items():
        for clause in dict.fromkeys(said):
            whose.setdefault(clause, []).append(letter)
    by_letters: dict[tuple[str, ...], list[str]] = {}
    for clause, letters in whose.items():
        by_letters.setdefault(tuple(letters), []).append(clause)
    everyone = tuple(clauses)
    common = by_letters.pop(everyone, [])
    rest = sorted(by_letters.items(), key=lambda item: -len(item[0]))
    return " ".join([*common, *(f"{', '.join(letters)}: {' '.join(said)}" for letters, said in rest)])
