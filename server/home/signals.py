"""What is saved is found at once by what it is now; what is erased, no more."""

from __future__ import annotations

from typing import Any

from django.apps import AppConfig
from django.db.models.signals import post_delete, post_migrate, post_save
from django.dispatch import receiver

from echelle.errors import InputError
from echelle.recipes.forms import form_of
from server.comparisons.models import Comparison
from server.comparisons.services.trail import recipe_at
from server.folios.models import Folio
from server.home.entry import forget_words, keep_entry, keep_words
from server.home.models import SearchEntry, SearchWord
from server.studies.models import Membership, Study
from server.tables.models import DataTable

_FOUND = (Study, Comparison, DataTable, Folio)


@receiver(post_save, sender=Study)
@receiver(post_save, sender=DataTable)
@receiver(post_save, sender=Folio)
def saved(instance: Study | DataTable | Folio, raw: bool = False, **_: Any) -> None:
    """Something has other words now."""
    if not raw:
        keep_entry(instance)


@receiver(post_save, sender=Comparison)
def comparison_saved(instance: Comparison, raw: bool = False, **_: Any) -> None:
    """A comparison without a state asks nothing yet."""
    if instance.head and not raw:
        keep_entry(instance)


@receiver(post_save, sender=Membership)
@receiver(post_delete, sender=Membership)
def people_changed(instance: Membership, origin: object = None, **_: Any) -> None:
    """A study is found by its people."""
    if isinstance(origin, Study):
        # It is on its way out itself.
        return
    study = Study.objects.filter(pk=instance.study_id).first()
    if study is not None:
        keep_entry(study)


@receiver(post_delete, sender=Comparison)
@receiver(post_delete, sender=DataTable)
@receiver(post_delete, sender=Folio)
def erased(instance: Comparison | DataTable | Folio, origin: object = None, **_: Any) -> None:
    """What is gone is not found, nor are its words what somebody may have meant."""
    SearchEntry.objects.filter(pk=instance.pk).delete()
    if not isinstance(origin, Study):
        SearchWord.objects.filter(study=instance.study_id).delete()
        keep_words(list(SearchEntry.objects.filter(study=instance.study_id)))
        forget_words()


@receiver(post_delete, sender=Study)
def study_erased(**_: Any) -> None:
    """With its words."""
    forget_words()


@receiver(post_migrate)
def keep_all(sender: AppConfig, **_: Any) -> None:
    """A store of an earlier release is searched too."""
    if sender.name != "server.home" or SearchEntry.objects.exists():
        return
    for model in _FOUND:
        for held in model._default_manager.all().iterator():
            if not isinstance(held, Comparison):
                keep_entry(held)
            elif held.head:
                Comparison.objects.filter(pk=held.pk).update(form=_form(held))
                keep_entry(held)


def _form(comparison: Comparison) -> str:
    try:
        return form_of(recipe_at(comparison.head_entry)) or ""
    except InputError:
        return ""
