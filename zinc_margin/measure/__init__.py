"""Lengths, resolutions, ratios and sizes: what people type, and the exact numbers meant."""
