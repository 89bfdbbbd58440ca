"""The command line: the same plan and the same renderer as the window."""

from zinc_margin.commands.program import main

__all__ = ["main"]
