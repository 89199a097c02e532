"""Where a comparison is used: its versions, folios, links."""

from __future__ import annotations

import uuid
from collections.abc import Callable

from server.comparisons.models import Comparison, TrailEntry
from server.folios.models import Folio
from server.home.bodies import CardFolio, Uses, UseVersion
from server.shares.models import Share

_MOST_CHANGES = 20


def uses_of(comparison: Comparison, masked: Callable[[uuid.UUID, str], str]) -> Uses:
    """Its versions, oldest first, with what changed in each; the folios of its study that it stands on; its open links.
    ``masked`` takes the persons of a table out of a text.
    """
    first = comparison
    while first.follows_id is not None:
        first = Comparison.objects.get(pk=first.follows_id)
    versions, after = [], [first]
    while after:
        versions += after
        after = list(Comparison.objects.filter(follows__in=after).order_by("version", "made"))
    versions = [
        held for held in versions if held.study_id == comparison.study_id and (held.binned is None or held.pk == comparison.pk)
    ]
    changes = _changes(versions)
    folios = Folio.objects.filter(study=comparison.study_id, figures__contains=[str(comparison.pk)]).order_by("name")
    links = Share.objects.filter(comparison=comparison, revoked=None).select_related("study")
    return Uses(
        versions=[
            UseVersion(
                id=str(held.pk),
                version=held.version,
                changed=held.changed,
                locked=held.locked_at is not None,
                head=held.head,
                words=[masked(held.table_id, words) for words in changes[held.pk]] if held.follows_id else [],
            )
            for held in versions
        ],
        folios=[CardFolio(id=str(folio.pk), name=folio.name) for folio in folios],
        links=sum(share.open for share in links),
    )


def _changes(versions: list[Comparison]) -> dict[uuid.UUID, list[str]]:
    """What was done in each version since it was begun, up to the state that is shown."""
    entries = {
        (entry.comparison_id, entry.number): entry
        for entry in TrailEntry.objects.filter(comparison__in=versions).defer("recipe")
    }
    result = {}
    for version in versions:
        words, at = list[str](), entries.get((version.pk, version.head))
        while at is not None and at.parent is not None:
            words.append(at.words)
            at = entries.get((version.pk, at.parent))
        result[version.pk] = words[:_MOST_CHANGES][::-1]
    return result
