"""Tables of many files, counted part by part, here or on a cluster."""
