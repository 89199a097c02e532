"""What is said about a figure: advice, and how large the differences are."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Iterator
from functools import partial
from itertools import chain

from django.http import StreamingHttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response

from echelle.comparison.lane_differences import Step, compare_stepwise
from echelle.comparison.models import LaneDifferences
from echelle.figures.compose import deep_advice
from echelle.figures.layers.cost import quick_part
from echelle.recipes.differences import Differences
from server.accounts.requests import PersonRequest
from server.api.faults import Fault
from server.api.limits import FIGURES
from server.api.views import Endpoint
from server.comparisons.bodies import (
    AdviceList,
    DifferencesProgress,
    OfRecipe,
)  # fmt: skip
from server.comparisons.services import scenes
from server.comparisons.services.requests import comparison_and_recipe, lanes_for
from server.tables.services.cache import single_rows


class ComparisonAdvice(Endpoint):
    """Advice that takes time."""

    keeps = False
    pool = FIGURES

    @extend_schema(request=OfRecipe, responses={200: AdviceList, 422: Fault})
    def post(self, request: PersonRequest, comparison_id: uuid.UUID) -> Response:
        """Advice on peaks and on what tells them apart; what costs no time comes with the scene."""
        comparison, asked, data = comparison_and_recipe(request, comparison_id)
        lanes = lanes_for(comparison.study.shows_rows_to(request.user), comparison, asked, data)
        # Beside the figure nothing is computed again that the worker was at for long.
        quick = quick_part(asked, lanes, scenes.AT_ONCE)
        return Response(AdviceList(deep_advice(quick, lanes, lambda: single_rows(quick, data.table, data.steps))))


class ComparisonDifferences(Endpoint):
    """How large the differences are."""

    keeps = False

    @extend_schema(request=OfRecipe, responses={(200, "application/x-ndjson"): DifferencesProgress, 422: Fault})
    def post(self, request: PersonRequest, comparison_id: uuid.UUID) -> StreamingHttpResponse:
        """Lanes set against one another as the recipe's differences ask; the usual way where it asks nothing. One line of JSON
        after each pair, and one with the answer; whoever stops reading stops the work.
        """
        comparison, asked, data = comparison_and_recipe(request, comparison_id)
        sees = comparison.study.shows_rows_to(request.user)
        stepwise = compare_stepwise(lanes_for(sees, comparison, asked, data), asked.differences or Differences())
        # What can be refused is refused before the first line.
        first = next(stepwise)
        line = partial(_line, sees)
        lines = map(line, chain([first], stepwise))
        return StreamingHttpResponse(_in_turn(lines), content_type="application/x-ndjson")


def _in_turn(lines: Iterable[bytes]) -> Iterator[bytes]:
    """Each pair is computed in turn with the figures of others."""
    waiting = iter(lines)
    while True:
        with FIGURES.turn():
            line = next(waiting, None)
        if line is None:
            return
        yield line


def _line(may_see_rows: bool, answer: Step | LaneDifferences) -> bytes:
    if isinstance(answer, LaneDifferences) and answer.control is not None and not may_see_rows:
        for hit in answer.control.hits:
            hit.rows = [0] * len(hit.rows)
    line = (
        DifferencesProgress(done=answer.done, of=answer.of) if isinstance(answer, Step) else DifferencesProgress(found=answer)
    )
    return line.model_dump_json().encode() + b"\n"
