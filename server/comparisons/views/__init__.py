"""Views of comparisons, one file a resource."""
