"""Open formats out: names, metadata, writers, and the making of a file."""
