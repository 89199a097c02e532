"""What changed between two recipes, in words for the trail."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from echelle.catalogue.catalogue import catalogue
from echelle.recipes.forms import form_of
from echelle.recipes.guides import Guide, guide_name
from echelle.recipes.markup import plain
from echelle.recipes.recipe import Recipe
from echelle.tables.steps.conditions import condition_words

_NAMES = {
    "k": "fence", "quantile_type": "quantile type", "cap": "caps", "runs": "lanes run", "from": "axis from", "to": "axis to",
    "measure": "measure", "column": "groups", "order": "order", "labels": "names", "strength": "strength",
    "title": "title", "typeface": "typeface", "placed": "placed", "under": "note under the figure", "english": "English",
    "lane_colours": "colours", "level_colours": "colours", "rising_colours": "colours",
    "rulings": "rulings", "axis_line": "axis line",
    "weight": "line weight",
}  # fmt: skip

_TEXTS = {
    "title": "title", "subtitle": "subtitle", "measure": "axis label", "counts": "label of counts", "groups": "groups label",
    "caption": "caption", "source": "source", "credit": "credit",
}  # fmt: skip


def change_words(old: Recipe | None, new: Recipe) -> str:
    """A few words such as "fence 1.5 → 2" or "groups: ward"; "begun" for the first state."""
    if old is None:
        return "begun"
    before, after = old.model_dump(mode="json"), new.model_dump(mode="json")
    if before["measure"] != after["measure"]:
        return f"measure: {', '.join(after['measure']['columns'])}"[:120]
    if (before["groups"] or {}).get("column") != (after["groups"] or {}).get("column"):
        return f"groups: {after['groups']['column']}" if after["groups"] else "no groups"
    if (before["subgroups"] or {}).get("column") != (after["subgroups"] or {}).get("column"):
        return f"split by {after['subgroups']['column']}" if after["subgroups"] else "not split"
    if _panel_columns(before) != _panel_columns(after):
        columns = " and ".join(_panel_columns(after))
        return f"a panel per {columns}" if columns else "one panel"
    if before["keep"] != after["keep"]:
        kept = " and ".join(condition_words(condition, catalogue()) for condition in new.keep)
        return f"keeping {kept}" if kept else "keeping all rows"
    if before["left_out"] != after["left_out"]:
        return f"left out: {len(after['left_out'])}"
    if words := _names_given(before["groups"] or {}, after["groups"] or {}):
        return words
    if before["guides"] != after["guides"]:
        return _guides_changed(old.guides, new.guides)
    if words := _words_changed(before["words"], after["words"]):
        return words
    if before["words"]["key"] != after["words"]["key"]:
        return f"reader's key: {after['words']['key']['placed']}"
    if before["style"] != after["style"]:
        return f"look: {after['style'] if isinstance(after['style'], str) else 'its own'}"
    if before["ledger"]["drawn"] != after["ledger"]["drawn"]:
        return "numbers on the figure" if after["ledger"]["drawn"] else "numbers off the figure"
    form = form_of(new)
    if form is not None and form != form_of(old):
        return form
    was = {layer["id"]: layer for layer in before["layers"]}
    now = {layer["id"]: layer for layer in after["layers"]}
    if added := [now[id]["layer"] for id in now.keys() - was.keys()]:
        return f"+ {', '.join(added)}"
    if gone := [was[id]["layer"] for id in was.keys() - now.keys()]:
        return f"− {', '.join(gone)}"
    return "; ".join(_differences(before, after)[:2]) or "no change"


def _guides_changed(before: Sequence[Guide], after: Sequence[Guide]) -> str:
    """Which guide came, went or changed."""
    words = catalogue()
    if len(before) == len(after):
        changed = next(now for was, now in zip(before, after, strict=True) if was != now)
        return f"guide {guide_name(changed, words)}"[:120]
    sign, more, fewer = ("+", after, before) if len(after) > len(before) else ("−", before, after)
    changed = next((guide for guide in more if guide not in fewer), more[-1])
    return f"{sign} guide {guide_name(changed, words)}"[:120]


def _words_changed(before: dict[str, Any], after: dict[str, Any]) -> str:
    """Which text of the sheet says what now."""
    for key, name in _TEXTS.items():
        if before[key] != after[key]:
            return f"{name}: {plain(after[key])}"[:120] if after[key] else f"usual {name}"
    return ""


def _names_given(before: dict[str, Any], after: dict[str, Any]) -> str:
    """Which level was renamed, where nothing else of the groups changed."""
    was, now = before.get("labels", {}), after.get("labels", {})
    changed = [level for level in {**was, **now} if was.get(level) != now.get(level)]
    return f"{changed[0]} named {now.get(changed[0], changed[0])}" if len(changed) == 1 else ""


def _panel_columns(recipe: dict[str, Any]) -> list[str]:
    return [role["column"] for role in (recipe["panels"][way] for way in ("across", "down", "wrapped")) if role]


def _differences(before: Any, after: Any, name: str = "") -> list[str]:
    if isinstance(before, dict) and isinstance(after, dict):
        keys = dict.fromkeys([*before, *after])
        return [d for key in keys for d in _differences(before.get(key), after.get(key), str(key))]
    if isinstance(before, list) and isinstance(after, list) and len(before) == len(after):
        return [d for b, a in zip(before, after, strict=True) for d in _differences(b, a, name)]
    if before == after:
        return []
    label = _NAMES.get(name, name.replace("_", " "))
    if name == "shown":
        return ["layer shown" if after else "layer hidden"]
    if after is None or after == "":
        return [f"usual {label}"]
    if isinstance(after, bool):
        return [f"{label} {'on' if after else 'off'}"]
    if isinstance(after, dict | list):
        return [f"{label} changed"]
    was = "" if before is None or before == "" else f"{_written(before)} → "
    return [f"{label} {was}{_written(after)}"]


def _written(value: object) -> str:
    return f"{value:g}" if isinstance(value, float) else str(value)
