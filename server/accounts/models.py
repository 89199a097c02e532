"""People and their one-time links."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta

from django.contrib.auth.models import AbstractUser
from django.db import models
from django.utils import timezone


class Person(AbstractUser):
    """Someone with an account."""

    @property
    def shown_name(self) -> str:
        """How others see this person."""
        return self.get_full_name() or self.username


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
        cls.objects.create(person=person, purpose=purpose, digest=_digest(secret), until=timezone.now() + lasts)
        return secret

    @classmethod
    def find(cls, secret: str) -> OneTimeLink | None:
        """The link of a secret, while it lasts."""
        return cls.objects.select_related("person").filter(digest=_digest(secret), until__gt=timezone.now()).first()


def _digest(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()
