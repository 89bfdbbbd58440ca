"""The program `zinc-margin`: its commands and exit codes."""

from __future__ import annotations

import os
import sys
from collections.abc import Callable
from importlib import import_module

from zinc_margin import __version__
from zinc_margin.commands import terminal
from zinc_margin.commands.help_text import Parser, complete
from zinc_margin.commands.interrupts import end_on_signals, hush_libraries, quiet_output
from zinc_margin.keeping import log
from zinc_margin.keeping.folders import protect_own_folders
from zinc_margin.measure.errors import BadRequest, Cancelled, ZincError
from zinc_margin.measure.tables import table

_COMMANDS = table("commands")["commands"]
"""Each command with its purpose and the module that declares its options."""


def main(arguments: list[str] | None = None) -> int:
    """Run one command; return 0 or the exit code of the error (`measure.errors`)."""
    if "_ARGCOMPLETE" in os.environ and arguments is None:
        complete(program_parser)
    hush_libraries()
    terminal.prepare()
    protect_own_folders()
    if arguments is None:
        end_on_signals(_end)
    try:
        options = program_parser().parse_args(arguments)
        if getattr(options, "out", None) == "":
            raise BadRequest("--out is empty. Type a file, or ./ for this folder.")
        with quiet_output(options.quiet):
            return int(options.run(options))
    except KeyboardInterrupt:
        return _say(Cancelled(), Cancelled.code)
    except ZincError as why:
        return _say(why, why.code)
    except BrokenPipeError:
        sys.stderr.close()
        return 1
    except MemoryError:
        return _say(
            ("The memory ran out; nothing was written. Close other programs and try again."), 1
        )
    except Exception as why:
        return _say(log.record(why), 1)


def _end() -> None:
    """End as after an interrupt: remove partial files and print a sentence."""
    raise KeyboardInterrupt


def _say(sentence: object, code: int) -> int:
    print(f"zinc-margin: {sentence}", file=sys.stderr)
    return code


def program_parser() -> Parser:
    """Return the parser of the whole program; a command's options are declared on use."""
    parser = Parser(
        prog="zinc-margin",
        description="Turns a finished photo into a file that prints exactly as intended.",
    )
    parser.add_argument(
        "--version", action="version", version=f"zinc-margin {__version__}", help="show the version"
    )
    commands = parser.add_subparsers(
        required=True, metavar="COMMAND", parser_class=Parser, title="commands"
    )
    for name, one in _COMMANDS.items():
        commands.add_parser(name, help=one["help"], later=_declaring(name, one["module"]))
    return parser


def _declaring(name: str, module: str) -> Callable[[Parser], None]:
    def declare(parser: Parser) -> None:
        from zinc_margin.handoff.complete import check_complete

        check_complete()
        commands = import_module(f"zinc_margin.commands.{module}")
        getattr(commands, f"declare_{name.replace('-', '_')}")(parser)
        parser.add_argument("--quiet", action="store_true", help="print only errors")

    return declare
