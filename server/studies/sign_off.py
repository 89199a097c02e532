"""Sign-off: locked with person, meaning, time and reason; what is locked changes only as a new version."""

from __future__ import annotations

from dataclasses import dataclass

from django.conf import settings
from django.db import models
from django.utils import timezone

from echelle.errors import InputError
from server.accounts.models import Person
from server.accounts.passwords import must_be_password
from server.records.models import record
from server.studies.bodies import SignOff
from server.studies.models import Study


@dataclass(frozen=True)
class Signature:
    """What somebody says with a signature, and why."""

    meaning: str
    reason: str


def signature_of(wanted: SignOff, person: Person, study: Study) -> Signature:
    """The signature that a person gives. Raises InputError for whoever may not sign, has no password, or gives a wrong one."""
    if not study.signed_by(person):
        raise InputError("you may not sign in this study", remedy="An owner of the study can give you the right.")
    if not person.has_password:
        raise InputError("a signature needs your password, and you have none", remedy="Choose one on the page /account first.")
    try:
        must_be_password(person, wanted.password)
    except InputError:
        record(person.username, "signature refused", study.pk)
        raise
    return Signature(wanted.meaning, wanted.reason)


class SignedOff(models.Model):
    """What can be signed off. A locked one stays as it is; a new version ``follows`` it. ``locked_state`` is the digest of what
    the person saw.
    """

    version = models.IntegerField(default=1)
    follows = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="followed_by")
    signer = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT, related_name="+")
    locked_by = models.CharField(max_length=150, default="")
    locked_at = models.DateTimeField(null=True)
    lock_meaning = models.CharField(max_length=40, default="")
    lock_reason = models.CharField(max_length=500, default="")
    locked_state = models.CharField(max_length=64, default="")

    class Meta:
        abstract = True

    @property
    def lock_words(self) -> str:
        """By whom, as what, when and why it was locked; empty where nobody did."""
        if self.locked_at is None:
            return ""
        meaning = f"{self.lock_meaning} by " if self.lock_meaning else ""
        return f"{meaning}{self.locked_by}, {self.locked_at:%Y-%m-%d %H:%M} UTC: {self.lock_reason}"

    def must_be_open(self) -> None:
        """Raises InputError for a locked one."""
        if self.locked_at is not None:
            what = f"this {self._meta.model_name} is locked"
            raise InputError(what, where=self.lock_words, remedy="Make a new version and change that.")

    def sign_off(self, person: Person, signature: Signature, digest: str) -> None:
        """Lock it; the caller saves. Raises InputError without a reason, or for a locked one."""
        self.must_be_open()
        reason = " ".join(signature.reason.split())[:500]
        if not reason:
            raise InputError("a lock has a reason", where="reason", remedy="Say why, such as “as submitted”.")
        self.signer, self.locked_by, self.locked_at = person, person.shown_name, timezone.now()
        self.lock_meaning, self.lock_reason, self.locked_state = signature.meaning, reason, digest
        study: Study = self.study  # type: ignore[attr-defined]
        record(
            person.username, "signed off", study.pk, of=str(self), kind=str(self._meta.model_name), meaning=signature.meaning,
            reason=reason, state=digest,
        )  # fmt: skip
