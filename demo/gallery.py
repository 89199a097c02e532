"""The README's gallery: six figures of the demo. python -m demo.gallery FOLDER"""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

from echelle.recipes.forms import recipe_of_form
from echelle.recipes.recipe import FormName, Recipe
from echelle.render import figure_bytes
from echelle.tables.reading.read import read_bytes

_HERE = Path(__file__).parent
_WAKING = [{"column": "sample", "is": ["Waking"]}]
_SHIFTS = {"column": "shift pattern", "joined": [{"name": "Rotating", "levels": ["Rotating", "rotating"]}]}


def figures() -> dict[str, Recipe]:
    """The recipes by name."""
    return {
        "raincloud-with-key": _made("raincloud", "Waking cortisol by shift", words={"key": {"placed": "below"}}),
        "differences": _made("violin", "How far from the day shift", more=[{"layer": "difference", "id": "x1"}]),
        "brackets": _made(
            "box", "Sizes before stars", more=[{"layer": "bracket", "id": "k1", "words": "estimate, interval and p"}],
            axis={"runs": "up"}, differences={"reference": "Day"}, style="paper", size={"width": "114mm"},
        ),
        "within-people": _made(
            "strip", "What the day does to one person", groups={"column": "sample"}, keep=[],
            differences={"paired_by": "participant", "drawn": True}, guides=[{"at": 0, "label": "no difference"}],
            more=[{"layer": "mean", "id": "m1", "interval": "confidence", "place": "below"}], axis={"runs": "across"},
        ),
        "control-lines": _made(
            "in-order", "Plate by plate", groups=None, size={"width": "174mm", "height": "80mm"},
            layers=[
                {"layer": "points", "id": "p1", "place": "on", "spread": "in order", "width": 0.94, "size": 2.4},
                {"layer": "control", "id": "c1"},
            ],
            differences={"control": {"target": {"first": 1, "last": 30}, "lots": "plate"}},
        ),
        "histogram-dark": _made("histogram", "For a dark room", style="dark slides", size={"width": "174mm"}),
    }  # fmt: skip


def _made(form: FormName, title: str, more: list[dict[str, Any]] | None = None, **change: Any) -> Recipe:
    recipe = recipe_of_form(form, "cortisol", "shift pattern").model_dump(mode="json", by_alias=True)
    words = {"title": title, **change.pop("words", {})}
    layers = change.pop("layers", recipe["layers"]) + (more or [])
    return Recipe.model_validate(recipe | {"groups": _SHIFTS, "keep": _WAKING, "layers": layers, "words": words} | change)


def main(folder: Path) -> None:
    """Draw all of them as PNG."""
    folder.mkdir(parents=True, exist_ok=True)
    table = read_bytes((_HERE / "samples.csv").read_bytes()).table
    for name, recipe in figures().items():
        (folder / f"{name}.png").write_bytes(figure_bytes(recipe, table, "png", 144))


if __name__ == "__main__":
    main(Path(sys.argv[1]))
