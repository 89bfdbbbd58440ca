"""The command `log`: recorded failures, for people who help."""

from __future__ import annotations

import argparse
from dataclasses import asdict

from zinc_margin.commands.as_json import SCHEMA
from zinc_margin.commands.sizes_commands import print_json
from zinc_margin.keeping import log

_SHOWN = 3


def declare_log(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `log`."""
    parser.add_argument(
        "--every", action="store_true", help=f"show all, not only the last {_SHOWN}"
    )
    parser.add_argument("--clear", action="store_true", help="remove the log")
    parser.add_argument("--json", action="store_true", help="print one JSON object")
    parser.set_defaults(run=_log)


def _log(options: argparse.Namespace) -> int:
    if options.clear:
        log.clear()
        print("The log is cleared.")
        return 0
    found = log.entries()
    shown = found if options.every else found[:_SHOWN]
    if options.json:
        print_json({"schema": SCHEMA, "failures": [asdict(entry) for entry in shown]})
        return 0
    for entry in shown:
        print(log.entry_text(entry))
    if len(found) > len(shown):
        print(f"{len(found) - len(shown)} earlier failures are not shown; see them with --every.")
    if not found:
        print("No failure has been recorded.")
    return 0
