"""Teams: people who come into studies, and leave them, together."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from django.db import transaction
from django.db.models import Q, QuerySet

from echelle.errors import InputError
from server.accounts.models import Person
from server.records.models import record
from server.studies.bodies import SetTeam, TeamOfStudy, TeamState
from server.studies.digests import must_be_as_seen, team_digest, team_role_digest
from server.studies.models import Membership, Role, Study, Team, TeamRole
from server.studies.names import named
from server.studies.unknown_names import person_called

MOST_TEAMS = 50
MOST_PEOPLE = 100
_MOST_FIRST = (Role.EDITOR, Role.READER, Role.VIEWER)


def teams_of(person: Person) -> QuerySet[Team]:
    """The teams that a person keeps or is in, by name."""
    return Team.objects.filter(Q(keeper=person) | Q(people=person)).distinct().order_by("name", "pk")


def state_of(team: Team, person: Person) -> TeamState:
    """A team as the person sees it."""
    return TeamState(
        id=str(team.pk), name=team.name, people=sorted(member.username for member in team.people.all()),
        keeper=team.keeper.username, mine=team.keeper_id == person.pk,
        state=team_digest(team),
    )  # fmt: skip


def make_team(name: str, usernames: Sequence[str], keeper: Person) -> Team:
    """A new team. Raises InputError for an empty name, unknown people, or too many of either."""
    if keeper.kept_team_set.count() >= MOST_TEAMS:
        raise InputError(f"you keep {MOST_TEAMS} teams already", remedy="End one that is not needed.")
    people = _called(usernames, keeper, {})
    with transaction.atomic():
        team = Team.objects.create(name=named(name, "team"), keeper=keeper)
        team.people.set(people)
    return team


def change_team(team: Team, name: str, usernames: Sequence[str], seen: str) -> None:
    """Who is in it from now on; those who are out leave the studies that they came into with it. Raises StalePeople where the
    team is no longer in the state that was ``seen``.
    """
    people = _called(usernames, team.keeper, {member.username: member for member in team.people.all()})
    with transaction.atomic():
        team = Team.objects.select_for_update(of=("self",)).select_related("keeper").get(pk=team.pk)
        must_be_as_seen(seen, team_digest(team), team.name)
        team.name = named(name, "team")
        team.save(update_fields=["name"])
        team.people.set(people)
        studies = _studies_of(team)
        for study in studies:
            record(team.keeper.username, "team changed", study.pk, of=team.name, people=len(people))
        settle(studies)


@transaction.atomic
def leave_team(team: Team, person: Person) -> None:
    """The person goes, out of its studies too."""
    team.people.remove(person)
    settle(_studies_of(team))


@transaction.atomic
def end_team(team: Team) -> None:
    """The team ends; who came with another one too stays in with that."""
    studies = _studies_of(team)
    for study in studies:
        record(team.keeper.username, "team role set", study.pk, of=team.name, role="out")
    team.teamrole_set.all().delete()
    settle(studies)
    team.delete()


@transaction.atomic
def set_team(study: Study, wanted: SetTeam, owner: Person) -> None:
    """Let a team into a study, change its role, or take it out. Raises InputError for one that is not the owner's
    own, StalePeople where its role is no longer the one that was seen.
    """
    here = Team.objects.filter(teamrole__study=study)
    team = next((team for known in (teams_of(owner), here) for team in known.filter(pk=wanted.team)), None)
    if team is None:
        raise InputError("there is no such team of yours", remedy="Choose one that you keep or are in.")
    Study.objects.select_for_update().get(pk=study.pk)
    held = TeamRole.objects.filter(study=study, team=team)
    must_be_as_seen(wanted.state, team_role_digest(held.first()), team.name)
    if wanted.role is None:
        held.delete()
    else:
        given = {"role": wanted.role, "may_sign": wanted.may_sign}
        TeamRole.objects.update_or_create(study=study, team=team, defaults=given)
    role = wanted.role or "out"
    record(owner.username, "team role set", study.pk, of=team.name, role=role, may_sign=wanted.may_sign)
    settle([study])


def must_not_come_back(study: Study, person: Person) -> None:
    """Raises InputError for one who is in a team of the study: with that they stay in it."""
    team = Team.objects.filter(teamrole__study=study, people=person).first()
    if team is not None:
        words = f"{person.shown_name} is here with the team “{team.name}”"
        raise InputError(words, remedy="Leave the team, or have the team or its people changed.")


def teams_in(study: Study) -> list[TeamOfStudy]:
    """The teams of a study with their people, by name."""
    roles = study.teamrole_set.select_related("team__keeper").prefetch_related("team__people").order_by("team__name")
    return [
        TeamOfStudy(
            id=str(role.team_id), name=role.team.name, role=role.role, may_sign=role.may_sign,
            state=team_role_digest(role), keeper=role.team.keeper.shown_name,
            people=sorted(person.shown_name for person in role.team.people.all()),
        )
        for role in roles
    ]  # fmt: skip


def settle(studies: Iterable[Study]) -> None:
    """Bring who is in the studies in line with their teams; the record says who came and went. Who was let in themselves keeps
    their own role; of several teams the role that may most counts.
    """
    for study in studies:
        Study.objects.select_for_update().get(pk=study.pk)
        given: dict[int, TeamRole] = {}
        signing: set[int] = set()
        roles = study.teamrole_set.prefetch_related("team__people")
        for role in sorted(roles, key=lambda role: (_MOST_FIRST.index(Role(role.role)), role.pk)):
            for person in role.team.people.all():
                given.setdefault(person.pk, role)
                if role.may_sign:
                    signing.add(person.pk)
        held = {member.person_id: member for member in study.membership_set.select_related("person", "team")}
        for person_id, member in held.items():
            if member.team is not None and person_id not in given:
                member.delete()
                record(member.person.username, "went out", study.pk, team=member.team.name)
        for person_id, role in given.items():
            if person_id not in held or held[person_id].team is not None:
                values = {"role": role.role, "may_sign": person_id in signing, "team": role.team}
                member, came = Membership.objects.update_or_create(study=study, person_id=person_id, defaults=values)
                if came:
                    record(member.person.username, "came in", study.pk, team=role.team.name, role=role.role)


def _studies_of(team: Team) -> list[Study]:
    return list(Study.objects.filter(teamrole__team=team))


def _called(usernames: Sequence[str], keeper: Person, known: Mapping[str, Person]) -> list[Person]:
    """Before anything is changed, so that the record keeps each name that was tried. Who is ``known`` stays, whether their
    account works or not.
    """
    if len(set(usernames)) > MOST_PEOPLE:
        raise InputError(f"a team has at most {MOST_PEOPLE} people", remedy="Make two of it.")
    return [known.get(username) or person_called(username, keeper) for username in dict.fromkeys(usernames)]
