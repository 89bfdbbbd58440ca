"""The margin: the docket, line by line."""
