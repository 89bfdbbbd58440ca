"""The frame of a print: where it sits, and of which shape it is."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.docket.crop import CropLine, Frame
from zinc_margin.plan.crop.turned import Turned

_HALF = Fraction(1, 2)


def place_for(
    line: CropLine, turned: Turned, subject: tuple[Fraction, Fraction] | None
) -> tuple[Fraction, Fraction]:
    """Return where the largest frame sits in its free room, 0–1 each.

    With a subject it sits so that the subject keeps its relative place: its share of the frame is
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
