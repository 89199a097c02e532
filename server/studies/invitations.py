"""Invitations: a link into a study that works once."""

from __future__ import annotations

import secrets
from datetime import timedelta

from django.utils import timezone

from echelle.errors import InputError
from server.accounts.models import Person, digest_of
from server.mail import mail, must_be_address
from server.records.models import record
from server.studies.bodies import NewInvitation
from server.studies.models import Invitation, Membership, Study

LASTS = timedelta(days=7)
MOST_OPEN = 50


def invite(study: Study, wanted: NewInvitation, by: Person) -> tuple[Invitation, str]:
    """Make an invitation; its address on this server is told once. Raises InputError for too many, or for no mail address."""
    study.invitation_set.filter(until__lt=timezone.now()).delete()
    if study.invitation_set.count() >= MOST_OPEN:
        raise InputError(f"{MOST_OPEN} invitations are open already", remedy="Take back those that nobody takes up.")
    if wanted.mail:
        must_be_address(wanted.mail)
    secret = secrets.token_urlsafe(24)
    words = " ".join((wanted.words or wanted.mail).split())
    made = Invitation.objects.create(
        study=study, role=wanted.role, may_sign=wanted.may_sign, by=by, words=words, digest=digest_of(secret),
        until=timezone.now() + LASTS,
    )  # fmt: skip
    record(by.username, "invited", study.pk, role=wanted.role, of=words)
    return made, f"/invited/{secret}"


def send_link(invitation: Invitation, address: str, to: str) -> bool:
    """Send the link by mail; whether it went."""
    words = (
        f"{invitation.by.shown_name} invites you to the study “{invitation.study.name}” as {invitation.role}.\n\n{address}\n\n"
        f"The link works once, until {invitation.until:%-d %B %Y}.\n"
    )
    return mail(to, f"Echelle: {invitation.study.name}", words)


def find(secret: str) -> Invitation | None:
    """The invitation of a link, while it lasts."""
    asked = Invitation.objects.select_related("study", "by")
    return asked.filter(digest=digest_of(secret), until__gt=timezone.now()).first()


def let_in(invitation: Invitation, person: Person) -> bool:
    """Let somebody in; false where somebody else was first. Who is in the study keeps the role that they have."""
    used, _ = Invitation.objects.filter(pk=invitation.pk).delete()
    if not used:
        return False
    given = {"role": invitation.role, "may_sign": invitation.may_sign}
    Membership.objects.get_or_create(study=invitation.study, person=person, defaults=given)
    record(person.username, "came in", invitation.study_id, by=invitation.by.username, role=invitation.role)
    return True
