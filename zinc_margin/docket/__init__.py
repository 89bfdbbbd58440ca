"""The decisions for one print of one photo, and their readable JSON."""
