"""Line 6: the sheet: paper and margins, words and lines, canvas sides, pieces."""

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
    Option,
    held,
    length,
    number,
    said,
    text,
)
from zinc_margin.docket.line import Line
from zinc_margin.docket.photo import TONE
from zinc_margin.measure import plain
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import LONGEST_MM, nothing_or
from zinc_margin.measure.plain import Wrong
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.tones import EDGE, WHITE, parse_tone, parse_tone_or_edge


@dataclass(frozen=True)
class Margins:
    """Paper left free on the four sides of a sheet, in mm."""

    top: Fraction
    right: Fraction
    bottom: Fraction
    left: Fraction


def _margins(value: Mapping[str, Any]) -> Margins:
    read = plain.number(0, LONGEST_MM)
    return Margins(*(read(value.get(key)) for key in ("top", "right", "bottom", "left")))


def parse_margins(text: str, default_unit: str = "mm") -> Margins:
    """Read one margin for all sides, or four: top, right, bottom, left; the last unit is theirs.

    Parameters
    ----------
    text : str
        ``20mm`` or ``20,20,30,20mm``.
    default_unit : str
        Of bare numbers.

    Raises
    ------
    BadRequest
    """
    parts = [part.strip() for part in text.split(",")]
    if len(parts) not in (1, 4) or not all(parts):
        raise BadRequest(f"“{text}” is no border; type one, 20mm, or four, 20,20,30,20mm.")
    unit = re.search(r"[a-z\"′″']+$", parts[-1].lower())
    read = [nothing_or(p, unit[0] if unit else default_unit) for p in parts]
    return Margins(*(read if len(read) == 4 else read * 4))


def _tone_or_edge(value: Any) -> str:
    if value == EDGE:
        return EDGE
    try:
        return parse_tone(plain.text_from(value))
    except BadRequest as why:
        raise Wrong(f"must be a tone: {why}") from None


_MARGINS = held(Margins, _margins, "top, right, bottom and left")
_SIDES_TONE = Kind(_tone_or_edge, "a tone, or `edge`", typed=parse_tone_or_edge, metavar="TONE")
_SHARE = number(0, 1)


@dataclass(frozen=True)
class FinishLine(Line):
    """Line 6 of a docket."""

    title: ClassVar[str] = "Finish"
    sheet: PrintSize | None = said(
        SIZE, "the paper", nothing="as large as the print with what lies round it"
    )
    turned: bool = said(
        SWITCH, "the sheet lies the other way", False, option=Option("sheet-across", sets=True)
    )
    margins: Margins | None = said(
        _MARGINS, "of the paper: 20,20,30,20mm", nothing="what marks and words need",
        option=Option("margins", metavar="T,R,B,L", typed=parse_margins),
    )  # fmt: skip
    scales: bool = said(SWITCH, "the picture takes the size that the sheet's margins leave", False)
    place_x: Fraction = said(
        _SHARE, "where a smaller picture lies in its room, across", Fraction(1, 2)
    )
    place_y: Fraction = said(_SHARE, "likewise down", Fraction(1, 2))
    tone: str = said(TONE, "of the sheet: white, ivory, #f4efe4", WHITE, option="paper-tone")
    caption: str | None = said(
        text(), "under the picture; {title}, {date}, {name} … are filled", nothing="none",
        option="caption",
    )  # fmt: skip
    footer: str | None = said(
        text(), "a small line at the sheet's foot, filled likewise", nothing="none", option="footer"
    )
    edition: str | None = said(
        text(), "what {edition} stands for: 3/25", nothing="nothing", option="edition"
    )
    caption_mm: Fraction | None = said(
        length(none=False), "height of the caption's line", nothing="by the print",
        option="caption-height",
    )  # fmt: skip
    line_mm: Fraction = said(length(100), "width of a line round the picture", Fraction(0))
    line_gap_mm: Fraction = said(length(1000), "how far from it that line lies", Fraction(0))
    line_tone: str = said(TONE, "of that line", "#1a1a1a")
    marks: bool = said(SWITCH, "crop marks", False, option=Option("crop-marks", sets=True))
    bleed_mm: Fraction = said(
        length(100), "picture beyond the cut, mirrored", Fraction(0), option="bleed"
    )
    make_up: bool = said(
        SWITCH, "add what a borderless driver's overspill takes", False,
        option=Option("make-up", sets=True),
    )  # fmt: skip
    wrap_mm: Fraction | None = said(
        length(500), "bar depth of a stretched canvas; 0: no sides", nothing="the maker's"
    )
    tuck_mm: Fraction | None = said(
        length(500), "fold at the back", nothing="the maker's, with its bars"
    )
    wrap_strip_mm: Fraction | None = said(
        length(none=False), "the edge strip that a side is taken from",
        nothing="as wide as the side: a plain mirror", option="wrap-strip",
    )  # fmt: skip
    wrap_soften_mm: Fraction = said(
        length(500), "softening at a side's outer edge", Fraction(0), option="wrap-soften"
    )
    wrap_tone: str | None = said(
        _SIDES_TONE, "sides of one plain colour: #222, or edge: the edge's mean",
        nothing="the picture goes round", option="wrap-tone",
    )  # fmt: skip
    wrap_own: bool = said(
        SWITCH, "the picture's own edge is the side", False, option=Option("wrap-own", sets=True)
    )
    fold_marks: bool = said(
        SWITCH, "marks where the canvas is folded", False, option=Option("fold-marks", sets=True)
    )
    staple_mm: Fraction = said(
        length(500), "plain material beyond the sides", Fraction(0), option="staple"
    )
    pieces: PrintSize | None = said(
        SIZE, "a sheet that the whole is spread over", nothing="it stays whole, or `roll_mm`"
    )
    roll_mm: Fraction | None = said(
        length(none=False), "the width of a roll that it is spread over", nothing="no roll"
    )
    edge_mm: Fraction | None = said(
        length(500), "what cannot be printed along a piece's edges", nothing="the device's",
        option="edge",
    )  # fmt: skip
    join_mm: Fraction = said(
        length(1000), "by how much pieces overlap; 10 mm", Fraction(10), option="join"
    )
