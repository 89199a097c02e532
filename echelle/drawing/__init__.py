"""Scenes to SVG, PDF and PNG."""
