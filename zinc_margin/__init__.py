"""Zinc Margin: from a finished photo to a file that prints exactly as meant."""

__version__ = "0.1.0"
