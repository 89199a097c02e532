"""Messages by their name, in a language. A new language is a file beside this one, and its name in LANGUAGES."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from decimal import Decimal
from functools import cache, cached_property
from pathlib import Path
from threading import RLock
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
# Where a message begins, and one that stands in another.
_MESSAGE = re.compile(r"^(?=[a-z][\w-]* =)", re.M)
# A name that is cut short ends its sentence with one stop.
_TWO_STOPS = re.compile(r"(?<!\.)\.\.(?=\s|$)")
_REFERENCE = re.compile(r"\{ ([a-z][\w-]*) \}")


class Catalogue:
    """The messages of one language."""

    def __init__(self, language: Language) -> None:
        self._files = [_file(name) for name in LANGUAGES[language]]

    def say(self, message: str, **values: MessageValue) -> str:
        """A message with its values. Raises KeyError for one that no file has, ValueError where a value is missing."""
        return self.parts(message, **values)[""]

    def parts(self, message: str, **values: MessageValue) -> dict[str, str]:
        """A message by "", and its attributes by their names. Raises as say."""
        known = {name: self._value(value) for name, value in values.items()}
        answer = next((parts for file in self._files if (parts := file.parts(message, known)) is not None), None)
        if answer is None:
            raise KeyError(f"no message “{message}”")
        for _, faults in answer.values():
            if faults:
                raise ValueError(f"message “{message}”: {faults[0]}")
        return {name: _TWO_STOPS.sub(".", said) for name, (said, _) in answer.items()}

    def remark(self, remark: Remark | None) -> str:
        """What is to be said of a number; "" where nothing is."""
        if remark is None:
            return ""
        values: dict[str, MessageValue] = dict(remark.values)
        for name in ("rule", "stand-in"):
            if name in values:
                values[name] = self.say("rule", rule=str(values[name]).replace(" ", "-"))
        return self.say(f"remark-{remark.code}", **values)

    def names(self, names: Sequence[str]) -> str:
        """The first four of many names."""
        listed = ", ".join(names[:_MOST_NAMES])
        more = len(names) - _MOST_NAMES
        return self.say("list-more", names=listed, more=more) if more > 0 else listed

    def ordinal(self, number: str) -> str:
        """A number's place in an order: "5" is the 5th, "21" the 21st."""
        from babel import Locale

        return self.say("ordinal", form=Locale("en").ordinal_form(Decimal(number)), text=number)

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


class _File:
    """A Fluent file of which only the messages that are said are parsed: all of them take a third of a second."""

    def __init__(self, name: str) -> None:
        text = (_FOLDER / f"{name}.ftl").read_text(encoding="utf-8")
        self._sources = {part.partition(" ")[0]: part for part in _MESSAGE.split(text)[1:]}
        self._name = name
        self._known: set[str] = set()
        # Threads share the file: whoever comes second waits until a message is parsed.
        self._lock = RLock()

    @cached_property
    def _bundle(self) -> FluentBundle:
        from fluent.runtime import FluentBundle

        return FluentBundle([self._name], use_isolating=False)

    def parts(self, message: str, values: Mapping[str, object]) -> dict[str, tuple[str, Sequence[Exception]]] | None:
        """A message by "" and its attributes, each with its faults; None where the file does not have it."""
        if message not in self._sources:
            return None
        self._parse(message)
        pattern = self._bundle.get_message(message)
        assert pattern.value is not None, "every message has a value"
        parts = {"": pattern.value, **pattern.attributes}
        result = {name: self._bundle.format_pattern(part, dict(values)) for name, part in parts.items()}
        return {name: (str(said), faults) for name, (said, faults) in result.items()}

    def _parse(self, message: str) -> None:
        """A message and those that it holds, unless they are known."""
        from fluent.runtime import FluentResource

        with self._lock:
            if message in self._known:
                return
            source = self._sources[message]
            for other in _REFERENCE.findall(source):
                if other in self._sources:
                    self._parse(other)
            self._bundle.add_resource(FluentResource(source))
            self._known.add(message)


@cache
def _file(name: str) -> _File:
    return _File(name)
