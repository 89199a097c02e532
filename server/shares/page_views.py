"""What someone with a link sees: one page without script, and its figure as a file."""

from __future__ import annotations

import base64
import hashlib
from collections.abc import Callable
from datetime import timedelta
from functools import wraps

from django.conf import settings
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import redirect_to_login
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.views.decorators.http import require_safe
from pydantic import TypeAdapter

from echelle.drawing.formats import FORMATS, Output, pages_bytes, scene_bytes
from echelle.errors import InputError
from echelle.reports.html import STYLE, plain_page, shared_page
from echelle.scene.models import Scene
from server.api.downloads import download
from server.api.faults import BUSY, Busy, LongWork
from server.api.limits import FIGURES, LINK
from server.comparisons.services.state import mark_of
from server.file_jobs.models import FileJob
from server.file_jobs.services import scenes_of_link
from server.file_jobs.tasks import job_of_link
from server.folios.services import comparisons_of
from server.records.models import record
from server.shares.models import Share, share_of
from server.tables.services.cache import Cache

_STYLE_HASH = base64.b64encode(hashlib.sha256(STYLE.encode()).digest()).decode()
_POLICY = (
    f"default-src 'none'; style-src 'sha256-{_STYLE_HASH}'; img-src data:; base-uri 'none'; form-action 'none'; "
    "frame-ancestors 'none'"
)
_SCENES = TypeAdapter(list[Scene])
_OVER = "It was taken back, has ended, or was never given. Ask whoever sent it for another one."


def _open(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """Find the link; people without an account see only those that are for them."""

    @login_not_required
    @require_safe
    @wraps(view)
    def page(request: HttpRequest, token: str, **kind: str) -> HttpResponse:
        share = share_of(token)
        if (share is None or not share.outside) and not request.user.is_authenticated:
            return redirect_to_login(request.get_full_path())
        try:
            LINK.count(token)
        except Busy:
            return _guard(HttpResponse(plain_page(BUSY.what, BUSY.remedy), status=429))
        if share is None or not share.open:
            return _guard(HttpResponse(plain_page("This link is closed", _OVER), status=404))
        record(
            str(request.user) if request.user.is_authenticated else "",
            "link opened",
            share.study_id,
            once=True,
            link=str(share),
            share=str(share.pk),
        )
        try:
            return _guard(view(request, share, **kind))
        except LongWork as long:
            return _guard(_page_meanwhile(long))

    return page


def _page_meanwhile(long: LongWork) -> HttpResponse:
    """What stands there until the worker has drawn the figure: it asks again by itself."""
    words = f"It takes about {long.seconds} s. This page shows it as soon as it is there."
    return HttpResponse(plain_page("This figure is being drawn", words), status=202, headers={"Refresh": "3"})


_drawn = Cache(settings.CACHE_MEGABYTES / 16)


def _page_of(share: Share) -> tuple[str, list[Scene], str]:
    """What a link shows, drawn once for each state of what it shows."""
    shown = [share.comparison] if share.comparison else comparisons_of(share.folio) if share.folio else []
    changed = share.folio.changed if share.folio else None
    marks = [str(changed), *(mark_of(comparison) for comparison in shown)]

    def draw() -> tuple[str, list[Scene], str]:
        with FIGURES.turn():
            return _scene_page(share, marks)

    return _drawn.get(
        ("link", share.pk, str(share.ends), *marks),
        draw,
        lambda page: sum(len(scene.model_dump_json()) for scene in page[1]) + 1_000,
    )


@_open
def shared(request: HttpRequest, share: Share) -> HttpResponse:
    """The page: figure, readings, note."""
    name, scenes, told = _page_of(share)
    files = [(FORMATS[kind].title, f"{share.path}/{kind}") for kind in _kinds(share)]
    return HttpResponse(shared_page(name, scenes, told, files))


@_open
def shared_file(request: HttpRequest, share: Share, kind: str) -> HttpResponse:
    """The figure as PDF, SVG or PNG; a folio as one PDF."""
    name, scenes, _ = _page_of(share)
    if kind not in _kinds(share):
        return HttpResponse(plain_page("There is no such file", "Go back and choose another one."), status=404)
    form, output = FORMATS[kind], Output(kind)
    try:
        data = pages_bytes(scenes, output, name) if form.pages else scene_bytes(scenes[0], output)
    except (InputError, IndexError):
        return HttpResponse(plain_page("There is no such file", "Go back and choose another one."), status=404)
    return download(data, form.media_type, f"{name}.{kind}")


def _kinds(share: Share) -> list[str]:
    """The formats of a link's files: of a folio those that hold all its pages; pages first."""
    linked = [name for name, form in FORMATS.items() if form.linked and (form.pages or not share.folio)]
    return sorted(linked, key=lambda name: FORMATS[name].pages is None)


def _scene_page(share: Share, marks: list[str]) -> tuple[str, list[Scene], str]:
    """Name, scenes without rows, and what stands under the name."""
    until = f"; the link works to the end of {share.ends - timedelta(days=1):%Y-%m-%d} (UTC)" if share.ends else ""
    try:
        scenes = _scenes_of(share, marks)
    except InputError as error:
        # Whoever looks cannot mend it.
        return str(share.comparison or share.folio), [], f"It cannot be drawn at present: {error.what}."
    if share.folio is not None:
        return share.folio.name, scenes, f"As it stands now{until}."
    comparison = share.comparison
    assert comparison is not None
    locked = f" Signed off by {comparison.locked_by}." if comparison.locked_at else ""
    return comparison.name, scenes, f"As settled on {comparison.head_entry.at:%Y-%m-%d %H:%M} UTC{until}.{locked}"


def _scenes_of(share: Share, marks: list[str]) -> list[Scene]:
    """The scenes, drawn here or, where they take long, once by the worker. Raises LongWork until they are there."""
    try:
        return scenes_of_link(share.comparison, share.folio, quick=True)
    except LongWork:
        with transaction.atomic():
            Share.objects.select_for_update(of=("self",)).get(pk=share.pk)
            job = job_of_link(share.study_id, share.comparison, share.folio, marks)
        if job.state == FileJob.State.REFUSED:
            what = str((job.fault or {}).get("what", ""))
            raise InputError(what[:1].lower() + what[1:]) from None
        if job.state != FileJob.State.DONE:
            raise
        return _SCENES.validate_json(job.path.read_bytes())


def _guard(response: HttpResponse) -> HttpResponse:
    if "Content-Security-Policy" not in response:
        response["Content-Security-Policy"] = _POLICY
    response["Cache-Control"] = "private, no-store"
    response["Referrer-Policy"] = "no-referrer"
    response["X-Robots-Tag"] = "noindex, nofollow"
    return response
