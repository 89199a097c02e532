"""The scene: the only thing ever drawn."""
