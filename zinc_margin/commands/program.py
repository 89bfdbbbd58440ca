"""The program `zinc-margin`: its commands and how they end."""

from __future__ import annotations

import io
import os
import signal
import sys
from collections.abc import Callable
from importlib import import_module

from zinc_margin import __version__
from zinc_margin.commands.helping import Parser, complete
from zinc_margin.commands.running import hush_libraries, quieted
from zinc_margin.keeping import log
from zinc_margin.measure.errors import BadRequest, Cancelled, ZincError

_COMMANDS = {
    "reach": ("how large a photo goes", "plan_commands"),
    "plan": ("every number of a print, without making it", "plan_commands"),
    "make": ("make the file, or the files of a picture in pieces", "make_command"),
    "sizes": ("list print sizes, and keep your own", "sizes_commands"),
    "ladder": ("all print sizes for one photo, graded", "sizes_commands"),
    "needs": ("how many pixels a size needs, without a photo", "sizes_commands"),
    "compare": ("which of several photos have pixels enough for a size", "sizes_commands"),
    "strip": ("make a test strip: one place at several strengths", "paper_commands"),
    "measure-paper": ("measure how far a paper blurs: print a page, scan it", "paper_commands"),
    "together": ("several prints on a sheet, of one photo or of several", "together_command"),
    "hang": ("a print on your own photographed wall, at true size", "hang_command"),
    "batch": ("make the files of many photos; run again to go on", "batch_commands"),
    "preset": ("list, keep, import and export presets", "batch_commands"),
    "inspect": ("say in plain words what a picture file is", "hand_over_commands"),
    "check": ("check files against what a lab or a device takes", "hand_over_commands"),
    "send": ("send files to a lab's drop box", "hand_over_commands"),
    "made": ("what was made: found again, made again, or forgotten", "record_commands"),
    "log": ("recorded failures: tracebacks, versions and print settings", "record_commands"),
    "printers": ("the printers of this system, their papers and blank edges", "print_commands"),
    "print": ("print a photo, or a finished file, at its true size", "print_commands"),
    "proof-print": ("print a file on a simulated printer, as a picture", "hand_over_commands"),
    "open": ("open the window, with photos", "window_commands"),
    "edit": ("open the window on a file, and send the result back", "window_commands"),
    "demo": ("write the demo's photos and print settings to a folder", "window_commands"),
    "completion": ("let a shell complete commands and options", "helping"),
}
"""Each command, what it does, and the module that declares its options when it is called."""


def main(arguments: list[str] | None = None) -> int:
    """Run one command.

    Returns
    -------
    int
        0; 2 for a wrong request; 1 when it could not be done; 130 when interrupted.
    """
    if "_ARGCOMPLETE" in os.environ and arguments is None:
        complete(program_parser)
    _take_any_name()
    hush_libraries()
    if arguments is None:
        signal.signal(signal.SIGTERM, _end)
    try:
        options = program_parser().parse_args(arguments)
        with quieted(options.quiet):
            return int(options.run(options))
    except BadRequest as why:
        return _say(why, 2)
    except (Cancelled, KeyboardInterrupt):
        return _say("Stopped; nothing was written.", 130)
    except ZincError as why:
        return _say(why, 1)
    except BrokenPipeError:
        sys.stderr.close()
        return 1
    except MemoryError:
        return _say("There is not enough memory for this; nothing was written.", 1)
    except Exception as why:
        return _say(log.record(why), 1)


def _end(number: int, frame: object) -> None:
    """End as an interrupt does: what is half-written goes, and a sentence says so."""
    raise KeyboardInterrupt


def _take_any_name() -> None:
    """Print names that are no UTF-8 as the bytes that they are, as other commands do."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="surrogateescape")


def _say(sentence: object, code: int) -> int:
    print(f"zinc-margin: {sentence}", file=sys.stderr)
    return code


def program_parser() -> Parser:
    """Return the parser of the whole program; a command's options are declared when it is used."""
    parser = Parser(
        prog="zinc-margin",
        description="From a finished photo to a file that prints exactly as meant.",
    )
    parser.add_argument(
        "--version",
        action="version",
        version=f"zinc-margin {__version__}",
        help="show the version",
    )
    commands = parser.add_subparsers(
        required=True, metavar="COMMAND", parser_class=Parser, title="commands"
    )
    for name, (text, module) in _COMMANDS.items():
        commands.add_parser(name, help=text, later=_declaring(name, module))
    return parser


def _declaring(name: str, module: str) -> Callable[[Parser], None]:
    def declare(parser: Parser) -> None:
        from zinc_margin.handoff.complete import check_complete

        check_complete()
        commands = import_module(f"zinc_margin.commands.{module}")
        getattr(commands, f"declare_{name.replace('-', '_')}")(parser)
        parser.add_argument(
            "--quiet", action="store_true", help="print nothing but what went wrong"
        )

    return declare
