"""Studies, their pages and search over HTTP, a file a resource."""
