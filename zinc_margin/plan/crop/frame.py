"""The frame of a print: where it sits, and of which shape it is."""

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
    """Return where the largest frame sits in its free room, 0–1 each.

    With a subject it sits so the subject keeps its relative place: its share of the frame is
    its share of the picture.

    Parameters
    ----------
    line : CropLine
        A place of its own wins.
    subject : (Fraction, Fraction) or None
        As shares of the upright photo's width and height.
    """
    x, y = (_HALF, _HALF) if subject is None else turned.set_share(subject)
    return (
        x if line.place_x is None else line.place_x,
        y if line.place_y is None else line.place_y,
    )


def frame_for(
    line: CropLine, turned: Turned, ratio: Fraction, place: tuple[Fraction, Fraction]
) -> Frame:
    """Return the frame of a shape: the docket's own where it has that shape, else the largest.

    A frame of the user's own is kept whole by area's sake: its width governs, its centre stays.

    Parameters
    ----------
    ratio : Fraction
        Width ÷ height.
    place : (Fraction, Fraction)
        Where the largest sits in its free room, 0–1 each.
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
    """Return the frame that shows all of the picture (or, turned, all without empty corners)."""
    width, height = turned.largest_whole
    return turned.placed(width, height, _HALF, _HALF)


def border_of(line: CropLine, size: PrintSize) -> Fraction:
    """Return the least border round the picture, in mm; 0 if none is requested.

    Raises
    ------
    BadRequest
        When it would leave nothing for the picture.
    """
    if line.fit != "border":
        return Fraction(0)
    shorter = min(size.width_mm, size.height_mm)
    border = line.border_mm
    if border is None:
        return Fraction(max(1, (shorter / 20).__floor__())) if shorter > 4 else Fraction(0)
    if 2 * border >= shorter:
        raise BadRequest(
            f"A border of {small(border, 'cm')} leaves nothing of a print that is "
            f"{small(shorter, 'cm')} on its shorter side."
        )
    return border


def least_border(line: CropLine, size: PrintSize) -> Fraction:
    """Return the border that a size would have; a tenth of it where the asked one is too wide."""
    try:
        return border_of(line, size)
    except BadRequest:
        return min(size.width_mm, size.height_mm) / 10


def largest_crop(line: CropLine) -> CropLine:
    """Return the Crop line for a print of another shape: its largest frame, where the old one sat.

    A frame of the user's own belonged to the other shape; its place in the free room stays.
    """
    return replace(line, frame=None)


def first_crop(line: CropLine, turned: Turned, crop: Frame) -> CropLine:
    """Return the Crop line for a size that is typed: the largest frame, about the printed part.

    Parameters
    ----------
    crop : Frame
        The part of the turned picture that was printed before.
    """
    x, y = turned.place_of(crop)
    return replace(largest_crop(line), place_x=x, place_y=y)
