"""The decisions for one print of one photo, as readable JSON."""
