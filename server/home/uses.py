"""Where a comparison is used: its versions, folios, links."""

from __future__ import annotations

from server.comparisons.models import Comparison
from server.folios.models import Folio
from server.home.bodies import CardFolio, Uses, UseVersion
from server.shares.models import Share


def uses_of(comparison: Comparison) -> Uses:
    """Its versions, oldest first, with what follows them; the folios of its study that it stands on; its open links."""
    first = comparison
    while first.follows_id is not None:
        first = Comparison.objects.get(pk=first.follows_id)
    versions, after = [], [first]
    while after:
        versions += after
        after = list(Comparison.objects.filter(follows__in=after).order_by("version", "made"))
    folios = Folio.objects.filter(study=comparison.study_id, figures__contains=[str(comparison.pk)]).order_by("name")
    links = Share.objects.filter(comparison=comparison, revoked=None).select_related("study")
    return Uses(
        versions=[
            UseVersion(id=str(c.pk), version=c.version, changed=c.changed, locked=c.locked_at is not None)
            for c in versions
            if c.study_id == comparison.study_id and (c.binned is None or c.pk == comparison.pk)
        ],
        folios=[CardFolio(id=str(folio.pk), name=folio.name) for folio in folios],
        links=sum(share.open for share in links),
    )
