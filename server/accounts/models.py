"""People and their one-time links."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta

from django.contrib.auth.models import AbstractUser
from django.db import models
from django.utils import timezone


class Person(AbstractUser):
    """Someone with an account. Raising ``epoch`` ends every session of theirs but the one that carries on with it;
    ``first_steps``: whether the short way in is shown to them. ``decimal_mark``: how ledgers write numbers for them, and
    figures that they begin.
    """

    epoch = models.IntegerField(default=0)
    first_steps = models.BooleanField(default=True)
    decimal_mark = models.CharField(max_length=5, choices=[("point", "1234.5"), ("comma", "1234,5")], default="point")

    @property
    def shown_name(self) -> str:
        """How others see this person."""
        return self.get_full_name() or self.username

    @property
    def has_password(self) -> bool:
        """Whether the person chose one; who only came by links has none."""
        return bool(self.password) and self.has_usable_password()

    def get_session_auth_hash(self) -> str:
        """What a session must agree with: it changes with the password and with the epoch."""
        return f"{super().get_session_auth_hash()}{self.epoch}"

    def end_links(self) -> None:
        """No link given to this person works any more."""
        self.onetimelink_set.all().delete()


class OpenSession(models.Model):
    """A session of a person: in which browser it was begun, and when."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE)
    key = models.CharField(max_length=40, unique=True)
    browser = models.CharField(max_length=200)
    began = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return f"{self.person} in {self.browser}"


class OneTimeLink(models.Model):
    """A link that signs its person in once, or lets them set a password once. Only a digest of it is stored."""

    class Purpose(models.TextChoices):
        ENTER = "enter"
        PASSWORD = "password"  # noqa: S105

    person = models.ForeignKey(Person, on_delete=models.CASCADE)
    purpose = models.CharField(max_length=8, choices=Purpose.choices)
    digest = models.CharField(max_length=64, unique=True)
    until = models.DateTimeField()

    def __str__(self) -> str:
        return f"{self.purpose} link of {self.person}"

    @classmethod
    def make(cls, person: Person, purpose: Purpose, lasts: timedelta = timedelta(days=1)) -> str:
        """Make a link's secret; it is told once and never stored."""
        secret = secrets.token_urlsafe(24)
        cls.objects.create(person=person, purpose=purpose, digest=digest_of(secret), until=timezone.now() + lasts)
        return secret

    @classmethod
    def find(cls, secret: str) -> OneTimeLink | None:
        """The link of a secret, while it lasts."""
        return (
            cls.objects.select_related("person")
            .filter(digest=digest_of(secret), until__gt=timezone.now(), person__is_active=True)
            .first()
        )


def digest_of(secret: str) -> str:
    """What is stored of the secret of a link."""
    return hashlib.sha256(secret.encode()).hexdigest()
