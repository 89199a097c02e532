"""Bundles: everything that a figure was made of, in one zip file that redraws it anywhere."""
