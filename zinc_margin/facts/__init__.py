"""The facts about a photo as plain data, from its header, pixels and metadata."""
