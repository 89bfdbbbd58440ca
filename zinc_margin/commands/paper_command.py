"""The command `measure-paper`: a page to print, and what its scan tells."""

from __future__ import annotations

import argparse
from pathlib import Path

from zinc_margin.commands.sizes_commands import print_json
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.resolution import parse_ppi
from zinc_margin.measure.sizes import parse_size


def declare_measure_paper(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `measure-paper`."""
    add = parser.add_argument
    add("scan", metavar="SCAN", nargs="?", help="scan of the printed page, with a metal edge on it")
    add("--page", metavar="FILE", help="page to write and print (.tif, .png)")
    add("--sheet", metavar="SIZE", default="A4", help="size of the page; A4")
    add("--ppi", metavar="N", default="360", help="the printer's own resolution; 360")
    add("--keep", metavar="NAME", help="keep the measured paper as your own")
    add("--json", action="store_true", help="print one JSON object")
    parser.set_defaults(run=run)


def run(options: argparse.Namespace) -> int:
    """Write the page, or measure its scan."""
    from zinc_margin.handoff.paper_files import keep_paper, read_scan, told, write_page

    if (options.scan is None) == (options.page is None):
        raise BadRequest("Give --page FILE to write the page, or the SCAN of it to measure.")
    ppi = float(parse_ppi(options.ppi))
    if options.page is not None:
        out = write_page(Path(options.page), parse_size(options.sheet), ppi)
        print(
            f"Written: {out}. Print it at 100 % on the paper, let it dry, lay a metal ruler's edge "
            "across its box, and scan it in grey at 600 ppi or more without corrections."
        )
        return 0
    blur = read_scan(Path(options.scan), ppi)
    kept = keep_paper(options.keep, blur) if options.keep else None
    if options.json:
        print_json(
            {
                "schema": 1,
                "sigma_mm": blur.sigma_mm,
                "spread": blur.spread,
                "confidence": blur.confidence,
                "scan_ppi": blur.scan_ppi,
                "too_fine": blur.too_fine,
                "kept": kept.name if kept else None,
            }
        )
    else:
        print(told(blur) + (f" Kept as “{kept.name}”." if kept else ""))
    return 1 if blur.too_fine else 0
