"""The bench: the best instrument for the line being written."""
