"""Advice and remedies from the messages of the catalogue."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import JsonValue

from echelle.catalogue.catalogue import Catalogue, MessageValue
from echelle.scene.models import Advice, Change, Remedy


def advice(
    words: Catalogue, key: str, message: str, *, remedies: Sequence[Remedy] = (), why: str | None = None, **values: MessageValue
) -> Advice:
    """The advice that the message "advice-…" words, with its attributes why and source. ``why`` stands where no message has
    it whole. Raises KeyError for a message that no file has.
    """
    parts = words.parts(f"advice-{message}", **values)
    reason = parts.get("why", "") if why is None else why
    return Advice(key=key, text=parts[""], why=reason, source=parts.get("source", ""), remedies=list(remedies))


def remedy(
    words: Catalogue,
    message: str,
    *changes: tuple[Sequence[str | int], JsonValue],
    step: JsonValue = None,
    **values: MessageValue,
) -> Remedy:
    """The remedy that the message "remedy-…" words: values to set in the recipe, or a step of the preparation."""
    named = [Change(path=list(path), value=value) for path, value in changes]
    return Remedy(words=words.say(f"remedy-{message}", **values), changes=named, step=step)
