"""Formulas: a small language over columns, documented in docs/formulas.md."""
