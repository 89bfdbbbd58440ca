"""What a photo is, as plain data: told by its header, its pixels and its metadata."""
