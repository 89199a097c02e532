"""What views of comparisons do: the trail, scenes, rows."""
