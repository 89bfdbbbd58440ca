"""The program `zinc-margin`: its commands and how they end."""

from __future__ import annotations

import argparse
import io
import os
import signal
import sys
from fractions import Fraction
from pathlib import Path

from zinc_margin import __version__
from zinc_margin.commands import (
    batch_commands,
    hand_over_commands,
    helping,
    make_command,
    paper_command,
    sizes_commands,
    strip_command,
    together_command,
    units,
    window_commands,
)
from zinc_margin.commands.as_json import plan_report, reach_report
from zinc_margin.commands.decisions import checked_plan, declare, docket_of, with_subject
from zinc_margin.commands.helping import Parser, complete, every_parser
from zinc_margin.commands.running import hush_libraries, progress_line, quieted
from zinc_margin.commands.sizes_commands import print_json
from zinc_margin.commands.units import units_of
from zinc_margin.docket import store
from zinc_margin.handoff.complete import check_complete
from zinc_margin.handoff.pace import predicted, repair_seconds
from zinc_margin.measure import words
from zinc_margin.measure.distances import parse_distance
from zinc_margin.measure.errors import BadRequest, Cancelled, ZincError
from zinc_margin.measure.resolution import parse_ppi
from zinc_margin.photo.header import read_header
from zinc_margin.plan.size.distance import needed_ppi
from zinc_margin.plan.size.reach import reach
from zinc_margin.plan.text.lines import summary
from zinc_margin.plan.text.repair_words import repair_reason


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
        check_complete()
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
        return _say(f"Something went wrong that should not ({type(why).__name__}: {why}).", 1)


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
    """Return the parser of the whole program."""
    parser = Parser(
        prog="zinc-margin",
        description="From a finished photo to a file that prints exactly as meant.",
    )
    parser.add_argument(
        "--version", action="version", version=f"zinc-margin {__version__}",
        help="show the version",
    )  # fmt: skip
    commands = parser.add_subparsers(
        required=True, metavar="COMMAND", parser_class=Parser, title="commands"
    )

    one = commands.add_parser("reach", help="how large a photo goes")
    one.add_argument("photo", metavar="PHOTO", help="the finished photo")
    one.add_argument("--ppi", action="append", metavar="N", help="may be given several times")
    one.add_argument(
        "--distance", metavar="LENGTH", help="also what is enough from there, as near as it is seen"
    )
    one.add_argument("--json", action="store_true", help="print one JSON object")
    units.declare(one)
    one.set_defaults(run=_reach)

    two = commands.add_parser("plan", help="every number of a print, without making it")
    declare(two)
    two.set_defaults(run=_plan)

    make_command.declare(commands)
    sizes_commands.declare(commands)
    strip_command.declare(commands)
    paper_command.declare(commands)
    together_command.declare(commands)
    batch_commands.declare(commands)
    hand_over_commands.declare(commands)
    window_commands.declare(commands)

    four = commands.add_parser(
        "demo", help="write the demo's photos and print settings to a folder"
    )
    four.add_argument("folder", metavar="DIR", help="where they go")
    four.set_defaults(run=_demo)
    helping.declare(commands)
    for each in every_parser(parser)[1:]:
        each.add_argument("--quiet", action="store_true", help="print nothing but what went wrong")
    return parser


def _reach(options: argparse.Namespace) -> int:
    facts = read_header(options.photo).facts
    ppis = [parse_ppi(text) for text in options.ppi or ["300", "240", "180"]]
    if options.distance is not None:
        seen = parse_distance(options.distance, units_of(options))
        if seen is None:
            raise BadRequest("--distance wants a length, such as 2.2m.")
        enough = needed_ppi(float(seen.near_mm))
        ppis.append(Fraction(min(10_000.0, max(1.0, enough))))
    if options.json:
        print_json(reach_report(facts, ppis))
        return 0
    print(
        f"{facts.path.name}: {facts.width} × {facts.height} px, "
        f"{words.megapixels(facts.width, facts.height)}"
    )
    for ppi in ppis:
        width, height = reach(facts.width, facts.height, ppi)
        both = [words.pair(width, height, unit) for unit in ("cm", "in")]
        first, second = both if units_of(options) == "cm" else both[::-1]
        print(words.local(f"  at {words.ppi(ppi)} ppi  {first}  ({second})"))
    return 0


def _plan(options: argparse.Namespace) -> int:
    docket = docket_of(options)
    from zinc_margin.photo.pixels import read_photo

    facts = with_subject(read_photo(options.photo, page=docket.photo.page), options).facts
    plan = checked_plan(facts, docket, options)
    make_command.save_docket(options, store.with_measured(docket, facts))
    if options.json:
        report = plan_report(facts, plan)
        report["file"]["seconds_estimate"] = predicted(plan)
        print_json(report)
    else:
        print(summary(facts, plan, units_of(options)))
        print(f"Making it will take about {words.seconds(predicted(plan))}.")
        if plan.pixels.repair.any:
            print(repair_reason(plan, repair_seconds(plan)))
    return 0


def _demo(options: argparse.Namespace) -> int:
    from zinc_margin.demo.folder import write_demo

    for path in write_demo(Path(options.folder), progress_line()):
        print(path)
    return 0
