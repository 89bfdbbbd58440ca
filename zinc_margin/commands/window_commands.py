"""The commands `open` and `edit`: the window, and the window for another program's file."""

from __future__ import annotations

import argparse
import subprocess
import sys
from pathlib import Path
from typing import Any

from zinc_margin.handoff.names import check_goal, format_of
from zinc_margin.photo.header import read_header


def declare(commands: Any) -> None:
    """Declare the commands."""
    two = commands.add_parser("open", help="open the window, with photos")
    two.add_argument("photos", metavar="PHOTO", nargs="*", help="photos, folders, lists of photos")
    two.set_defaults(run=open_window)
    one = commands.add_parser("edit", help="open the window on a file, and send the result back")
    one.add_argument("photo", metavar="FILE", help="the photo")
    one.add_argument(
        "--return-to", metavar="FILE", required=True, help="file that Make file writes"
    )
    one.set_defaults(run=run)


def run(options: argparse.Namespace) -> int:
    """Open the window and wait; 0 when the file was sent back, 3 when it was not."""
    goal = Path(options.return_to)
    format_of(goal)
    check_goal(read_header(options.photo).facts.path, goal, True)
    # a process of its own: nothing but the window knows Qt
    command = [
        sys.executable, "-m", "zinc_margin.desktop", options.photo, "--return-to", str(goal)
    ]  # fmt: skip
    return subprocess.run(command, check=False, stderr=sys.stderr).returncode


def open_window(options: argparse.Namespace) -> int:
    """Open the window and wait for its end."""
    command = [sys.executable, "-m", "zinc_margin.desktop", *options.photos]
    return subprocess.run(command, check=False, stderr=sys.stderr).returncode
