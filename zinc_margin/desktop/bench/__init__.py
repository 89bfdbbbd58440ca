"""The bench: the best instrument for the open line."""
