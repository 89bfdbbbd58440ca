"""The test strip on the command line."""

from __future__ import annotations

import argparse
from fractions import Fraction
from pathlib import Path

from zinc_margin.commands.as_json import print_json
from zinc_margin.commands.decisions import declare as declare_decisions
from zinc_margin.commands.decisions import docket_of, numbers, with_subject
from zinc_margin.commands.interrupts import interruptible
from zinc_margin.docket import store
from zinc_margin.docket.docket import check_value
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.papers import find_paper
from zinc_margin.measure.resolution import parse_ppi
from zinc_margin.measure.sizes import parse_size


def declare_strip(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `strip`."""
    add = parser.add_argument
    declare_decisions(parser)
    add("--strengths", metavar="N,N,…", help="strengths in percent; 50,75,100,125,150")
    add("--papers", metavar="P,P,…", help="compare papers instead")
    add("--at", metavar="X,Y", action="append", help="place on the print, 0 to 1 each; up to three")
    add("--strip-sheet", metavar="SIZE", default="A5", help="sheet of the strip; A5")
    add("--out", metavar="FILE", required=True, help="file to write (.pdf, .tif, .png)")
    parser.set_defaults(run=_strip)


def _strip(options: argparse.Namespace) -> int:
    docket = docket_of(options)
    from zinc_margin.handoff.machine import this_machine
    from zinc_margin.handoff.strip_files import write_strip
    from zinc_margin.photo.pixels import read_photo
    from zinc_margin.plan.build import plan as make_plan
    from zinc_margin.plan.sharpen.strip import MOST_PLACES, lay_out, places_to_test

    if options.strengths and options.papers:
        raise BadRequest("--strengths and --papers cannot be combined. Use only one of them.")
    photo = read_photo(options.photo, page=docket.photo.page)
    photo = with_subject(photo, options)
    docket = store.with_measured(docket, photo.facts)
    places = [
        (float(x), float(y))
        for x, y in (numbers(typed, 2, "--at", "0.4,0.6") for typed in options.at or [])
    ]
    if len(places) > MOST_PLACES or any(not 0 <= part <= 1 for place in places for part in place):
        raise BadRequest("--at needs one to three places, each with two numbers from 0 to 1.")
    count = len((options.strengths or "").split(","))
    strengths: list[Fraction] = (
        numbers(options.strengths, count, "--strengths", "50,100,150") if options.strengths else []
    )
    for strength in strengths:
        check_value("sharpen", "strength", str(strength))
    papers = [find_paper(name).name for name in (options.papers or "").split(",") if name]
    plan = make_plan(photo.facts, docket, this_machine())
    laid = lay_out(
        plan, parse_size(options.strip_sheet), places_to_test(plan, places), strengths, papers
    )
    with interruptible() as job:
        out = write_strip(Path(options.out), photo, laid, False, job)
    if options.json:
        print_json({"file": str(out), "title": laid.title, "labels": list(laid.labels)})
        return 0
    print(f"{laid.title}\n{', '.join(laid.labels)}\nWritten: {out}")
    return 0


def declare_measure_paper(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `measure-paper`."""
    add = parser.add_argument
    add("scan", metavar="SCAN", nargs="?", help="scan of the printed page, with a metal edge on it")
    add("--page", metavar="FILE", help="page to write and print (.tif, .png)")
    add("--sheet", metavar="SIZE", default="A4", help="size of the page; A4")
    add("--ppi", metavar="N", default="360", help="the printer's native resolution; 360")
    add("--keep", metavar="NAME", help="save the measured paper under NAME")
    add("--json", action="store_true", help="print one JSON object")
    parser.set_defaults(run=run)


def run(options: argparse.Namespace) -> int:
    """Write the test page, or measure its scan."""
    from zinc_margin.handoff.paper_files import blur_sentence, keep_paper, read_scan, write_page

    if (options.scan is None) == (options.page is None):
        raise BadRequest("Use --page FILE to write the page, or give a SCAN of it to measure.")
    ppi = float(parse_ppi(options.ppi))
    if options.page is not None:
        out = write_page(Path(options.page), parse_size(options.sheet), ppi)
        print(
            f"Written: {out}. Print it at 100 % on the paper, let it dry, place a metal "
            "ruler's edge across its box, and scan it in grey at 600 ppi or more without "
            "corrections."
        )
        return 0
    blur = read_scan(Path(options.scan), ppi)
    kept = keep_paper(options.keep, blur) if options.keep else None
    if options.json:
        print_json(
            {
                "sigma_mm": blur.sigma_mm,
                "spread": blur.spread,
                "confidence": blur.confidence,
                "scan_ppi": blur.scan_ppi,
                "too_fine": blur.too_fine,
                "kept": kept.name if kept else None,
            }
        )
    else:
        print(blur_sentence(blur) + (f" Saved as “{kept.name}”." if kept else ""))
    return 1 if blur.too_fine else 0
