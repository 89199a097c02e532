"""One scene with signs, scripts and weights, for every surface to be held against."""

from __future__ import annotations

from echelle.recipes.roles import Groups
from echelle.recipes.style import Words
from echelle.scene.models import Scene, TextPart
from tests.support.tables import box_recipe, lanes_table

NAMES = {
    "a": "µ ≤ ≥ σ ₂ ⁻ √ ²",
    "b": "Ωμέγα φάση",
    "c": "مستوى الكورتيزول",
    "d": "רמת קורטיזול",
    "e": "T₄ (10⁻⁶ mol/L) שלום",
}
TABLE = lanes_table({level: [1.5 + i, 2.5 + i, 4.5 + i, 9.5] for i, level in enumerate(NAMES)})
RECIPE = box_recipe(
    groups=Groups(column="group", labels=NAMES),
    words=Words(title="Spiegel µg·dL⁻¹ – مستوى – רמה", measure="σ² ≤ 4 √n (µmol/L)", source="Made-up: Ωμέγα, שלום"),
)


def texts(scene: Scene) -> list[TextPart]:
    """The text parts of a scene."""
    return [part for part in scene.walk() if isinstance(part, TextPart)]
