"""The command line: the same plan and the same renderer as the window."""

from .program import main

__all__ = ["main"]
