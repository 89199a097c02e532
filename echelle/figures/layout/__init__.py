"""Panels, lanes, names and legend placed on the sheet."""
