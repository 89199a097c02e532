"""What views of tables do: reading, preparation, rows, caches."""
