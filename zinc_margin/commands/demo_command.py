"""The command `demo`: the demo's photos and print settings."""

from __future__ import annotations

import argparse
from pathlib import Path

from zinc_margin.commands.running import interruptible


def declare_demo(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `demo`."""
    parser.add_argument("folder", metavar="DIR", help="where they go")
    parser.set_defaults(run=_demo)


def _demo(options: argparse.Namespace) -> int:
    from zinc_margin.demo.folder import write_demo

    with interruptible() as job:
        paths = write_demo(Path(options.folder), job)
    for path in paths:
        print(path)
    return 0
