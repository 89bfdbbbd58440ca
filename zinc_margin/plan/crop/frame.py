"""The frame of a print: its shape and place."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.crop import CropLine, Frame
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.words import small
from zinc_margin.plan.crop.rotation import Turned

_HALF = Fraction(1, 2)


def place_for(
    line: CropLine, turned: Turned, subject: tuple[Fraction, Fraction] | None
) -> tuple[Fraction, Fraction]:
    """Return the place of the largest frame in its free room, 0–1 each.

    A subject keeps its relative place: the same share of the frame as of the picture.

    Parameters
    ----------
    line : CropLine
        Its own place has priority.
    subject : (Fraction, Fraction) or None
        Shares of the upright photo's width and height.
    """
    x, y = (_HALF, _HALF) if subject is None else turned.set_share(subject)
    return (
        x if line.place_x is None else line.place_x,
        y if line.place_y is None else line.place_y,
    )


def frame_for(
    line: CropLine, turned: Turned, ratio: Fraction, place: tuple[Fraction, Fraction]
) -> Frame:
    """Return the frame of this shape: the user's if it has the shape, else the largest.

    A frame drawn by the user keeps its width and centre.

    Parameters
    ----------
    ratio : Fraction
        Width ÷ height.
    place : (Fraction, Fraction)
        Place of the largest frame in its free room, 0–1 each.
    """
    own = line.frame
    if own is None:
        width, height = turned.largest(ratio)
        return turned.placed(width, height, *place)
    if own.width / own.height >= ratio:
        width, height = own.height * ratio, own.height
    else:
        width, height = own.width, own.width / ratio
    centred = Frame(
        own.left + (own.width - width) / 2, own.top + (own.height - height) / 2, width, height
    )
    return turned.brought_inside(centred)


def whole_frame(turned: Turned) -> Frame:
    """Return the frame of the whole picture; if rotated, the largest without empty corners."""
    width, height = turned.largest_whole
    return turned.placed(width, height, _HALF, _HALF)


def border_of(line: CropLine, size: PrintSize) -> Fraction:
    """Return the least border around the picture, in mm; 0 if none is requested.

    Raises
    ------
    BadRequest
        If it leaves no space for the picture.
    """
    if line.fit != "border":
        return Fraction(0)
    shorter = min(size.width_mm, size.height_mm)
    border = line.border_mm
    if border is None:
        return Fraction(max(1, (shorter / 20).__floor__())) if shorter > 4 else Fraction(0)
    if 2 * border >= shorter:
        raise BadRequest(
            f"A border of {small(border, 'cm')} leaves no space on a print whose shorter side "
            f"is {small(shorter, 'cm')}. Choose a narrower border."
        )
    return border


def least_border(line: CropLine, size: PrintSize) -> Fraction:
    """Return the border of a size: as requested, or a tenth of the size if that is too wide."""
    try:
        return border_of(line, size)
    except BadRequest:
        return min(size.width_mm, size.height_mm) / 10


def largest_crop(line: CropLine) -> CropLine:
    """Return the Crop line for a print of another shape: its largest frame, in the same place.

    A frame drawn by the user belongs to the old shape; only its place is kept.
    """
    return replace(line, frame=None)


def first_crop(line: CropLine, turned: Turned, crop: Frame) -> CropLine:
    """Return the Crop line for a newly typed size: the largest frame around the printed part.

    Parameters
    ----------
    crop : Frame
        The previously printed part of the rotated picture.
    """
    x, y = turned.place_of(crop)
    return replace(largest_crop(line), place_x=x, place_y=y)
