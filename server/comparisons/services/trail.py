"""Every settled state of a comparison, in order. Nothing falls off it."""

from __future__ import annotations

import hashlib
import uuid
from dataclasses import dataclass

import orjson
from django.db import transaction
from django.db.models import Max

from echelle.errors import InputError
from echelle.recipes.changes import change_words
from echelle.recipes.forms import FORMS, form_of
from echelle.recipes.layers import Layer
from echelle.recipes.parse import recipe_from
from echelle.recipes.question_name import question_name
from echelle.recipes.recipe import FormName, Recipe
from echelle.tables.steps.registry import Step
from server.accounts.models import Person
from server.api.faults import NotAsShown, StaleRevision
from server.comparisons.models import Comparison, TrailEntry
from server.studies.sign_off import Signature
from server.tables.models import DataTable
from server.tables.services.preparation import newest_of, newest_revision, steps_at

# So many states back a form is remembered.
_MOST_BACK = 100


def recipe_at(entry: TrailEntry) -> Recipe:
    """The recipe of a state."""
    return recipe_from(entry.recipe)


def entry_of(comparison: Comparison, number: int | None) -> TrailEntry:
    """A state of the trail; the shown one for None. Raises InputError for one that is not there."""
    wanted = comparison.head if number is None else number
    result = comparison.trailentry_set.select_related("table").filter(number=wanted).first()
    if result is None:
        raise InputError(f"the trail has no state {number}", remedy="Reload the page.")
    return result


@transaction.atomic
def begin(
    table: DataTable, recipe: Recipe, person: Person, name: str, preparation: int | None = None, like: Comparison | None = None
) -> Comparison:
    """A comparison with its first state, over the table's newest preparation or a given one; drawn in the house style of the
    one that it begins ``like``.
    """
    kept = None if like is None else like.locked_style or like.kept_style
    comparison = Comparison.objects.create(study_id=table.study_id, table=table, name=name[:200], kept_style=kept)
    revision = newest_revision(table) if preparation is None else preparation
    _add(comparison, Data(table, revision), recipe, person, None)
    return comparison


@transaction.atomic
def dismiss(comparison_id: uuid.UUID, key: str, dismissed: bool) -> Comparison:
    """Keep a piece of advice from showing again, or let it show."""
    comparison = changeable(comparison_id)
    others = [name for name in comparison.dismissed if name != key]
    comparison.dismissed = [*others, key][-500:] if dismissed else others
    comparison.save(update_fields=["dismissed"])
    return comparison


def settle(comparison_id: uuid.UUID, revision: int, recipe: Recipe, person: Person) -> Comparison:
    """Add a settled state after the shown one; an equal state makes no entry.

    Raises StaleRevision where ``revision`` is not the newest: the state is then kept as a branch.
    """
    with transaction.atomic():
        comparison = changeable(comparison_id)
        same = comparison.head_entry.recipe == _stored_recipe(recipe)
        # Whoever sends what is shown already got no answer the first time.
        stale = comparison.revision != revision and not same
        if not same:
            _add(comparison, data_of(comparison), recipe, person, comparison.head, refused=stale)
    if stale:
        raise StaleRevision(comparison.revision)
    return comparison


@transaction.atomic
def step(comparison_id: uuid.UUID, revision: int, number: int) -> Comparison:
    """Show another state of the trail: undo, redo or any step. Raises StaleRevision like :func:`settle`."""
    comparison = changeable(comparison_id)
    if comparison.revision != revision:
        raise StaleRevision(comparison.revision)
    if not comparison.trailentry_set.filter(number=number).exists():
        raise InputError(f"the trail has no state {number}", remedy="Reload the page.")
    if number != comparison.head:
        before = recipe_at(comparison.head_entry)
        comparison.head = number
        _follow(comparison, before, recipe_at(comparison.head_entry))
        comparison.table_id = comparison.head_entry.table_id
        comparison.revision += 1
        comparison.save()
    return comparison


@transaction.atomic
def take_newest(comparison_id: uuid.UUID, revision: int, person: Person) -> Comparison:
    """Put the newest file and preparation under the shown recipe, as a state of its own.

    Raises StaleRevision like :func:`settle`.
    """
    comparison = changeable(comparison_id)
    if comparison.revision != revision:
        raise StaleRevision(comparison.revision)
    newest = newest_data(comparison)
    if newest is not None:
        _add(comparison, newest, recipe_at(comparison.head_entry), person, comparison.head)
    return comparison


def changeable(comparison_id: uuid.UUID) -> Comparison:
    """The comparison, held until the transaction ends. Raises InputError for a locked one."""
    comparison = Comparison.objects.select_for_update().get(pk=comparison_id)
    comparison.must_be_open()
    return comparison


