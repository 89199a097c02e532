"""Sign-off: locked with name, time and reason; what is locked changes only as a new version."""

from __future__ import annotations

from django.db import models
from django.utils import timezone

from echelle.errors import InputError
from server.accounts.models import Person


class SignedOff(models.Model):
    """What can be signed off. A locked one stays as it is; a new version ``follows`` it."""

    version = models.IntegerField(default=1)
    follows = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="followed_by")
    locked_by = models.CharField(max_length=150, default="")
    locked_at = models.DateTimeField(null=True)
    lock_reason = models.CharField(max_length=500, default="")

    class Meta:
        abstract = True

    @property
    def lock_words(self) -> str:
        """By whom, when and why it was locked; empty where nobody did."""
        return f"{self.locked_by}, {self.locked_at:%Y-%m-%d %H:%M} UTC: {self.lock_reason}" if self.locked_at else ""

    def must_be_open(self) -> None:
        """Raises InputError for a locked one."""
        if self.locked_at is not None:
            what = f"this {self._meta.model_name} is locked"
            raise InputError(what, where=self.lock_words, remedy="Make a new version and change that.")

    def sign_off(self, person: Person, reason: str) -> None:
        """Lock it; the caller saves. Raises InputError without a reason, or for a locked one."""
        self.must_be_open()
        reason = " ".join(reason.split())[:500]
        if not reason:
            raise InputError("a lock has a reason", where="reason", remedy="Say why, such as “as submitted”.")
        self.locked_by, self.locked_at, self.lock_reason = person.shown_name, timezone.now(), reason
