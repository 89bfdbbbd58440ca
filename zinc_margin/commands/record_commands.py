"""The commands `made` and `log`: finished files, and recorded failures."""

from __future__ import annotations

import argparse
import time
from dataclasses import asdict, replace
from pathlib import Path

from zinc_margin.commands.as_json import print_json
from zinc_margin.commands.interrupts import interruptible
from zinc_margin.docket.docket import RENDERER
from zinc_margin.docket.document import from_json
from zinc_margin.handoff import print_log
from zinc_margin.handoff.machine import this_machine
from zinc_margin.keeping import log
from zinc_margin.measure.errors import BadRequest
from zinc_margin.photo.pixels import read_photo
from zinc_margin.photo.subject import with_mark
from zinc_margin.plan.build import plan as make_plan


def declare_made(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `made`."""
    add = parser.add_argument
    add(
        "text",
        metavar="TEXT",
        nargs="?",
        default="",
        help="in the name of photo or file, the size, the paper, the printer",
    )
    add("--again", type=int, metavar="NUMBER", help="make that print again, to --out")
    add("--out", metavar="FILE", help="file to write")
    add("--forget", action="store_true", help="clear the print log; files are kept")
    add("--json", action="store_true", help="print one JSON object")
    parser.set_defaults(run=_listing)


def _listing(options: argparse.Namespace) -> int:
    if options.forget:
        count = print_log.forget()
        print(
            f"The print log is cleared: {count} print{'' if count == 1 else 's'}. The files are "
            "kept."
        )
        return 0
    if options.again is not None:
        return _again(options)
    rows = print_log.search(options.text)
    if options.json:
        print_json(
            {
                "made": [
                    {name: value for name, value in vars(one).items() if name != "docket"}
                    for one in rows
                ],
            }
        )
        return 0
    for one in rows:
        when = time.strftime("%Y-%m-%d %H:%M", time.localtime(one.made))
        goal = one.file or f"printed on {one.sent_to}"
        print(
            f"{one.number:5}  {when}  {Path(one.photo).name:24}  {one.size:16}  "
            f"{one.paper:10}  {goal}"
        )
    if not rows:
        print("The print log is empty." if not options.text else f"Nothing fits “{options.text}”.")
    return 0


def _again(options: argparse.Namespace) -> int:
    from zinc_margin.handoff.delivery import deliver

    if options.out is None:
        raise BadRequest("--again needs --out FILE; the earlier file is not replaced.")
    one = print_log.find(options.again)
    docket = replace(from_json(one.docket), renderer=RENDERER)
    photo = read_photo(one.photo, page=docket.photo.page)
    facts = with_mark(photo.facts)
    plan = make_plan(facts, docket, this_machine())
    with interruptible() as job:
        (first, *_) = deliver(replace(photo, facts=facts), plan, Path(options.out), False, job)
    if one.digest and print_log.file_digest(first.path) == one.digest:
        print(f"Written: {first.path}, identical to the earlier file.")
    elif one.digest:
        why = print_log.why_other(one, facts.digest, RENDERER)
        print(f"Written: {first.path}. It differs from the earlier file: {why}.")
    else:
        lay = "It was printed directly, or on a sheet with others"
        print(f"Written: {first.path}. {lay}, so there is no earlier file to compare.")
    return 0


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
        print_json({"failures": [asdict(entry) for entry in shown]})
        return 0
    for entry in shown:
        print(log.entry_text(entry))
    if len(found) > len(shown):
        print(f"{len(found) - len(shown)} earlier failures are not shown. See them with --every.")
    if not found:
        print("No failure has been recorded.")
    return 0
