"""Dialogs, each imported on first use."""
