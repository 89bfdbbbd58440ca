"""The command `make`: one file, or several for a picture in pieces."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from zinc_margin.commands.as_json import plan_report, print_json
from zinc_margin.commands.decisions import checked_plan, docket_of, with_subject
from zinc_margin.commands.decisions import declare as declare_decisions
from zinc_margin.commands.interrupts import interruptible
from zinc_margin.commands.units import units_of
from zinc_margin.docket import store
from zinc_margin.docket.docket import Docket
from zinc_margin.gate.documents import DOCKET_MARKS
from zinc_margin.handoff.machine import this_machine
from zinc_margin.handoff.names import check_goal, format_of, same_file
from zinc_margin.handoff.pace import predict
from zinc_margin.keeping.files import check_ours
from zinc_margin.keeping.partials import sweep
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest
from zinc_margin.photo.header import read_header
from zinc_margin.pixels import loop_cache
from zinc_margin.plan.build import plan as make_plan
from zinc_margin.plan.model import plan_of_file
from zinc_margin.plan.text.lines import summary


def declare_make(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `make`."""
    declare_decisions(parser)
    parser.add_argument(
        "--out",
        metavar="FILE",
        required=True,
        help="file to write (.tif, .jpg, .png, .pdf …), or a folder DIR/",
    )
    parser.add_argument(
        "--overwrite", action="store_true", help="replace FILE if it exists (never the photo)"
    )
    parser.set_defaults(run=run)


def run(options: argparse.Namespace) -> int:
    """Make the file or files."""
    from zinc_margin.handoff.delivery import deliver, in_folder, ready

    for sentence in loop_cache.TROUBLE:
        print(f"zinc-margin: {sentence}", file=sys.stderr)
    if loop_cache.is_awaited():
        print(f"{loop_cache.PREPARING} …", file=sys.stderr)
    from zinc_margin.photo.pixels import read_photo

    sweep()
    out = Path(options.out)
    folder = out.is_dir() or options.out.endswith("/")
    if options.pieces and not folder and out.suffix.lower() != ".pdf":
        raise BadRequest(
            f"Pieces are several files. Type {out.with_suffix('')}/ for a folder, or "
            f"{out.with_suffix('.pdf')} for pages of one PDF."
        )
    if not folder and not out.suffix:
        raise BadRequest(
            f"“{out.name}” has no suffix. Type .tif, .jpg or another one after it, or {out}/ for a "
            "folder."
        )
    if not folder:
        named = format_of(out)
        if options.format not in (None, named):
            raise BadRequest(
                f"{out.name} does not have a suffix for {options.format.upper()}. Change one of "
                "them."
            )
        options.format = named
    docket = docket_of(options)
    header = read_header(options.photo, docket.photo.page)
    if not folder:
        check_goal(header.facts.path, out, options.overwrite)
    checked_plan(header.facts, docket, options)  # refuse before any pixel is read
    docket_goal(options)
    photo = read_photo(options.photo, page=header.facts.page)
    photo = with_subject(photo, options)
    plan = make_plan(photo.facts, docket, this_machine())
    expected = predict(plan)
    with interruptible() as job:
        if folder and plan.pieces is None:
            ready(out)
        goal = in_folder(header.facts.path, plan, out) if folder else out
        result = deliver(photo, plan, goal, options.overwrite, job)
    save_docket(options, store.with_measured(docket, photo.facts))
    for each in result:
        if each.remark:
            print(f"zinc-margin: {each.remark}", file=sys.stderr)
    text = plan if plan.pieces is not None else plan_of_file(result[0].plan)
    if options.json:
        report = plan_report(photo.facts, text)
        report["file"]["seconds_estimate"] = expected
        files = [
            {"path": str(each.path), "bytes": each.bytes, "seconds": each.seconds}
            for each in result
        ]
        report["written"] = files[0] if plan.pieces is None else files
        print_json(report)
        return 0
    print(summary(photo.facts, text, units_of(options)))
    for each in result:
        print(
            f"Written: {each.path}, {words.size_in_bytes(each.bytes)}, in "
            f"{words.seconds(each.seconds)}."
        )
    return 0


def save_docket(options: argparse.Namespace, docket: Docket) -> None:
    """Write the docket to its requested path."""
    path = docket_goal(options)
    if path is not None:
        store.save(docket, path)


def docket_goal(options: argparse.Namespace) -> Path | None:
    """Return the docket's path, after checking that nothing would be overwritten."""
    if not options.save_docket:
        return None
    path = Path(options.save_docket)
    if same_file(path, Path(options.photo)):
        raise BadRequest(
            "--save-docket names the photo itself, which is never overwritten. Choose another name."
        )
    check_ours(path, *DOCKET_MARKS)
    return path
