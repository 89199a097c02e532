"""From the rows of a table to lanes and their readings."""
