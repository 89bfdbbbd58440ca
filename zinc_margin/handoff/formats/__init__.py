"""What writes files: a module a format, of the key that it has in the table of formats."""
