"""The frame of a print: where it sits, and of which shape it is."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.docket.crop import Frame
from zinc_margin.docket.docket import Docket
from zinc_margin.facts.facts import Facts
from zinc_margin.plan.crop.turned import Turned


def turned_picture(facts: Facts, docket: Docket) -> Turned:
    """Return the upright picture, mirrored and turned as the docket says."""
    return Turned(facts.width, facts.height, docket.crop.turn, docket.crop.mirror)


def place_for(facts: Facts, docket: Docket, turned: Turned) -> tuple[Fraction, Fraction]:
    """Return where the largest frame sits in its free room.

    With a point of interest it sits so that the point keeps its relative place: its share of the
    frame is its share of the picture.
    """
    half = Fraction(1, 2)
    x, y = (half, half) if facts.interest is None else turned.set_share(facts.interest)
    line = docket.crop
    return (
        x if line.place_x is None else line.place_x,
        y if line.place_y is None else line.place_y,
    )


def frame_for(facts: Facts, turned: Turned, docket: Docket, ratio: Fraction) -> Frame:
    """Return the frame of a shape: the docket's own where it has that shape, else the largest.

    A frame of the user's own is kept whole by area's sake: its width governs, its centre stays.
    """
    own = docket.crop.frame
    if own is None:
        width, height = turned.largest(ratio)
        return turned.placed(width, height, *place_for(facts, docket, turned))
    if own.width / own.height >= ratio:
        width, height = own.height * ratio, own.height
    else:
        width, height = own.width, own.width / ratio
    centred = Frame(
        own.left + (own.width - width) / 2, own.top + (own.height - height) / 2, width, height
    )
    return turned.brought_inside(centred)


def _whole_frame(turned: Turned) -> Frame:
    """Return the frame that shows all of the picture (or, turned, all without empty corners)."""
    width, height = turned.largest_whole
    return turned.placed(width, height, Fraction(1, 2), Fraction(1, 2))
