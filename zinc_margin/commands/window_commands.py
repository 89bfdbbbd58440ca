"""The commands `open` and `edit`: the window, and the window as another program's editor."""

from __future__ import annotations

import argparse
import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path

from zinc_margin.commands.interrupts import interruptible


def declare_open(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `open`."""
    parser.add_argument(
        "photos", metavar="PHOTO", nargs="*", help="photos, folders, lists of photos"
    )
    parser.set_defaults(run=open_window)


def declare_edit(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `edit`."""
    parser.add_argument("photo", metavar="FILE", help="the photo")
    parser.add_argument(
        "--return-to", metavar="FILE", required=True, help="the file that Make file writes"
    )
    parser.set_defaults(run=run)


def run(options: argparse.Namespace) -> int:
    """Open the window and wait; return 0 if the file was sent back, 3 if not."""
    from zinc_margin.handoff.names import check_goal, format_of
    from zinc_margin.photo.header import read_header

    goal = Path(options.return_to)
    format_of(goal)
    check_goal(read_header(options.photo).facts.path, goal, True)
    return _window([options.photo, "--return-to", str(goal)])


def open_window(options: argparse.Namespace) -> int:
    """Open the window and wait until it closes."""
    return _window(options.photos)


def _window(arguments: Sequence[str]) -> int:
    """Run the window as a separate process, because only it imports Qt."""
    command = [sys.executable, "-m", "zinc_margin.desktop", *arguments]
    process = subprocess.Popen(command, stderr=sys.stderr)
    try:
        return process.wait()
    except KeyboardInterrupt:
        process.terminate()  # it keeps the decisions, and ends by itself
        process.wait()
        raise


def declare_demo(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `demo`."""
    parser.add_argument("folder", metavar="DIR", help="destination folder")
    parser.set_defaults(run=_demo)


def _demo(options: argparse.Namespace) -> int:
    from zinc_margin.demo.folder import write_demo

    with interruptible() as job:
        paths = write_demo(Path(options.folder), job)
    for path in paths:
        print(path)
    return 0
