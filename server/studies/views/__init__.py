"""A study over HTTP, a file a resource."""
