"""What the command line takes for the sheet: borders, words, canvas sides, pieces."""

from __future__ import annotations

import argparse
from typing import Any

from zinc_margin.docket.docket import Margins
from zinc_margin.docket.store import checked
from zinc_margin.docket.typed import (
    nothing_or,
    parse_key_line,
    parse_margins,
    parse_pieces,
    parse_wrap,
    parse_wrap_tone,
)
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import parse_number
from zinc_margin.measure.sizes import parse_size
from zinc_margin.measure.tones import parse_tone


def declare(parser: argparse.ArgumentParser) -> None:
    """Declare the options of the Finish line."""
    add = parser.add_argument
    add("--sheet", metavar="SIZE", help="the paper; without --size the picture takes its size")
    add("--sheet-across", action="store_true", help="the sheet lies the other way")
    add("--border", metavar="LENGTH", help="even, on the --sheet; or the least with --fit border")
    add("--margins", metavar="T,R,B,L", help="of the paper: 20,20,30,20mm")
    add("--place-on-sheet", metavar="X,Y", help="where a smaller picture lies, 0 to 1 each")
    add("--paper-tone", metavar="TONE", help="of the sheet: white, ivory, #f4efe4")
    add("--caption", metavar="TEXT", help="under the picture; {title}, {date}, {name} … are filled")
    add("--foot", metavar="TEXT", help="a small line at the sheet's foot, likewise")
    add("--edition", metavar="TEXT", help="what {edition} stands for: 3/25")
    add("--caption-height", metavar="LENGTH", help="of the caption's line")
    add(
        "--key-line",
        metavar="LENGTH[,TONE[,GAP]]",
        help="a line round the picture: 0.3mm,black,2mm",
    )
    add("--crop-marks", action="store_true")
    add("--bleed", metavar="LENGTH", help="picture beyond the cut, mirrored")
    add("--make-up", action="store_true", help="add what a borderless driver's overspill takes")
    add("--wrap", metavar="DEPTH+TUCK", help="a canvas's sides: 32mm+14mm")
    add("--wrap-strip", metavar="LENGTH", help="the strip that feeds a side; else a plain mirror")
    add("--wrap-soften", metavar="LENGTH", help="softening at a side's outer edge")
    add("--wrap-tone", metavar="TONE", help="laid over the sides: #222, or edge: the edge's mean")
    add("--wrap-tone-strength", metavar="N", help="of that tone, percent")
    add("--wrap-own", action="store_true", help="the picture's own edge is the side")
    add("--fold-marks", action="store_true")
    add("--staple", metavar="LENGTH", help="plain material beyond the sides")
    add("--pieces", metavar="SIZE", help="sheets to spread it over: A3, or 91cm-roll")
    add("--edge", metavar="LENGTH", help="what cannot be printed along a piece's edges")
    add("--join", metavar="LENGTH", help="by how much pieces overlap; 10 mm")
    add("--pdf-jpeg", action="store_true", help="a PDF's pictures as JPEG of --quality")
    add("--slip", action="store_true", help="write a hand-over slip beside the file")


_LENGTHS = {
    "bleed": "bleed_mm", "caption_height": "caption_mm", "wrap_strip": "wrap_strip_mm",
    "wrap_soften": "wrap_soften_mm", "staple": "staple_mm", "edge": "edge_mm", "join": "join_mm",
}  # fmt: skip
_SWITCHES = {
    "sheet_across": "turned", "crop_marks": "marks", "make_up": "make_up", "wrap_own": "wrap_own",
    "fold_marks": "fold_marks",
}  # fmt: skip


def decided(options: argparse.Namespace, sized: bool) -> dict[str, Any]:
    """Return the fields of the Finish line that the options give.

    Parameters
    ----------
    sized : bool
        Whether a size is asked for besides: the picture then keeps it on its sheet.

    Raises
    ------
    BadRequest
    """
    found: dict[str, Any] = {}
    if options.sheet is not None:
        found |= {"sheet": parse_size(options.sheet), "scales": not sized}
    if options.margins is not None:
        found["margins"] = parse_margins(options.margins)
    if options.border is not None and options.sheet is not None:
        even = nothing_or(options.border)
        found["margins"] = Margins(even, even, even, even)
    for option, field in _LENGTHS.items():
        typed = getattr(options, option)
        if typed is not None:
            found[field] = checked("finish", field, str(nothing_or(typed)))
    for option, field in _SWITCHES.items():
        if getattr(options, option):
            found[field] = True
    for option in ("caption", "foot", "edition"):
        typed = getattr(options, option)
        if typed is not None:
            found[option] = checked("finish", option, typed) if typed else None
    if options.place_on_sheet is not None:
        parts = options.place_on_sheet.split(",")
        if len(parts) != 2:
            raise BadRequest(f"--place-on-sheet {options.place_on_sheet}: type it like 0.5,0.4.")
        for field, part in zip(("place_x", "place_y"), parts, strict=True):
            found[field] = checked("finish", field, str(parse_number(part.strip())))
    if options.paper_tone is not None:
        found["tone"] = parse_tone(options.paper_tone)
    if options.key_line is not None:
        found |= parse_key_line(options.key_line)
    if options.wrap is not None:
        found |= parse_wrap(options.wrap)
    if options.wrap_tone is not None:
        found["wrap_tone"] = parse_wrap_tone(options.wrap_tone)
    if options.wrap_tone_strength is not None:
        much = parse_number(options.wrap_tone_strength.removesuffix("%"))
        found["wrap_strength"] = checked("finish", "wrap_strength", str(much))
    if options.pieces is not None:
        found |= parse_pieces(options.pieces)
    return found
