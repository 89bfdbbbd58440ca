"""The command `together`: several photos on one sheet."""

from __future__ import annotations

import argparse
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

from zinc_margin.commands.running import interruptible, progress_line
from zinc_margin.docket import store
from zinc_margin.docket.docket import Docket
from zinc_margin.docket.typed import parse_grid
from zinc_margin.measure import words
from zinc_margin.measure.lengths import nothing_or
from zinc_margin.measure.resolution import parse_ppi
from zinc_margin.measure.sizes import parse_size
from zinc_margin.pixels.ability import this_machine
from zinc_margin.plan.finish.shared import Laying, together


def declare_together(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `together`."""
    add = parser.add_argument
    add(
        "photos",
        metavar="PHOTO",
        nargs="+",
        help="photos, with the print settings saved beside them",
    )
    add("--sheet", metavar="SIZE", required=True, help="sheet of paper")
    add("--grid", metavar="COLUMNSxROWS", help="such as 4x5; else every print has its own size")
    add("--each", metavar="SIZE", help="size of every print")
    add("--border", metavar="LENGTH", default="10mm", help="border of the sheet; 10mm")
    add("--gap", metavar="LENGTH", default="5mm", help="gap between the prints; 5mm")
    add("--no-captions", action="store_true", help="no names under the prints")
    add("--ppi", metavar="N", default="300", help="resolution of the sheet; 300")
    add("--out", metavar="FILE", required=True, help="file to write (.tif, .jpg, .png, .pdf)")
    add("--overwrite", action="store_true", help="replace FILE if it exists")
    parser.set_defaults(run=run)


def run(options: argparse.Namespace) -> int:
    """Lay the photos out, and write the sheets."""
    from zinc_margin.handoff.shared_files import make_together
    from zinc_margin.photo.pixels import read_photo

    wish = Laying(
        parse_size(options.sheet), parse_grid(options.grid) if options.grid else None,
        nothing_or(options.border), nothing_or(options.gap), not options.no_captions,
        Fraction(parse_ppi(options.ppi)), this_machine(),
    )  # fmt: skip
    photos = [read_photo(path) for path in options.photos]
    dockets = [_docket(Path(path), options.each) for path in options.photos]
    pages = together(
        [(photo.facts, docket) for photo, docket in zip(photos, dockets, strict=True)], wish
    )
    with interruptible() as cancel:
        result = make_together(
            photos, pages, Path(options.out), options.overwrite, progress_line(), cancel
        )
    for each in result:
        print(
            f"Written: {each.path}, {words.size_in_bytes(each.bytes)}, in "
            f"{words.seconds(each.seconds)}."
        )
    return 0


def _docket(photo: Path, each: str | None) -> Docket:
    beside = store.beside(photo)
    docket = store.load(beside) if beside.exists() else Docket()
    if each is not None:
        size = replace(docket.size, size=parse_size(each), way=None)
        docket = replace(docket, size=size, crop=replace(docket.crop, frame=None))
    return docket
