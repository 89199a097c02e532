"""From a recipe and a table to a scene: lanes, readings, layers, axes, layout, words."""
