"""Line 6: the sheet, with paper and margins, words and lines, canvas sides and pieces."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Any, ClassVar

from zinc_margin.docket.fields import (
    SIZE,
    SWITCH,
    Kind,
    Line,
    Option,
    held,
    length,
    number,
    said,
    text,
)
from zinc_margin.docket.photo import TONE
from zinc_margin.gate import values
from zinc_margin.gate.values import Wrong
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import LONGEST_MM, nothing_or
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.tones import EDGE, WHITE, parse_tone, parse_tone_or_edge


@dataclass(frozen=True)
class Margins:
    """Free paper on the four sides of a sheet, in mm."""

    top: Fraction
    right: Fraction
    bottom: Fraction
    left: Fraction


def _margins(value: Mapping[str, Any]) -> Margins:
    read = values.number(0, LONGEST_MM)
    return Margins(*(read(value.get(key)) for key in ("top", "right", "bottom", "left")))


def parse_margins(text: str, default_unit: str = "mm") -> Margins:
    """Read one margin for all sides or four (top, right, bottom, left), with a common last unit.

    Parameters
    ----------
    text : str
        ``20mm`` or ``20,20,30,20mm``.
    default_unit : str
        For numbers without a unit.
    """
    parts = [part.strip() for part in text.split(",")]
    if len(parts) not in (1, 4) or not all(parts):
        raise BadRequest(f"“{text}” is not a border. Type one width, 20mm, or four, 20,20,30,20mm.")
    unit = re.search(r"[a-z\"′″']+$", parts[-1].lower())
    read = [nothing_or(p, unit[0] if unit else default_unit) for p in parts]
    return Margins(*(read if len(read) == 4 else read * 4))


def _tone_or_edge(value: Any) -> str:
    if value == EDGE:
        return EDGE
    try:
        return parse_tone(values.text_from(value))
    except BadRequest as why:
        raise Wrong(f"must be a colour: {why}") from None


_MARGINS = held(Margins, _margins, "top, right, bottom and left")
_SIDES_TONE = Kind(_tone_or_edge, "a colour, or `edge`", typed=parse_tone_or_edge, metavar="TONE")
_SHARE = number(0, 1)


@dataclass(frozen=True)
class FinishLine(Line):
    """Line 6 of a docket."""

    title: ClassVar[str] = "Finish"
    sheet: PrintSize | None = said(
        SIZE, "sheet of paper", nothing="as large as the print and its surroundings"
    )
    turned: bool = said(
        SWITCH, "rotate the sheet by 90°", False, option=Option("sheet-across", sets=True)
    )
    margins: Margins | None = said(
        _MARGINS,
        "margins of the sheet, top, right, bottom, left: 20,20,30,20mm",
        nothing="as marks and captions require",
        option=Option("margins", metavar="T,R,B,L", typed=parse_margins),
    )
    scales: bool = said(SWITCH, "fit the picture to the space inside the margins", False)
    place_x: Fraction = said(
        _SHARE, "position of a smaller picture on its sheet across, 0 (left) to 1", Fraction(1, 2)
    )
    place_y: Fraction = said(_SHARE, "position down, 0 (top) to 1", Fraction(1, 2))
    tone: str = said(TONE, "colour of the paper: white, ivory, #f4efe4", WHITE, option="paper-tone")
    caption: str | None = said(
        text(),
        "caption below the picture; {title}, {date}, {name} … are filled in",
        nothing="none",
        option="caption",
    )
    footer: str | None = said(
        text(),
        "footer of the sheet; fields are filled in as in a caption",
        nothing="none",
        option="footer",
    )
    edition: str | None = said(
        text(), "text for {edition}: 3/25", nothing="nothing", option="edition"
    )
    caption_mm: Fraction | None = said(
        length(none=False),
        "height of the caption",
        nothing="in proportion to the print",
        option="caption-height",
    )
    line_mm: Fraction = said(length(100), "width of a line around the picture", Fraction(0))
    line_gap_mm: Fraction = said(
        length(1000), "distance of that line from the picture", Fraction(0)
    )
    line_tone: str = said(TONE, "colour of that line", "#1a1a1a")
    marks: bool = said(
        SWITCH, "crop marks", False, key="crop_marks", option=Option("crop-marks", sets=True)
    )
    bleed_mm: Fraction = said(
        length(100), "bleed: picture beyond the cut, mirrored", Fraction(0), option="bleed"
    )
    make_up: bool = said(
        SWITCH,
        "add picture to compensate for a borderless driver's overspill",
        False,
        option=Option("make-up", sets=True),
    )
    wrap_mm: Fraction | None = said(
        length(500), "bar depth of a stretched canvas; 0: no canvas sides", nothing="the maker's"
    )
    tuck_mm: Fraction | None = said(
        length(500),
        "canvas folded to the back",
        nothing="the maker's, together with its bars",
        key="fold_mm",
    )
    wrap_strip_mm: Fraction | None = said(
        length(none=False),
        "strip along the picture's edge that is mirrored onto a side",
        nothing="as wide as the side",
        option="wrap-strip",
    )
    wrap_soften_mm: Fraction = said(
        length(500), "softening at the outer edge of a side", Fraction(0), option="wrap-soften"
    )
    wrap_tone: str | None = said(
        _SIDES_TONE,
        "plain colour of the sides: #222, or edge (the mean of the edge)",
        nothing="mirror the picture onto the sides",
        option="wrap-tone",
    )
    wrap_own: bool = said(
        SWITCH,
        "extend the picture's own edge onto the sides",
        False,
        option=Option("wrap-own", sets=True),
    )
    fold_marks: bool = said(
        SWITCH, "fold marks for a canvas", False, option=Option("fold-marks", sets=True)
    )
    staple_mm: Fraction = said(
        length(500), "plain canvas for staples beyond the sides", Fraction(0), option="staple"
    )
    pieces: PrintSize | None = said(
        SIZE,
        "sheet size when the print is made in pieces",
        nothing=("in one piece, unless `roll_mm` is set"),
    )
    roll_mm: Fraction | None = said(
        length(none=False), "roll width when the print is made in pieces", nothing="no roll"
    )
    edge_mm: Fraction | None = said(
        length(500),
        "unprintable edge of each piece",
        nothing="the device's",
        key="unprintable_mm",
        option="unprintable-edge",
    )
    printer: str | None = said(
        text(),
        "printer of this system whose reported unprintable edges apply",
        nothing="the device's usual edges",
        option="edges-of",
    )
    join_mm: Fraction = said(length(1000), "overlap of the pieces", Fraction(10), option="join")
