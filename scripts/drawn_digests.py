"""Whether a change keeps what is drawn: digests of the gallery, the demo's sheets and random recipes, and of what the command
line says. Take them before, compare after:

python -m scripts.drawn_digests FILE [--recipes 500]     writes the digests where FILE is not there, else compares
"""

from __future__ import annotations

import hashlib
import json
import random
from pathlib import Path
from typing import Any

import click
import orjson
from click.testing import CliRunner

from demo import gallery, sheets
from echelle.command_line.main import app
from echelle.drawing.formats import Output, scene_bytes
from echelle.errors import InputError
from echelle.figures.settings import FigureOptions, LayerOffer, Setting, figure_options
from echelle.recipes.forms import FORMS
from echelle.recipes.recipe import Recipe
from echelle.render import scene_of
from echelle.tables.reading.read import read_bytes, read_file
from echelle.tables.table import Table

_DEMO = Path(__file__).parents[1] / "demo"
_COLUMNS = ["ward", "day", "sample", "haemolysed", "shift pattern", "nights in a row"]


def digests(recipes: int) -> dict[str, str]:
    """A digest for everything drawn and said, by name."""
    table = read_file(_DEMO / "samples.csv").table
    result = {f"gallery/{name}": figure_digest(recipe, table) for name, recipe in gallery.figures().items()}
    for form in FORMS:
        result |= {f"sheets/{form}/{i}": figure_digest(recipe, table) for i, recipe in enumerate(sheets.recipes(form))}
    lines = (_DEMO / "samples.csv").read_bytes().splitlines(keepends=True)
    small, choices = read_bytes(b"".join([lines[0], *lines[1::6]])).table, figure_options()
    for seed in range(recipes):
        result[f"random/{seed}"] = random_digest(seed, choices, small)
    return result | {f"said/{' '.join(words)}": said_digest(words) for words in _SAID}


def figure_digest(recipe: Recipe, table: Table) -> str:
    """Of the scene and of the SVG file, or of the refusal."""
    try:
        scene = scene_of(recipe, table)
        return _digest(orjson.dumps(scene.model_dump(mode="json")) + scene_bytes(scene, Output("svg")))
    except InputError as error:
        return f"refused: {error.sentence()}"


def random_digest(seed: int, choices: FigureOptions, table: Table) -> str:
    """Of the recipe that a seed makes."""
    try:
        recipe = Recipe.model_validate(random_recipe(random.Random(seed), choices, table))  # noqa: S311
    except ValueError as error:
        return f"no recipe: {_digest(str(error).encode())}"
    return figure_digest(recipe, table)


def random_recipe(chance: random.Random, choices: FigureOptions, table: Table) -> dict[str, Any]:
    """Roles, layers with some settings changed, axis, words and look."""
    columns = chance.sample(_COLUMNS, 4)
    identifier = chance.choice([None, "participant"])
    layers = [_layer(chance, offer, f"l{i}") for i, offer in enumerate(chance.sample(choices.layers, chance.randint(1, 3)))]
    for layer in layers:
        if layer["layer"] == "points" and identifier:
            layer["joined"] = identifier
    recipe: dict[str, Any] = {
        "echelle": 1, "measure": {"columns": ["cortisol"]}, "layers": layers,
        "axis": {"runs": chance.choice(["across", "up"]), "scale": chance.choice(["linear", "linear", "log10", "square-root"])},
        "words": {"title": chance.choice(["", "Title {n}"]), "note": _note(chance)},
        "style": chance.choice(["house", "paper", "grey print", "dark slides"]),
    }  # fmt: skip
    if chance.random() < 0.85:
        recipe["groups"] = {"column": columns[0]}
        if chance.random() < 0.35:
            recipe["subgroups"] = {"column": columns[1], "placed": chance.choice(["beside", "overlaid", "stacked"])}
    if chance.random() < 0.25:
        recipe["panels"] = {chance.choice(["down", "across", "wrapped"]): {"column": columns[2]}}
    if chance.random() < 0.3:
        recipe["guides"] = [{"band": [7, 20], "label": "interval"}, {"at": 12, "label": "limit"}]
    if chance.random() < 0.2:
        recipe["words"]["key"] = {"placed": "below"}
    return recipe


def _note(chance: random.Random) -> dict[str, Any]:
    return {
        "under": chance.random() < 0.5,
        "length": chance.choice(["full", "short"]),
        "english": chance.choice(["British", "American"]),
    }  # fmt: skip


def _layer(chance: random.Random, offer: LayerOffer, name: str) -> dict[str, Any]:
    layer: dict[str, Any] = offer.usual.model_dump(mode="json") | {"id": name}
    for setting in chance.sample(offer.settings, min(len(offer.settings), chance.randint(0, 4))):
        value = _value(chance, setting)
        if value is None:
            continue
        place: Any = layer
        for key in setting.path[:-1]:
            place = place.setdefault(key, {}) if place.get(key) is not None else place.update({key: {}}) or place[key]
        place[setting.path[-1]] = value
    return layer


def _value(chance: random.Random, setting: Setting) -> Any:
    if setting.kind == "choice":
        return chance.choice(setting.options)
    if setting.kind == "yes-no":
        return chance.random() < 0.5
    if setting.kind == "amount":
        value = setting.least + chance.random() * (setting.most - setting.least)
        return round(value) if setting.step >= 1 else round(value, 3)
    if setting.kind == "column":
        return chance.choice(_COLUMNS)
    return chance.choice([None, 2.5]) if setting.kind == "number" else None


_LONG = ("--measure", "cortisol", "--groups", "shift pattern", "--json")
_SAID: tuple[tuple[str, ...], ...] = (
    ("read", "samples.csv", "--json"),
    ("read", "participants.csv"),
    ("read", "clotting_lots.csv", "--json"),
    ("describe", "samples.csv", *_LONG, "--all-readings", "--quantiles", "0.1,0.5", "--bins", "doane", "--bandwidth", "scott"),
    ("describe", "samples.csv", *_LONG[:-1], "--subgroups", "ward"),
    ("compare", "samples.csv", *_LONG[:-1], "--reference", "Day"),
    ("compare", "samples.csv", *_LONG, "--to", "all pairs", "--limits", "robust"),
    ("compare", "samples.csv", *_LONG[:-1], "--subgroups", "ward", "--runs", "plate", "--control", "own"),
    ("compare", "samples.csv", "--measure", "cortisol", "--groups", "sample", "--paired-by", "participant", "--margin", "1"),
    ("schema",),
)


def said_digest(words: tuple[str, ...]) -> str:
    """Of what the command line prints."""
    done = CliRunner().invoke(app, [str(_DEMO / word) if word.endswith(".csv") else word for word in words])
    return _digest(done.output.encode()) + (f" {done.exception}" if done.exception else "")


def _digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()[:24]


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--recipes", default=500, show_default=True)
def main(file: Path, recipes: int) -> None:
    """Write the digests, or compare with those in FILE."""
    now = digests(recipes)
    if not file.exists():
        file.write_text(json.dumps(now, indent=1))
        click.echo(f"{len(now)} digests, {sum(d.startswith('refused') for d in now.values())} of them refusals")
        return
    before = json.loads(file.read_text())
    other = [name for name in before if now.get(name) != before[name]]
    click.echo(f"{len(before) - len(other)} of {len(before)} as before")
    for name in other[:20]:
        click.echo(f"  {name}: {before[name]} → {now.get(name)}")
    raise SystemExit(bool(other))


if __name__ == "__main__":
    main()
