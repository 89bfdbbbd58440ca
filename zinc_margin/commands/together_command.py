"""The command `together`: several prints on a sheet, along a roll, or to a printer."""

from __future__ import annotations

import argparse
from fractions import Fraction
from pathlib import Path
from typing import TYPE_CHECKING

from zinc_margin.commands import units
from zinc_margin.commands.interrupts import interruptible
from zinc_margin.commands.print_commands import choice_of, declare_choice, print_page
from zinc_margin.docket import store
from zinc_margin.docket.docket import Docket
from zinc_margin.docket.finish_input import parse_grid
from zinc_margin.handoff.machine import this_machine
from zinc_margin.keeping.job import Job
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import nothing_or
from zinc_margin.measure.resolution import parse_ppi
from zinc_margin.measure.sheet_input import TypedSheet, parse_sheet, parse_typed_sheet
from zinc_margin.plan.finish.moving import paper_share
from zinc_margin.plan.finish.shared_sheet import Laying, Wanted, lay_out, sheets_of, wanted_print

if TYPE_CHECKING:
    from zinc_margin.photo.pixels import Photo
    from zinc_margin.plan.finish.shared_sheet import SharedSheet


def declare_together(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `together`."""
    add = parser.add_argument
    add(
        "photos",
        metavar="PHOTO",
        nargs="+",
        help="photos, with the print settings saved next to them",
    )
    add(
        "--prints",
        metavar="SENTENCE",
        action="append",
        default=[],
        help=(
            'for example "two 13x18, four 9x13, eight passport, on A4 sheets", for every photo; '
            "start with a photo's name and a colon for that photo only. By default one of each, "
            "at its own size"
        ),
    )
    add("--sheet", metavar="SIZE", help='sheet of paper, or a roll: A4, "61 cm roll"')
    add(
        "--grid",
        metavar="COLUMNSxROWS",
        help=("for example 4x5; by default every print has its own size"),
    )
    add("--border", metavar="LENGTH", default="10mm", help="border of the sheet; 10mm")
    add("--gap", metavar="LENGTH", default="5mm", help="gap between the prints; 5mm")
    add("--no-captions", action="store_true", help="no names below the prints")
    add("--no-turning", action="store_true", help="never rotate a print to save paper")
    add("--crop-marks", action="store_true", help="marks at the corners of every print")
    add("--ppi", metavar="N", default="300", help="resolution of the sheet; 300")
    add("--out", metavar="FILE", help="file to write (.tif, .jpg, .png, .pdf)")
    add("--overwrite", action="store_true", help="replace FILE if it exists")
    units.declare(parser)
    paper = parser.add_argument_group("print instead of writing a file")
    paper.add_argument("--on", dest="queue", metavar="PRINTER", help="printer of this system")
    declare_choice(paper)
    parser.set_defaults(run=run)


def run(options: argparse.Namespace) -> int:
    """Arrange the prints, and write or print the sheets."""
    from zinc_margin.photo.header import read_header
    from zinc_margin.photo.pixels import read_photo

    if (options.out is None) == (options.queue is None):
        raise BadRequest("Choose an output: --out FILE, or --on PRINTER.")
    unit = units.units_of(options)
    typed = [_sentence(text, options.photos, unit) for text in options.prints]
    laying = _laying(options, [each for _, each in typed], unit)
    facts = [read_header(path).facts for path in options.photos]
    dockets = [_docket(Path(path)) for path in options.photos]

    def asked() -> list[Wanted]:
        result = []
        for which, path in enumerate(options.photos):
            own = [each for of, each in typed if of == path] or [
                each for of, each in typed if of is None
            ]
            rows = [row for each in own for row in each.prints] or [(1, None)]
            for copies, size in rows:
                result.append(wanted_print(which, facts[which], dockets[which], size, copies))
        return result

    lay_out(asked(), laying)  # report an impossible layout before any pixel is read
    photos = [read_photo(path) for path in options.photos]
    facts = [photo.facts for photo in photos]
    prints = asked()
    places = lay_out(prints, laying)
    sheets = sheets_of(prints, laying, places)
    page = sheets[0].page
    noun = "sheet" if len(sheets) == 1 else "sheets"
    size = words.pair(page.width_mm, page.height_mm, unit)
    print(
        f"{sum(map(len, places))} prints on {len(sheets)} {noun} of {size}; prints cover "
        f"{words.share(paper_share(places, laying))} of the paper.",
        flush=True,
    )
    with interruptible() as job:
        if options.queue is not None:
            return _to_paper(photos, sheets, options, job)
        return _to_file(photos, sheets, options, job)


def _to_paper(
    photos: list[Photo], sheets: tuple[SharedSheet, ...], options: argparse.Namespace, job: Job
) -> int:
    from zinc_margin.handoff.queues import ask
    from zinc_margin.handoff.to_paper import sheets_to_print

    what = sheets_to_print(lambda: photos, sheets)
    return print_page(what, ask(options.queue), choice_of(options), options, job)


def _to_file(
    photos: list[Photo], sheets: tuple[SharedSheet, ...], options: argparse.Namespace, job: Job
) -> int:
    from zinc_margin.handoff.shared_files import make_together, note_prints

    out = Path(options.out)
    result = make_together(photos, sheets, out, options.overwrite, job)
    note_prints(sheets, out.name)
    for each in result:
        print(
            f"Written: {each.path}, {words.size_in_bytes(each.bytes)}, in "
            f"{words.seconds(each.seconds)}."
        )
    return 0


def _laying(options: argparse.Namespace, typed: list[TypedSheet], unit: str) -> Laying:
    if options.sheet is not None:
        sheet, roll = parse_sheet(options.sheet, unit)
    else:
        said = next((each for each in typed if each.sheet is not None), None)
        if said is None or said.sheet is None:
            raise BadRequest("Give the sheet: --sheet A4, or “… on A4” in --prints.")
        sheet, roll = said.sheet, said.roll
    return Laying(
        sheet,
        parse_grid(options.grid) if options.grid else None,
        nothing_or(options.border),
        nothing_or(options.gap),
        not options.no_captions,
        Fraction(parse_ppi(options.ppi)),
        this_machine(),
        roll,
        not options.no_turning,
        options.crop_marks,
    )


def _sentence(text: str, photos: list[str], unit: str) -> tuple[str | None, TypedSheet]:
    """Return the photo that a sentence names (None: every one), and its prints and sheet."""
    name, colon, rest = text.partition(":")
    if colon:
        of = next((path for path in photos if name.strip() in (path, Path(path).name)), None)
        if of is None:
            raise BadRequest(f"“{name.strip()}” is not one of the given photos.")
        return of, parse_typed_sheet(rest, unit)
    return None, parse_typed_sheet(text, unit)


def _docket(photo: Path) -> Docket:
    beside = store.beside(photo)
    return store.load(beside) if beside.exists() else Docket()
