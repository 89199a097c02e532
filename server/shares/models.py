"""Links to a comparison or folio for people outside its study: read only, without rows."""

from __future__ import annotations

import uuid

from django.core.signing import BadSignature, Signer
from django.db import models
from django.utils import timezone

from server.comparisons.models import Comparison
from server.folios.models import Folio
from server.studies.models import Study, WithinStudies

_SIGNER = Signer(salt="share", sep="~")


class Share(models.Model):
    """One link, to a comparison or to a folio; ``outside`` ones need no account, and always have an end."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    study = models.ForeignKey(Study, on_delete=models.CASCADE)
    comparison = models.ForeignKey(Comparison, null=True, on_delete=models.CASCADE)
    folio = models.ForeignKey(Folio, null=True, on_delete=models.CASCADE)
    outside = models.BooleanField(default=False)
    ends = models.DateTimeField(null=True)
    revoked = models.DateTimeField(null=True)
    by = models.CharField(max_length=150)
    made = models.DateTimeField(auto_now_add=True)

    objects = WithinStudies.as_manager()

    class Meta:
        ordering = ["made"]

    def __str__(self) -> str:
        return f"{'outside' if self.outside else 'inside'} link to {self.comparison or self.folio}"

    @property
    def path(self) -> str:
        """The link's address on this server, signed."""
        return f"/shared/{_SIGNER.sign(self.pk.hex)}"

    @property
    def open(self) -> bool:
        """Whether it leads anywhere now: not revoked, not past its end, and allowed by its study."""
        over = self.revoked is not None or (self.ends is not None and self.ends <= timezone.now())
        return not over and (not self.outside or self.study.outside_links)


def share_of(token: str) -> Share | None:
    """The link behind a signed token; None for one that was never given, or whose figure is gone."""
    try:
        pk = uuid.UUID(hex=_SIGNER.unsign(token))
    except (BadSignature, ValueError):
        return None
    return Share.objects.select_related("study", "comparison", "folio").filter(pk=pk).first()
