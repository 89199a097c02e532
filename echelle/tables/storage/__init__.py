"""Tables as Arrow buffers, as files, and what differs between two versions."""
