"""What a person is told of a setting: kept in the metadata of the model's field, where the page and its previews find it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, fields
from typing import Any

from pydantic.fields import FieldInfo

# What another setting must be: one of these values, or given at all (True) or not (False).
Need = list[str] | bool


@dataclass(frozen=True)
class SettingInfo:
    """Of one setting: its meaning; its title, where the name of the field does not serve; from where to where a slider goes,
    short of what the recipe allows; what other settings (by dotted path) must be so that it matters; values whose pictures
    show what it does. ``computed`` says that it stays when the form changes: it decides a number, not where or how a mark is
    drawn. ``column`` names a column of the table; ``text`` is typed; ``row`` is False where it is set on the figure itself.
    ``find`` are other words that it is looked for by; ``options`` what its options are called, where not by their own word.
    ``inside`` tells of the settings of a part that stands here.
    """

    meaning: str = ""
    title: str = ""
    slider: tuple[float, float] | None = None
    needs: Mapping[str, Need] = field(default_factory=dict)
    samples: tuple[Any, ...] = ()
    computed: bool = False
    column: bool = False
    text: bool = False
    row: bool = True
    find: tuple[str, ...] = ()
    options: Mapping[str, str] = field(default_factory=dict)
    inside: Mapping[str, SettingInfo] = field(default_factory=dict)

    def over(self, other: SettingInfo) -> SettingInfo:
        """This one, and from the other what this one leaves open."""
        empty = SettingInfo()
        chosen = {
            f.name: getattr(self if getattr(self, f.name) != getattr(empty, f.name) else other, f.name) for f in fields(self)
        }
        return SettingInfo(**chosen)


DASH = SettingInfo("Solid, dashed or dotted.")


def info_of(model_field: FieldInfo) -> SettingInfo:
    """What a model's field says of itself; of several the later ones come first."""
    info = SettingInfo()
    for part in model_field.metadata:
        if isinstance(part, SettingInfo):
            info = part.over(info)
    return info
