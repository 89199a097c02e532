"""What something is found by: pieces of text, each with what it is."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from echelle.errors import InputError
from echelle.recipes.forms import form_of
from echelle.recipes.parse import recipe_from
from echelle.recipes.recipe import Recipe
from echelle.recipes.used_columns import columns_of
from server.comparisons.models import Comparison
from server.folios.models import Folio
from server.home.folding import folded, words_of
from server.home.models import SearchEntry, SearchWord, Word
from server.studies.models import Study
from server.tables.models import DataTable

# Of one column so many levels are searched, of one entry so many letters.
_MOST_LEVELS, _MOST_LETTERS = 60, 20_000
# Settings that say where and how a mark is drawn, and name no method.
_PLACED = {"id", "colour", "outline", "label", "place", "side", "shape", "compared", "of", "from", "labels", "look", "centre"}
_NO_METHOD = {"automatic", "none", "figure", "values"}


@dataclass(frozen=True)
class Piece:
    """A text and what it is: "column", "level", "title". ``rows``: it stands in rows, and only those who see rows find it."""

    what: str
    text: str
    rows: bool = False


def keep_entry(held: Study | Comparison | DataTable | Folio) -> None:
    """Let something be found by what it is now."""
    study = held if isinstance(held, Study) else held.study
    what = "table" if isinstance(held, DataTable) else str(held._meta.model_name)
    changed = held.made if isinstance(held, Study | DataTable) else held.changed
    kept = _pieces_kept([*_pieces(held), Piece("date", f"{changed:%-d %B %Y} {changed:%Y-%m-%d}")])
    words, rows = (
        folded("\n".join(piece.text for piece in kept if piece.rows is of_rows))[:_MOST_LETTERS] for of_rows in (False, True)
    )
    entry, _ = SearchEntry.objects.update_or_create(
        pk=held.pk,
        defaults={
            "study": study, "what": what, "name": held.name[:255], "changed": changed, "words": words, "rows": rows,
            "pieces": [[piece.what, piece.text[:200], piece.rows] for piece in kept],
        },
    )  # fmt: skip
    keep_words([entry])


def keep_words(entries: Sequence[SearchEntry]) -> None:
    """What typing errors are held against: the words of entries, each once a study."""
    told = {(entry.study_id, word, rows) for entry in entries for rows, text in ((False, entry.words), (True, entry.rows))
            for word in words_of(text)}  # fmt: skip
    Word.objects.bulk_create([Word(word) for word in sorted({word for _, word, _ in told})], ignore_conflicts=True)
    SearchWord.objects.bulk_create(
        [SearchWord(study_id=study, word=word, rows=rows) for study, word, rows in sorted(told, key=str)], ignore_conflicts=True
    )


def forget_words() -> None:
    """Words that nothing is found by any more."""
    Word.objects.exclude(text__in=SearchWord.objects.values("word")).delete()


def _pieces_kept(pieces: Iterable[Piece]) -> list[Piece]:
    """Each once, and none that is empty."""
    return list({(piece.what, piece.text): piece for piece in pieces if piece.text.strip()}.values())


def _pieces(held: Study | Comparison | DataTable | Folio) -> Iterator[Piece]:
    yield Piece("name", held.name)
    if isinstance(held, Study):
        yield Piece("notes", held.notes, rows=True)
        people = held.membership_set.select_related("person")
        yield from (Piece("person", member.person.shown_name) for member in people)
    elif isinstance(held, DataTable):
        yield Piece("notes", held.notes, rows=True)
        yield from _of_columns(held, None)
    elif isinstance(held, Comparison):
        yield from _of_comparison(held)


def _of_comparison(comparison: Comparison) -> Iterator[Piece]:
    yield Piece("notes", comparison.notes, rows=True)
    yield from (Piece("tag", tag, rows=True) for tag in comparison.tags)
    yield from (Piece("person", by) for by in comparison.trailentry_set.values_list("by", flat=True).distinct())
    yield from (
        Piece("state", name, rows=True) for name in comparison.trailentry_set.exclude(name="").values_list("name", flat=True)
    )
    yield Piece("table", comparison.table.name)
    try:
        recipe = recipe_from(comparison.head_entry.recipe)
    except InputError:
        # A recipe of a later release is found by its names.
        return
    yield from _of_recipe(recipe)
    yield from _of_columns(comparison.table, columns_of(recipe))


def _of_recipe(recipe: Recipe) -> Iterator[Piece]:
    yield Piece("form", form_of(recipe) or "")
    words = recipe.words
    for text in (words.title, words.subtitle, words.caption, words.source, words.credit):
        yield Piece("words on the figure", text, rows=True)
    yield from (Piece("words on the figure", guide.label, rows=True) for guide in recipe.guides)
    roles = (recipe.groups, recipe.subgroups, recipe.panels.down, recipe.panels.across, recipe.panels.wrapped)
    for role in roles:
        if role is not None:
            yield from (Piece("words on the figure", label, rows=True) for label in role.labels.values())
    for part in (*recipe.shown_layers, recipe.differences):
        if part is not None:
            yield from (Piece("method", text) for text in _texts(part.model_dump(mode="json"), recipe))


def _texts(value: Any, recipe: Recipe) -> Iterator[str]:
    """The names of kinds and methods in a layer's settings: what is no column."""
    if isinstance(value, dict):
        for key, held in value.items():
            if key not in _PLACED:
                yield from _texts(held, recipe)
    elif isinstance(value, list):
        for held in value:
            yield from _texts(held, recipe)
    elif (
        isinstance(value, str) and len(value) > 2 and not value.startswith("#") and value not in columns_of(recipe) | _NO_METHOD
    ):
        yield value


def _of_columns(table: DataTable, used: set[str] | None) -> Iterator[Piece]:
    """The columns of a table and their levels; of those used where a set is given. Identifiers are found by their heading."""
    for column in table.columns:
        heading = f"{column['name']} ({column['unit']})" if column["unit"] else column["name"]
        if used is not None and not used & {column["name"], heading}:
            continue
        yield Piece("column", heading)
        levels = [] if column["kind"] in ("identifier", "text") else column["levels"]
        yield from (Piece("level", level["level"], rows=True) for level in levels[:_MOST_LEVELS])
