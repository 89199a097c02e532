"""What stands around the marks: titles, axes, guides, handles."""
