"""Bundles that come in: the study gets the data, the preparation, and the comparison with its trail."""

from __future__ import annotations

import hashlib
import uuid

from django.conf import settings
from django.db import transaction
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from echelle.bundles.models import Bundle, RawData, TrailPart
from echelle.bundles.reader import check_bundle, checked_bundle
from echelle.child_process import run_child
from echelle.errors import InputError
from echelle.far.counted_file import ENDING
from echelle.recipes.forms import form_of
from echelle.recipes.recipe import Recipe
from echelle.recipes.seal import HOUSE
from echelle.tables.reading.options import USUAL
from server.accounts.models import Person
from server.accounts.requests import PersonRequest
from server.api.faults import Fault
from server.api.parsers import AnyBytes
from server.api.views import Endpoint
from server.comparisons.bodies import Arrived
from server.comparisons.models import Comparison, TrailEntry
from server.records.models import record
from server.studies.access import editable_by
from server.studies.models import Study
from server.tables.models import DataTable, ReadingJob
from server.tables.services.preparation import newest_revision, settle_steps
from server.tables.services.reading import QUICK, ReadFile, folder_apart, keep_raw, read_counted, read_pieces

# What a sealed recipe carries besides the question and the figure.
_SEALED = ("read", "prepare", "made")


class Bundles(Endpoint):
    """A study's way in for bundles."""

    parser_classes = [AnyBytes]

    @extend_schema(request={"application/octet-stream": OpenApiTypes.BINARY}, responses={200: Arrived, 413: Fault, 422: Fault})
    def post(self, request: PersonRequest, study_id: uuid.UUID) -> Response:
        """Take a bundle (the body) in: all of it or nothing."""
        study = editable_by(Study.objects.all(), request.user, study_id)
        limit = int(settings.UPLOAD_MEGABYTES * 1e6)
        data = request._request.read(limit + 1)
        if len(data) > limit:
            raise InputError(f"the bundle is larger than {settings.UPLOAD_MEGABYTES:g} MB", remedy="Bring its table alone.")
        bundle = _open_apart(data)
        told = (bundle.recipe.read or USUAL).model_dump(mode="json", exclude_none=True)
        raw = bundle.raw
        if raw.name.endswith(ENDING):
            first, again = read_counted(raw.data)
            raw = RawData(raw.name.removesuffix(ENDING), again)
        else:
            first = read_pieces([raw.data], told)
        read = [first, *(read_pieces([other.data], {}) for other in bundle.others)]
        with transaction.atomic():
            for other, content in zip(bundle.others, read[1:], strict=True):
                _keep(study, request.user, other, content, {})
            table = _keep(study, request.user, raw, read[0], told)
            if bundle.recipe.prepare:
                settle_steps(table, newest_revision(table), bundle.recipe.prepare, request.user)
            made = _comparison(table, bundle, request.user.shown_name)
        record(request.user.username, "bundle taken in", study.pk, of=made.name)
        return Response(Arrived(comparison=str(made.pk), states=made.trailentry_set.count()))


def _open_apart(data: bytes) -> Bundle:
    """The bundle, opened in a child process."""
    with folder_apart() as folder:
        path = folder / "bundle"
        path.write_bytes(data)
        run_child(check_bundle, folder, (path,), QUICK)
        return checked_bundle(folder)


def _keep(study: Study, person: Person, raw: RawData, read: ReadFile, told: dict[str, object]) -> DataTable:
    """Keep a file of the bundle as any other that is brought."""
    digest = hashlib.sha256(raw.data).hexdigest()
    job = ReadingJob(study=study, person=person, name=raw.name, sha256=digest, size=len(raw.data), told=told)
    return keep_raw(job, [raw.data], read)


def _comparison(table: DataTable, bundle: Bundle, by: str) -> Comparison:
    """The trail as it was; where it does not end in the bundle's figure, that figure as the last state."""
    revision = newest_revision(table)
    name = bundle.recipe.words.title or table.name
    comparison = Comparison.objects.create(study_id=table.study_id, table=table, name=name[:200])
    parts = sorted(bundle.trail, key=lambda part: part.number)
    last = _unseal(bundle.recipe)
    shown = next((part.number for part in reversed(parts) if _unseal(part.recipe) == last), None)
    if shown is None:
        shown = max((part.number for part in parts), default=0) + 1
        at = bundle.recipe.made or table.made
        parent = parts[-1].number if parts else None
        parts.append(TrailPart(number=shown, parent=parent, words="from a bundle", by=by, at=at, recipe=bundle.recipe))
    known = {part.number for part in parts}
    for part in parts:
        entry = TrailEntry.objects.create(
            comparison=comparison, number=part.number, parent=part.parent if part.parent in known else None,
            recipe=_unseal(part.recipe).model_dump(mode="json"), words=part.words[:200], name=part.name[:100],
            table=table, preparation=revision, by=(part.by or by)[:150], foreign=True,
        )  # fmt: skip
        TrailEntry.objects.filter(pk=entry.pk).update(at=part.at)
    comparison.head, comparison.revision, comparison.form = shown, len(parts), form_of(last) or ""
    comparison.save()
    return comparison


def _unseal(recipe: Recipe) -> Recipe:
    """What the study keeps: the style stays resolved where it is not the house's."""
    update: dict[str, object] = dict.fromkeys(_SEALED)
    if recipe.style == HOUSE:
        update["style"] = "house"
    return recipe.model_copy(update=update)
