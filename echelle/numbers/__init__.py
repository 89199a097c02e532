"""Arrays in, numbers out."""
