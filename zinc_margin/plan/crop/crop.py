"""The Crop line of a plan: the frame, and its resolution before enlarging."""

from __future__ import annotations

from fractions import Fraction
from typing import TypeVar

from zinc_margin.docket.crop import CropLine
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.plan.crop.frame import border_of, frame_for, place_for, whole_frame
from zinc_margin.plan.parts import CropPart, SizePart
from zinc_margin.plan.size.dependencies import Ties

Number = TypeVar("Number", Fraction, float)


def effective_ppi(
    frame: tuple[Number, Number], size: tuple[Number, Number], border: Number, fills: bool
) -> Number:
    """Return the ppi before enlarging, the smaller of both directions.

    Parameters
    ----------
    frame : (number, number)
        Width and height of the printed part, in source pixels.
    size : (number, number)
        Size of the print, in mm.
    border : number
        Border around a whole picture, in mm.
    fills : bool
        Whether the frame fills the print; otherwise it is whole inside the border.
    """
    inch = type(border)(MM_PER_INCH)
    if fills:
        return min(frame[0] / size[0], frame[1] / size[1]) * inch
    room = size[0] - 2 * border, size[1] - 2 * border
    return max(frame[0] / room[0], frame[1] / room[1]) * inch


def crop_part(
    line: CropLine, tied: Ties, sized: SizePart, subject: tuple[Fraction, Fraction] | None
) -> CropPart:
    """Return the Crop line's part of a plan.

    Parameters
    ----------
    subject : (Fraction, Fraction) or None
        Shares of the upright photo's width and height.

    Raises
    ------
    BadRequest
        If the border leaves no space for the picture.
    """
    turned, size = tied.turned, sized.size
    border = border_of(line, size)
    place = place_for(line, turned, subject)
    if tied.fills:
        frame = frame_for(line, turned, size.width_mm / size.height_mm, place)
    else:
        frame = whole_frame(turned)
    sides = size.width_mm, size.height_mm
    effective = effective_ppi((frame.width, frame.height), sides, border, tied.fills)
    return CropPart(
        turned=turned,
        frame=frame,
        is_own=line.frame is not None,
        is_whole=not tied.fills,
        border_mm=border,
        place=place,
        exact_ppi=effective,
    )
