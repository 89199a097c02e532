"""Search over everything that a person may see, with typing errors forgiven: PostgreSQL's trigrams."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from difflib import SequenceMatcher
from functools import reduce
from operator import and_

from django.contrib.postgres.search import TrigramWordSimilarity
from django.db import connection, transaction
from django.db.models import Case, F, IntegerField, Q, QuerySet, Value, When
from django.db.models.functions import Lower

from server.accounts.models import Person
from server.comparisons.models import Comparison
from server.home.bodies import Found, FoundPiece, SearchResult
from server.home.folding import folded
from server.home.models import SearchEntry
from server.home.viewers import masking
from server.studies.models import SEEING_ROWS, Study

MOST_FOUND = 40
_MOST_WORDS, _MOST_PIECES = 8, 3
# Words are like one another from this share of their trigrams on; shorter words are taken as they are written.
_LIKE, _LEAST_LETTERS = 0.4, 4
# A piece is said to be what was found from this likeness on.
_ALIKE = 0.7


@transaction.atomic
def found_by(person: Person, text: str) -> SearchResult:
    """The best finds, those that hold every word as it is written first."""
    words = folded(text)[:200].split()[:_MOST_WORDS]
    if not words:
        return SearchResult(found=[], more=False)
    sees = list(Study.objects.filter(membership__person=person, membership__role__in=SEEING_ROWS).values_list("pk", flat=True))
    entries = SearchEntry.objects.seen_by(person).select_related("study")
    exact = entries
    for word in words:
        exact = exact.filter(Q(words__contains=word) | Q(rows__contains=word, study__in=sees))
    in_name = reduce(and_, (Q(low__contains=word) for word in words))
    named = Case(When(in_name, then=Value(0)), default=Value(1), output_field=IntegerField())
    result: list[SearchEntry] = list(
        exact.annotate(low=Lower("name"), place=named).order_by("place", "-changed")[: MOST_FOUND + 1]
    )
    if len(result) <= MOST_FOUND and any(_may_be_wrong(word) for word in words):
        result += list(_like(entries, words, sees).exclude(pk__in=[entry.pk for entry in result])[: MOST_FOUND + 1])
    seeing = set(sees)
    shown = [_found(entry, words, True) for entry in result[:MOST_FOUND] if entry.study_id in seeing]
    shown += _without_persons([entry for entry in result[:MOST_FOUND] if entry.study_id not in seeing], words)
    return SearchResult(found=shown, more=len(result) > MOST_FOUND)


def _without_persons(entries: Sequence[SearchEntry], words: list[str]) -> list[Found]:
    """Finds of those who may see no rows: names name no person, and none is found by one."""
    masked = masking("viewer")
    tables = dict(Comparison.objects.filter(pk__in=[entry.pk for entry in entries]).values_list("pk", "table_id"))
    result = []
    for entry in entries:
        if (table := tables.get(entry.pk)) is not None:
            entry.name = masked(table, entry.name)
        texts = [entry.name, *(text for what, text, rows in entry.pieces if what != "name" and not rows)]
        if all(max(_likeness(word, text) for text in texts) >= _ALIKE for word in words):
            result.append(_found(entry, words, False))
    return result


def _may_be_wrong(word: str) -> bool:
    """Numbers and short words are meant as they are written."""
    return len(word) >= _LEAST_LETTERS and not any(letter.isdigit() for letter in word)


def _like(entries: QuerySet[SearchEntry], words: list[str], sees: Sequence[uuid.UUID]) -> QuerySet[SearchEntry]:
    """Entries with every word, or one like it, the most alike first."""
    with connection.cursor() as cursor:
        cursor.execute("SET LOCAL pg_trgm.word_similarity_threshold = %s", [_LIKE])
    likeness = Value(0.0)
    for word in words:
        within = Q(words__contains=word) | Q(rows__contains=word, study__in=sees)
        if _may_be_wrong(word):
            within |= Q(words__trigram_word_similar=word) | Q(rows__trigram_word_similar=word, study__in=sees)
            likeness = likeness + TrigramWordSimilarity(word, "words")  # type: ignore[assignment]
        entries = entries.filter(within)
    return entries.annotate(likeness=likeness).order_by(F("likeness").desc(), "-changed")


def _found(entry: SearchEntry, words: list[str], sees_rows: bool) -> Found:
    """A find, with the pieces that hold what was looked for."""
    pieces = [(what, text) for what, text, rows in entry.pieces if what != "name" and (sees_rows or not rows)]
    rated = [(max(_likeness(word, text) for word in words), what, text) for what, text in pieces]
    best = [piece for piece in sorted(rated, key=lambda piece: -piece[0]) if piece[0] >= _ALIKE][:_MOST_PIECES]
    return Found(
        id=str(entry.pk), what=entry.what, name=entry.name, study=str(entry.study_id), study_name=entry.study.name,
        changed=entry.changed, pieces=[FoundPiece(what=what, text=text) for _, what, text in best],
    )  # fmt: skip


def _likeness(word: str, text: str) -> float:
    """1 where the text holds the word, else how much the most alike of its words is like it."""
    low = folded(text)
    if word in low:
        return 1.0
    if not _may_be_wrong(word):
        return 0.0
    return max((SequenceMatcher(None, word, other).ratio() for other in low.split()), default=0.0)
