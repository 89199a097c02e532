"""Folios: several figures on a page, lettered, for a publication."""
