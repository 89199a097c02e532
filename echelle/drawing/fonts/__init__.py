"""The fonts: which files, which runs, which glyphs, how wide."""
