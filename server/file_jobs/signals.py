"""Files that were made of what is erased go with it."""

from __future__ import annotations

from functools import partial
from typing import Any

from django.db import transaction
from django.db.models import Q
from django.db.models.signals import post_delete
from django.dispatch import receiver

from server.comparisons.models import Comparison
from server.file_jobs.models import FileJob
from server.folios.models import Folio


@receiver(post_delete, sender=FileJob)
def _file_goes(instance: FileJob, **_: Any) -> None:
    transaction.on_commit(partial(instance.path.unlink, missing_ok=True))


@receiver(post_delete, sender=Comparison)
@receiver(post_delete, sender=Folio)
def _files_go(instance: Comparison | Folio, **_: Any) -> None:
    pk = str(instance.pk)
    of = Q(asked__folio=pk) if isinstance(instance, Folio) else Q(asked__comparison=pk) | Q(asked__comparisons__contains=[pk])
    FileJob.objects.filter(of, study=instance.study_id).delete()
