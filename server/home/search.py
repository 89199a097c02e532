"""Search over everything that a person may see, with typing errors forgiven: PostgreSQL's trigrams."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import reduce
from operator import and_, or_
from typing import Any

from django.contrib.postgres.search import TrigramSimilarity
from django.db import connection, transaction
from django.db.models import Case, IntegerField, Q, QuerySet, Value, When
from django.db.models.functions import Lower

from server.accounts.models import Person
from server.comparisons.models import Comparison
from server.home.bodies import Found, FoundPiece, SearchResult
from server.home.folding import folded, may_be_mistyped
from server.home.models import SearchEntry, SearchWord, Word
from server.home.viewers import masking
from server.studies.models import SEEING_ROWS, Membership

MOST_FOUND = 40
_MOST_WORDS, _MOST_PIECES, _MOST_MEANT = 8, 3, 4
# Words are like one another from this share of their trigrams on.
_LIKE, _NEAR = 0.3, 0.8


@dataclass(frozen=True)
class _Sight:
    """The studies that somebody is in, and those of which they see rows: as questions, since lists of hundreds take longer to
    write down than to answer.
    """

    studies: QuerySet[Membership, Any]
    rows: QuerySet[Membership, Any]


def found_by(person: Person, text: str) -> SearchResult:
    """The best finds: those that hold every word as it is written first, then those that hold words like them."""
    words = folded(text)[:200].split()[:_MOST_WORDS]
    mine = Membership.objects.filter(person=person)
    sight = _Sight(mine.values("study"), mine.filter(role__in=SEEING_ROWS).values("study"))
    if not words:
        return SearchResult(found=[], more=False)
    asked: list[tuple[str, ...]] = [(word,) for word in words]
    result = _entries(asked, sight)
    if not result and any(map(may_be_mistyped, words)):
        meant = _meant([word for word in words if may_be_mistyped(word)], sight)
        asked = [(word, *meant.get(word, ())) for word in words]
        result = _entries(asked, sight)
    shown = result[:MOST_FOUND]
    read = set(mine.filter(role__in=SEEING_ROWS).values_list("study_id", flat=True)) if shown else set()
    found = [_found(entry, asked, True) for entry in shown if entry.study_id in read]
    found += _without_persons([entry for entry in shown if entry.study_id not in read], asked)
    return SearchResult(found=found, more=len(result) > MOST_FOUND)


def _entries(asked: Sequence[tuple[str, ...]], sight: _Sight) -> list[SearchEntry]:
    """Entries with one of each word's spellings; those that have all of them in their name first."""
    entries = SearchEntry.objects.filter(study__in=sight.studies).select_related("study").defer("words", "rows")
    for spellings in asked:
        in_rows = reduce(or_, (Q(rows__contains=word) for word in spellings)) & Q(study__in=sight.rows)
        entries = entries.filter(reduce(or_, (Q(words__contains=word) for word in spellings)) | in_rows)
    in_name = reduce(and_, (reduce(or_, (Q(low__contains=word) for word in spellings)) for spellings in asked))
    place = Case(When(in_name, then=Value(0)), default=Value(1), output_field=IntegerField())
    return list(entries.annotate(low=Lower("name"), place=place).order_by("place", "-changed")[: MOST_FOUND + 1])


@transaction.atomic
def _meant(words: Sequence[str], sight: _Sight) -> dict[str, list[str]]:
    """For each word those there are that it may have been meant for, the most alike first."""
    with connection.cursor() as cursor:
        cursor.execute("SET LOCAL pg_trgm.similarity_threshold = %s", [_LIKE])
    near = Word.objects.filter(reduce(or_, (Q(text__trigram_similar=word) for word in words)))
    like = {f"like_{place}": TrigramSimilarity("text", word) for place, word in enumerate(words)}
    known = list(near.annotate(**like).values_list("text", *like))
    seen = _seen([held[0] for held in known], sight)
    rated = [held for held in known if held[0] in seen]
    result = {}
    for place, word in enumerate(words, start=1):
        best = sorted((held for held in rated if held[place] >= _LIKE), key=lambda held: -held[place])
        # What is much less alike than the best was not meant.
        result[word] = [str(held[0]) for held in best[:_MOST_MEANT] if held[place] >= _NEAR * best[0][place]]
        result[word] = result[word] or _exchanged(word, sight)
    return result


def _exchanged(word: str, sight: _Sight) -> list[str]:
    """Words with the same letters, two neighbours exchanged: short ones share too few trigrams."""
    swaps = [word[:at] + word[at + 1] + word[at] + word[at + 2 :] for at in range(len(word) - 1)]
    return sorted(_seen(swaps, sight))[:_MOST_MEANT]


def _seen(words: Sequence[str], sight: _Sight) -> set[str]:
    """Those of the words that something is found by in what the person may see."""
    there = SearchWord.objects.filter(Q(study__in=sight.studies, rows=False) | Q(study__in=sight.rows), word__in=words)
    return set(there.values_list("word", flat=True).distinct())


def _without_persons(entries: Sequence[SearchEntry], asked: Sequence[tuple[str, ...]]) -> list[Found]:
    """Finds of those who may see no rows: names name no person, and none is found by one."""
    masked = masking("viewer")
    tables = dict(Comparison.objects.filter(pk__in=[entry.pk for entry in entries]).values_list("pk", "table_id"))
    result = []
    for entry in entries:
        if (table := tables.get(entry.pk)) is not None:
            entry.name = masked(table, entry.name)
        text = folded("\n".join([entry.name, *(text for what, text, rows in entry.pieces if what != "name" and not rows)]))
        if all(any(word in text for word in spellings) for spellings in asked):
            result.append(_found(entry, asked, False))
    return result


def _found(entry: SearchEntry, asked: Sequence[tuple[str, ...]], sees_rows: bool) -> Found:
    """A find, with the pieces that hold what was looked for."""
    pieces = [(what, text) for what, text, rows in entry.pieces if what != "name" and (sees_rows or not rows)]
    sought = [word for spellings in asked for word in spellings]
    holding = [(what, text) for what, text in pieces if any(word in low for low in (folded(text),) for word in sought)]
    return Found(
        id=str(entry.pk), what=entry.what, name=entry.name, study=str(entry.study_id), study_name=entry.study.name,
        changed=entry.changed, pieces=[FoundPiece(what=what, text=text) for what, text in holding[:_MOST_PIECES]],
    )  # fmt: skip
