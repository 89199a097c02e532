"""Accounts that work no more; what their people did stays, under their names."""

from __future__ import annotations

from django.db import transaction

from echelle.errors import InputError
from server.accounts.models import Person
from server.accounts.sessions import end_sessions
from server.records.models import record
from server.studies.models import Invitation, Membership, Role, Study

_MOST_NAMED = 3


@transaction.atomic
def deactivate(person: Person, by: str) -> None:
    """Nobody signs in with the account from now on; its sessions, links and invitations end.

    Raises InputError where a study would have no owner left.
    """
    others = Membership.objects.filter(role=Role.OWNER, person__is_active=True).exclude(person=person)
    alone = Study.objects.owned_by(person).select_for_update(of=("self",)).exclude(membership__in=others).order_by("name")
    names = [f"“{study.name}”" for study in alone]
    if names:
        more = f" and {len(names) - _MOST_NAMED} more" if len(names) > _MOST_NAMED else ""
        raise InputError(
            f"nobody else owns {', '.join(names[:_MOST_NAMED])}{more}",
            remedy="Make somebody else an owner there, or erase what is not needed, then try again.",
        )
    person.is_active = False
    person.save(update_fields=["is_active"])
    person.end_links()
    Invitation.objects.filter(by=person).delete()
    end_sessions(person.opensession_set.all())
    record(by, "account deactivated", of=person.username)


def reactivate(person: Person, by: str) -> None:
    """The account works again, in the studies that it was in."""
    person.is_active = True
    person.save(update_fields=["is_active"])
    record(by, "account reactivated", of=person.username)
