"""Widgets and looks that every part of the window uses."""
