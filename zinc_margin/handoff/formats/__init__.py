"""File writers: one module per format, named after its key in the table of formats."""
