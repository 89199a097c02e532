"""A comparison as files."""
