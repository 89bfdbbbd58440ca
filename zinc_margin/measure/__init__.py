"""Lengths, resolutions, ratios and sizes: read typed text and return exact numbers."""
