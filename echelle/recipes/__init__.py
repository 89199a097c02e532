"""The recipe: our own open format for one comparison and its figure."""
