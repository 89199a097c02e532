"""Errors in one shape: what is wrong, where, and what to do about it."""

from __future__ import annotations

import errno
import logging
from typing import Any

from django.core.exceptions import PermissionDenied
from django.db import InterfaceError, OperationalError
from django.http import Http404
from psycopg.errors import DiskFull as DiskFullError
from pydantic import BaseModel, ConfigDict
from rest_framework import exceptions
from rest_framework.response import Response

from echelle.errors import InputError
from echelle.scene.models import Change, Remedy
from server.api.storable import Unstorable

logger = logging.getLogger(__name__)


class Fault(BaseModel):
    """What the browser shows: one sentence, its place and its remedy."""

    model_config = ConfigDict(json_schema_serialization_defaults_required=True)

    what: str
    where: str = ""
    remedy: str = ""
    mends: list[Remedy] = []


NOT_SIGNED_IN = Fault(what="You are not signed in any more", remedy="Sign in and go on: what is on this page stays.")
DISK_FULL = Fault(
    what="The disk of the server is full, so nothing can be kept at present",
    remedy="What was kept stays, and your change stays on this page. It is kept as soon as there is room.",
)
BUSY = Fault(what="The server has too much to do at once", remedy="Wait a moment and try again.")
DATABASE_AWAY = Fault(
    what="The database is away for a moment", remedy="What was kept stays, and your change stays on this page. Try again."
)


class StaleRevision(Exception):
    """A save that names a revision which is no longer the newest."""

    what = "Someone changed this comparison since you opened it"
    remedy = "Your state is kept in the trail as a branch. Reload to see theirs."

    def __init__(self, revision: int) -> None:
        super().__init__()
        self.where = f"revision {revision}"


class StalePeople(StaleRevision):
    """The same for a person's or team's part in a study, and for who is in a team."""

    what = "Someone changed this since you saw it"
    remedy = "Nothing of theirs was lost. Look at what stands there now, then do it again."

    def __init__(self, whom: str) -> None:
        Exception.__init__(self)
        self.where = whom


class StalePreparation(StaleRevision):
    """The same for a table's steps."""

    what = "Someone changed this preparation since you opened it"
    remedy = "Nothing of theirs was lost. Show theirs, then take your step again."


class StaleGuides(StaleRevision):
    """The same for a study's guides."""

    what = "Someone changed the study's guides since you saw them"
    remedy = "Nothing of theirs was lost. Do it again."


class StaleHouse(StaleRevision):
    """The same for a study's house style."""

    what = "Someone changed the house style since you saw it"
    remedy = "Nothing of theirs was lost. Look at theirs, then do it again."


class NotAsShown(StaleRevision):
    """Something that leaves names a state that is not the one at its place."""

    what = "This is not the state that you saw"
    remedy = "Nothing left. Reload the page and do it again."


class DiskFull(Exception):
    """There is no room for what is to be kept."""


class Busy(Exception):
    """Too much is asked for at once."""


class UnderWay(Exception):
    """What is asked for is being made: ``done`` of ``of``."""

    def __init__(self, done: int, of: int) -> None:
        super().__init__()
        self.done, self.of = done, of

    @property
    def fault(self) -> Fault:
        """What the browser shows meanwhile."""
        raise NotImplementedError


class BeingCounted(UnderWay):
    """The files of a far table are being counted for what is asked."""

    @property
    def fault(self) -> Fault:
        """What the browser shows meanwhile."""
        return Fault(what=f"The files are being counted: {self.done} of {self.of}", remedy="The figure comes by itself.")


class BeingDrawn(UnderWay):
    """A figure that takes long is being drawn: after so many of about so many seconds."""

    @property
    def fault(self) -> Fault:
        """What the browser shows meanwhile."""
        return Fault(what=f"The figure is being drawn: {self.done} of about {self.of} s", remedy="It comes by itself.")


class LongWork(Exception):
    """What is asked for takes too long for one answer: about so many seconds."""

    def __init__(self, seconds: float) -> None:
        super().__init__()
        self.seconds = max(1, round(seconds))

    @property
    def fault(self) -> Fault:
        """What the browser asks the worker for."""
        return Fault(what=f"This takes about {self.seconds} s", remedy="Ask for it as a file: the worker makes it.")


class TooLarge(InputError):
    """An upload over the limit."""


def fault_of(error: InputError) -> Fault:
    """The body that tells of an input error."""
    mends = [
        Remedy(words=mend.words, changes=[Change(path=list(path), value=value) for path, value in mend.changes])
        for mend in error.mends
    ]
    return Fault(what=error.what[:1].upper() + error.what[1:], where=error.where, remedy=error.remedy, mends=mends)


def is_disk_full(error: Exception) -> bool:
    """Whether there was no room, as we, the system or the database found."""
    if isinstance(error, OSError):
        return error.errno in (errno.ENOSPC, errno.EDQUOT)
    return isinstance(error, DiskFull) or isinstance(error.__cause__, DiskFullError)


def answer(error: Exception, context: dict[str, Any]) -> Response | None:
    """Django REST framework's exception handler: every refusal is a :class:`Fault`."""
    if isinstance(error, TooLarge):
        return Response(fault_of(error), status=413)
    if isinstance(error, Unstorable):
        return Response(fault_of(error), status=400)
    if isinstance(error, InputError):
        return Response(fault_of(error), status=422)
    if isinstance(error, UnderWay):
        return Response(error.fault, status=425, headers={"Retry-After": "1"})
    if isinstance(error, LongWork):
        return Response(error.fault, status=425)
    if isinstance(error, Busy):
        return Response(BUSY, status=503)
    if isinstance(error, StaleRevision):
        return Response(Fault(what=error.what, where=error.where, remedy=error.remedy), status=409)
    if is_disk_full(error):
        return Response(DISK_FULL, status=507)
    if isinstance(error, (OperationalError, InterfaceError)):
        return Response(DATABASE_AWAY, status=503)
    if isinstance(error, (Http404, exceptions.NotFound)):
        return Response(
            Fault(what="There is nothing here for you", remedy="Check the address, or ask the study's owner."), status=404
        )
    if isinstance(error, (PermissionDenied, exceptions.PermissionDenied)):
        if "CSRF" in str(error):
            return Response(Fault(what="This page is older than your sign-in", remedy="Reload it and try again."), status=403)
        return Response(Fault(what="You may look at this but not change it", remedy="Ask the study's owner."), status=403)
    if isinstance(error, exceptions.NotAuthenticated):
        return Response(NOT_SIGNED_IN, status=401)
    if isinstance(error, exceptions.APIException):
        return Response(Fault(what=str(error.detail)), status=error.status_code)
    logger.exception("unexpected error", exc_info=error)
    return Response(Fault(what="Something went wrong on the server", remedy="Nothing was changed. Try again."), status=500)
