"""Comparisons: begun, renamed, copied, locked, drawn over newer data."""

from __future__ import annotations

import uuid

from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from echelle.recipes.question_name import question_name
from server.accounts.requests import PersonRequest
from server.api.faults import Fault
from server.api.views import Endpoint, body_of
from server.comparisons.bodies import (
    AskSame,
    ChangeComparison,
    ComparisonState,
    Dismiss,
    Mark,
    NewComparison,
    NewCopy,
    SameQuestion,
    Shelf,
    Take,
)
from server.comparisons.models import Comparison
from server.comparisons.services.changes import change
from server.comparisons.services.newest import take_newest_data, take_newest_style
from server.comparisons.services.proposal import proposal
from server.comparisons.services.same_question import ask_same
from server.comparisons.services.scenes import must_draw
from server.comparisons.services.shelves import erase, put_on_shelf
from server.comparisons.services.state import comparison_state, mark_of
from server.comparisons.services.trail import (
    begin,
    data_of,
    dismiss,
    entry_of,
    lock,
    new_version,
    recipe_at,
)
from server.comparisons.services.visits import others_here, pin, visit
from server.studies.access import as_uuid, editable_by, visible_to
from server.studies.bodies import Pin, SignOff
from server.studies.sign_off import signature_of
from server.tables.models import DataTable
from server.tables.services.preparation import newest_revision, steps_at

_LOST = {409: Fault, 422: Fault}


class Comparisons(Endpoint):
    """New comparisons."""

    @extend_schema(request=NewComparison, responses={200: ComparisonState, 422: Fault})
    def post(self, request: PersonRequest) -> Response:
        """Begin a comparison over a table's newest preparation: of the measure and groups named, or of those that fit best."""
        wanted = body_of(request, NewComparison)
        table = editable_by(DataTable.objects.all(), request.user, as_uuid(wanted.table))
        steps = steps_at(table, newest_revision(table))
        recipe = proposal(table, steps, request.user, wanted.measure, wanted.groups)
        made = begin(table, recipe, request.user, question_name(recipe))
        return Response(comparison_state(made, request.user))


