"""From bytes to a table: file type, encoding, delimiter, heading, kinds, units."""
