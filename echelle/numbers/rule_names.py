"""What rules and kernels are called in a sentence and on the page."""

from __future__ import annotations

RULE_NAMES: dict[str, str] = {
    "silverman": "Silverman", "scott": "Scott", "sheather-jones": "Sheather–Jones", "improved-plug-in": "improved plug-in",
    "sturges": "Sturges", "freedman-diaconis": "Freedman–Diaconis", "square-root": "square root", "rice": "Rice",
    "doane": "Doane", "gaussian": "Gaussian", "epanechnikov": "Epanechnikov", "raised-cosine": "raised cosine",
}  # fmt: skip


def rule_name(name: str) -> str:
    """A rule or kernel as it is written; its own word where that is how."""
    return RULE_NAMES.get(name, name)
