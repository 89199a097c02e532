"""What is seen of people and teams, as a digest: a change names it, and is refused where it is no longer so."""

from __future__ import annotations

import hashlib

import orjson

from server.api.faults import StalePeople
from server.studies.models import Membership, Team, TeamRole


def member_digest(member: Membership | None) -> str:
    """Of a person's role in a study; empty where they have none."""
    return "" if member is None else _digest(member.role, member.may_sign, str(member.team_id))


def team_role_digest(role: TeamRole | None) -> str:
    """Of a team's role in a study; empty where it has none."""
    return "" if role is None else _digest(role.role, role.may_sign)


def team_digest(team: Team) -> str:
    """Of a team's name and people."""
    return _digest(team.name, sorted(person.username for person in team.people.all()))


def must_be_as_seen(seen: str, now: str, whom: str) -> None:
    """Raises StalePeople where what was seen of a person or team is no longer so."""
    if seen != now:
        raise StalePeople(whom)


def _digest(*told: str | bool | list[str]) -> str:
    return hashlib.sha256(orjson.dumps(told)).hexdigest()[:16]
