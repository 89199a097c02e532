"""Mail, where a server for it is set up."""

from __future__ import annotations

import logging

from django.conf import settings
from django.core.exceptions import ValidationError
from django.core.mail import send_mail
from django.core.validators import validate_email

from echelle.errors import InputError


def must_be_address(text: str) -> None:
    """Raises InputError for what is no mail address."""
    try:
        validate_email(text)
    except ValidationError:
        raise InputError("that is no mail address", where=text, remedy="Write it anew, or leave it out.") from None


def mail(to: str, subject: str, words: str) -> bool:
    """Send a letter; whether it went."""
    if not settings.EMAIL_HOST and "smtp" in settings.EMAIL_BACKEND:
        return False
    try:
        return bool(send_mail(" ".join(subject.split()), words, None, [to]))
    except OSError:
        logging.getLogger(__name__).exception("a letter could not be mailed")
        return False