class OneComparison(Endpoint):
    """A comparison as it stands."""

    @extend_schema(responses=ComparisonState)
    def get(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Its shown recipe, its columns and its trail."""
        comparison = visible_to(Comparison.objects.all(), request.user, comparison_id)
        visit(comparison, request.user)
        return Response(comparison_state(comparison, request.user))

    @extend_schema(request=ChangeComparison, responses={200: ComparisonState, 422: Fault})
    def patch(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Rename it; write its notes, its tags; watch it. The name of a signed one stays."""
        editable_by(Comparison.objects.all(), request.user, comparison_id)
        wanted = body_of(request, ChangeComparison)
        with transaction.atomic():
            comparison = Comparison.objects.select_for_update().get(pk=comparison_id)
            change(comparison, wanted)
        return Response(comparison_state(comparison, request.user))

    @extend_schema(responses={204: None, 422: Fault})
    def delete(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Erase one that is in the bin, with its trail, for good. One record line stays."""
        editable_by(Comparison.objects.all(), request.user, comparison_id)
        with transaction.atomic():
            comparison = Comparison.objects.select_for_update().get(pk=comparison_id)
            erase(comparison, request.user)
        return Response(status=204)


class ShelfOfComparison(Endpoint):
    """Where a comparison is put: open, archive or bin."""

    @extend_schema(request=Shelf, responses={204: None, 422: Fault})
    def put(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Put it there. One that is signed off, or set on a folio, does not go to the bin."""
        editable_by(Comparison.objects.all(), request.user, comparison_id)
        wanted = body_of(request, Shelf).shelf
        with transaction.atomic():
            put_on_shelf(Comparison.objects.select_for_update().get(pk=comparison_id), wanted)
        return Response(status=204)


class MarkOfComparison(Endpoint):
    """Whether others changed something."""

    @extend_schema(responses=Mark)
    def get(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """The comparison's mark, for pages that are open, and who else has it open."""
        comparison = visible_to(Comparison.objects.all(), request.user, comparison_id)
        visit(comparison, request.user)
        return Response(Mark(mark=mark_of(comparison), others=others_here(comparison, request.user)))


class PinOfComparison(Endpoint):
    """Comparisons that come first."""

    @extend_schema(request=Pin, responses=ComparisonState)
    def put(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Pin it, or not, for whoever asks."""
        comparison = visible_to(Comparison.objects.all(), request.user, comparison_id)
        pin(comparison, request.user, body_of(request, Pin).pinned)
        return Response(comparison_state(comparison, request.user))


class SameQuestionOfTable(Endpoint):
    """The question of a comparison, asked of another table."""

    @extend_schema(request=AskSame, responses={200: SameQuestion, 422: Fault})
    def post(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """A comparison of that table with the shown recipe; what does not fit is said. Refused where the measure is missing."""
        comparison = editable_by(Comparison.objects.all(), request.user, comparison_id)
        table = editable_by(DataTable.objects.all(), request.user, as_uuid(body_of(request, AskSame).table))
        made, said = ask_same(comparison, table, request.user)
        return Response(SameQuestion(comparison=str(made.pk), said=said))


class TakeNewest(Endpoint):
    """Newer data."""

    @extend_schema(request=Take, responses={200: ComparisonState, **_LOST})
    def post(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Draw the shown recipe over the newest file and preparation from now on; the state before stays in the trail."""
        comparison = editable_by(Comparison.objects.all(), request.user, comparison_id)
        taken = take_newest_data(comparison, body_of(request, Take).revision, request.user)
        return Response(comparison_state(taken, request.user))


class TakeStyle(Endpoint):
    """A newer house style."""

    @extend_schema(request=None, responses={200: ComparisonState, 422: Fault})
    def post(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Draw the comparison in the study's newest house style from now on."""
        editable_by(Comparison.objects.all(), request.user, comparison_id)
        return Response(comparison_state(take_newest_style(comparison_id), request.user))


class DismissAdvice(Endpoint):
    """Advice that was read."""

    @extend_schema(request=Dismiss, responses=ComparisonState)
    def put(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Keep a piece of advice from showing again, for everyone; or let it."""
        comparison = editable_by(Comparison.objects.all(), request.user, comparison_id)
        wanted = body_of(request, Dismiss)
        return Response(comparison_state(dismiss(comparison.pk, wanted.key, wanted.dismissed), request.user))


class Lock(Endpoint):
    """Sign-off."""

    @extend_schema(request=SignOff, responses={200: ComparisonState, **_LOST})
    def put(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Lock the state that was seen, with person, meaning, time and reason; it then changes only as a new version."""
        comparison = editable_by(Comparison.objects.all(), request.user, comparison_id)
        wanted = body_of(request, SignOff)
        signature = signature_of(wanted, request.user, comparison.study)
        locked = lock(comparison.pk, request.user, signature, wanted.revision, wanted.state)
        return Response(comparison_state(locked, request.user))


class Versions(Endpoint):
    """What follows a locked comparison."""

    @extend_schema(request=None, responses={200: ComparisonState, 422: Fault})
    def post(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """A new version, which begins with what this one shows."""
        comparison = editable_by(Comparison.objects.all(), request.user, comparison_id)
        return Response(comparison_state(new_version(comparison, request.user), request.user))


class Copies(Endpoint):
    """Comparisons that begin with a state of another."""

    @extend_schema(request=NewCopy, responses={200: ComparisonState, 422: Fault})
    def post(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """A state, or a recipe over its data, as a comparison of its own."""
        comparison = editable_by(Comparison.objects.all(), request.user, comparison_id)
        wanted = body_of(request, NewCopy)
        entry = entry_of(comparison, wanted.entry)
        recipe, data = wanted.recipe or recipe_at(entry), data_of(comparison, entry)
        must_draw(recipe, data.table, data.steps)
        name = " ".join(wanted.name.split()) or f"{comparison.name} (copy)"
        return Response(
            comparison_state(begin(data.table, recipe, request.user, name, data.preparation, comparison), request.user)
        )
