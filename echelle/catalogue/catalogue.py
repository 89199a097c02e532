"""Messages by their name, in a language. A new language is a file beside this one, and its name in LANGUAGES."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Literal

if TYPE_CHECKING:
    from fluent.runtime import FluentBundle

    from echelle.numbers.remarks import Remark

Language = Literal["British", "American"]
# Text, a count, or names of which the first four are said.
MessageValue = str | int | Sequence[str]
# The files of a language, those that say most first: what one leaves out the next one says.
LANGUAGES: dict[Language, tuple[str, ...]] = {"British": ("en-GB",), "American": ("en-US", "en-GB")}
_FOLDER = Path(__file__).parent
_MOST_NAMES = 4


class Catalogue:
    """The messages of one language."""

    def __init__(self, language: Language) -> None:
        self._bundles = [_bundle(file) for file in LANGUAGES[language]]

    def say(self, message: str, **values: MessageValue) -> str:
        """A message with its values. Raises KeyError for one that no file has, ValueError where a value is missing."""
        return self.parts(message, **values)[""]

    def parts(self, message: str, **values: MessageValue) -> dict[str, str]:
        """A message by "", and its attributes by their names. Raises as say."""
        bundle = next((bundle for bundle in self._bundles if bundle.has_message(message)), None)
        if bundle is None:
            raise KeyError(f"no message “{message}”")
        known = {name: self._value(value) for name, value in values.items()}
        pattern = bundle.get_message(message)
        assert pattern.value is not None, "every message has a value"
        result = {}
        for name, part in {"": pattern.value, **pattern.attributes}.items():
            said, faults = bundle.format_pattern(part, known)
            result[name] = str(said)
            if faults:
                raise ValueError(f"message “{message}”: {faults[0]}")
        return result

    def remark(self, remark: Remark | None) -> str:
        """What is to be said of a number; "" where nothing is."""
        if remark is None:
            return ""
        values: dict[str, MessageValue] = dict(remark.values)
        for name in ("rule", "stand-in"):
            if name in values:
                values[name] = self.say("rule", rule=str(values[name]))
        return self.say(f"remark-{remark.code}", **values)

    def names(self, names: Sequence[str]) -> str:
        """The first four of many names."""
        listed = ", ".join(names[:_MOST_NAMES])
        more = len(names) - _MOST_NAMES
        return self.say("list-more", names=listed, more=more) if more > 0 else listed

    def ends(self, low: str, high: str) -> str:
        """From one number to another, or the one that both are."""
        return low if low == high else self.say("range", low=low, high=high)

    def _value(self, value: MessageValue) -> object:
        """Whole numbers are written as they are: thousands are grouped by whoever asks for it."""
        from fluent.runtime.types import fluent_number

        if isinstance(value, int):
            return fluent_number(value, useGrouping=False)
        return value if isinstance(value, str) else self.names(value)


@cache
def catalogue(language: Language = "British") -> Catalogue:
    """The catalogue of a language, read once."""
    return Catalogue(language)


@cache
def _bundle(file: str) -> FluentBundle:
    from fluent.runtime import FluentBundle, FluentResource

    bundle = FluentBundle([file], use_isolating=False)
    bundle.add_resource(FluentResource((_FOLDER / f"{file}.ftl").read_text(encoding="utf-8")))
    return bundle