@transaction.atomic
def lock(comparison_id: uuid.UUID, person: Person, signature: Signature, revision: int, digest: str) -> Comparison:
    """Sign a comparison off as the person saw it: from now on it stays as it is.

    Raises InputError without a reason, or for a locked one; StaleRevision or NotAsShown where it changed since.
    """
    comparison = changeable(comparison_id)
    if comparison.revision != revision:
        raise StaleRevision(comparison.revision)
    must_be_shown(comparison, comparison.head_entry, digest)
    comparison.sign_off(person, signature, digest)
    comparison.locked_style = comparison.house.model_dump(mode="json")
    comparison.save()
    return comparison


@transaction.atomic
def new_version(comparison: Comparison, person: Person) -> Comparison:
    """A comparison of the same name that begins with what this one shows, and follows it."""
    shown = data_of(comparison)
    made = begin(shown.table, recipe_at(comparison.head_entry), person, comparison.name, shown.preparation, comparison)
    made.version, made.follows = comparison.version + 1, comparison
    made.save(update_fields=["version", "follows"])
    return made


@dataclass(frozen=True)
class Data:
    """What a state was drawn from: a table as read and one revision of its preparation."""

    table: DataTable
    preparation: int

    @property
    def steps(self) -> list[Step]:
        """The steps of that revision."""
        return steps_at(self.table, self.preparation)


def data_of(comparison: Comparison, entry: TrailEntry | None = None) -> Data:
    """The data of a state; of the shown one when left out."""
    entry = entry or comparison.head_entry
    return Data(entry.table, entry.preparation)


def newest_data(comparison: Comparison) -> Data | None:
    """The newest file and preparation, where the shown state has older ones."""
    shown = data_of(comparison)
    table = newest_of(shown.table)
    newest = Data(table, newest_revision(table))
    return None if newest == shown else newest


def layers_left(comparison: Comparison, recipe: Recipe) -> dict[FormName, list[Layer]]:
    """The layers of each form but the recipe's own as they were when it was left last, on the way to the shown state over the
    same data.
    """
    shown, own, result = comparison.head_entry, form_of(recipe), dict[FormName, list[Layer]]()
    states = {entry.number: entry for entry in comparison.trailentry_set.filter(number__gt=comparison.head - _MOST_BACK)}
    kinds = {name: sorted(layer.kind() for layer in form.layers()) for name, form in FORMS.items()}
    here: int | None = comparison.head
    while here in states:
        entry = states[here]
        drawn = sorted(str(layer.get("layer")) for layer in entry.recipe["layers"])
        same_data = (entry.table_id, entry.preparation) == (shown.table_id, shown.preparation)
        if same_data and any(drawn == kinds[name] for name in FORMS if name not in result):
            state = recipe_at(entry)
            name = form_of(state)
            if name is not None and name not in result:
                same = state.measure.columns == recipe.measure.columns
                result[name] = [layer if same else layer.without_unit() for layer in state.layers]
        here = entry.parent
    return {name: layers for name, layers in result.items() if name != own}


def state_digest(comparison: Comparison, entry: TrailEntry) -> str:
    """What a state is, in 32 letters: recipe, data, and the house style that it is drawn in."""
    told = [entry.recipe, str(entry.table_id), entry.preparation, comparison.house.model_dump(mode="json")]
    return hashlib.sha256(orjson.dumps(told, option=orjson.OPT_SORT_KEYS)).hexdigest()[:32]


def must_be_shown(comparison: Comparison, entry: TrailEntry, digest: str | None) -> None:
    """Raises NotAsShown where somebody saw another state than the one that would leave."""
    if digest is not None and digest != state_digest(comparison, entry):
        raise NotAsShown(comparison.revision)


def _stored_recipe(recipe: Recipe) -> dict[str, object]:
    return recipe.model_dump(mode="json")


def _add(comparison: Comparison, data: Data, recipe: Recipe, person: Person, parent: int | None, refused: bool = False) -> None:
    before = recipe_at(comparison.head_entry) if parent else None
    words = change_words(before, recipe)
    if parent and data != data_of(comparison):
        words = _data_words(data_of(comparison), data)
    number = (comparison.trailentry_set.aggregate(last=Max("number"))["last"] or 0) + 1
    TrailEntry.objects.create(
        comparison=comparison, number=number, parent=parent, recipe=_stored_recipe(recipe), words=words[:200],
        table=data.table, preparation=data.preparation, by=person.shown_name, refused=refused,
    )  # fmt: skip
    if not refused:
        _follow(comparison, before, recipe)
        comparison.head = number
        comparison.table = data.table
        comparison.revision += 1
        comparison.save()


def _follow(comparison: Comparison, before: Recipe | None, now: Recipe) -> None:
    """The form is the shown state's; the name follows the question until somebody writes another."""
    comparison.form = form_of(now) or ""
    if before is not None and comparison.name == question_name(before)[:200]:
        comparison.name = question_name(now)[:200]


def _data_words(before: Data, now: Data) -> str:
    if before.table != now.table:
        same = before.table.raw_id == now.table.raw_id
        return "the file read in another way" if same else f"newer data: {now.table.name}"
    return f"preparation {before.preparation} → {now.preparation}"
