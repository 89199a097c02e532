"""Making links, listing and revoking them."""

from __future__ import annotations

import uuid
from datetime import UTC, datetime, time, timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from echelle.errors import InputError
from server.accounts.requests import PersonRequest
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.comparisons.models import Comparison
from server.folios.models import Folio
from server.records.models import RecordLine, record
from server.shares.bodies import AllowOutside, NewShare, ShareList, ShareState, StudyShare, StudyShares
from server.shares.models import Share
from server.studies.access import editable_by, owned_study
from server.studies.models import Study

MOST_DAYS = 366


class ComparisonShares(Endpoint):
    """Links to a comparison."""

    @extend_schema(responses=ShareList)
    def get(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Those that were made and not revoked."""
        return Response(_list(editable_by(Comparison.objects.all(), request.user, comparison_id)))

    @extend_schema(request=NewShare, responses={200: ShareList, 422: Fault})
    def post(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """A new one. It shows the comparison as it stands when someone looks, without rows."""
        return Response(_make(request, editable_by(Comparison.objects.all(), request.user, comparison_id)))


class FolioShares(Endpoint):
    """Links to a folio."""

    @extend_schema(responses=ShareList)
    def get(self, request: PersonRequest, folio_id: uuid.UUID) -> Response:
        """Those that were made and not revoked."""
        return Response(_list(editable_by(Folio.objects.all(), request.user, folio_id)))

    @extend_schema(request=NewShare, responses={200: ShareList, 422: Fault})
    def post(self, request: PersonRequest, folio_id: uuid.UUID) -> Response:
        """A new one. It shows the folio as it stands when someone looks, without rows."""
        return Response(_make(request, editable_by(Folio.objects.all(), request.user, folio_id)))


class SharesOfStudy(Endpoint):
    """All links of a study."""

    @extend_schema(responses=StudyShares)
    def get(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Those that were not taken back, and who followed them; for those who may make some."""
        study = editable_by(Study.objects.all(), request.user, study_id)
        shares = (
            Share.objects.filter(study=study, revoked=None).select_related("comparison", "folio", "study").order_by("-made")
        )
        opened: dict[str, list[RecordLine]] = {}
        for line in RecordLine.objects.filter(study=study.pk, what="link opened").order_by("at"):
            opened.setdefault(str(line.details.get("share")), []).append(line)
        return Response(StudyShares([_of_study(share, opened.get(str(share.pk), [])) for share in shares]))


def _of_study(share: Share, opened: list[RecordLine]) -> StudyShare:
    return StudyShare(
        id=str(share.pk), to=str(share.comparison or share.folio), outside=share.outside, open=share.open, ends=share.ends,
        by=share.by, made=share.made, people=sorted({line.person or "without an account" for line in opened}),
        uses=len(opened), last=opened[-1].at if opened else None,
    )  # fmt: skip


class OneShare(Endpoint):
    """A link."""

    @extend_schema(responses={204: None})
    def delete(self, request: PersonRequest, share_id: uuid.UUID) -> Response:
        """Revoke it: from now on it leads nowhere."""
        with transaction.atomic():
            share = editable_by(Share.objects.all(), request.user, share_id)
            share.revoked = share.revoked or timezone.now()
            share.save(update_fields=["revoked"])
            _audit(request, "link taken back", share.study_id, link=str(share))
        return Response(status=204)


class OutsideLinks(Endpoint):
    """Whether a study's figures may be seen without an account."""

    @extend_schema(request=AllowOutside, responses=AllowOutside)
    def put(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Allow it, or not; for owners. Where it is not allowed, links of before are closed too."""
        study = owned_study(request.user, study_id)
        wanted = body_of(request, AllowOutside)
        with transaction.atomic():
            Study.objects.filter(pk=study.pk).update(outside_links=wanted.allowed)
            _audit(request, "links allowed" if wanted.allowed else "links forbidden", study.pk)
        return Response(wanted)


def _make(request: PersonRequest, shown: Comparison | Folio) -> ShareList:
    wanted = body_of(request, NewShare)
    last = timezone.now().date() + timedelta(days=MOST_DAYS)
    # A day after the last one there may be: it is refused below.
    ends = None if wanted.ends is None else datetime.combine(min(wanted.ends, last) + timedelta(days=1), time(), UTC)
    if wanted.outside and not shown.study.outside_links:
        what = "this study allows no links for people without an account"
        raise InputError(what, remedy="An owner of the study can allow them.")
    if wanted.outside and ends is None:
        raise InputError("a link for people without an account needs an end", where="ends", remedy="Choose its last day.")
    if ends is not None and not timezone.now() < ends <= timezone.now() + timedelta(days=MOST_DAYS):
        raise InputError("a link ends between today and a year from now", where="ends", remedy="Choose another day.")
    with transaction.atomic():
        share = Share.objects.create(
            study_id=shown.study_id, outside=wanted.outside, ends=ends, by=request.user.username, **_of(shown)
        )
        _audit(request, "link made", share.study_id, link=str(share))
    return _list(shown)


def _of(shown: Comparison | Folio) -> dict[str, Any]:
    return {"comparison": shown} if isinstance(shown, Comparison) else {"folio": shown}


def _list(shown: Comparison | Folio) -> ShareList:
    result = Share.objects.filter(revoked=None, **_of(shown)).select_related("study")
    shares = [
        ShareState(id=str(s.pk), path=s.path, outside=s.outside, open=s.open, ends=s.ends, by=s.by, made=s.made) for s in result
    ]
    return ShareList(outside_links=shown.study.outside_links, shares=shares)


def _audit(request: PersonRequest, what: str, study: uuid.UUID, link: str = "") -> None:
    record(request.user.username, what, study, link=link)
