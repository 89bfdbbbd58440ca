"""Moving and sizing the crop frame, as the hand asks for it."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from ..docket.docket import Docket, Frame
from .geometry import Turned
from .model import Plan

SMALLEST = Fraction(8)
"""A frame is never drawn narrower than this many pixels."""


def current_frame(plan: Plan) -> Frame:
    """Return the frame of the print's exact shape that the plan's crop stands for."""
    ratio = plan.size.width_mm / plan.size.height_mm
    crop = plan.crop
    own = plan.docket.crop.frame
    if own is None:
        width, height = plan.turned.largest(ratio)
        place = plan.turned.place_of(crop)
        if plan.turned.square:
            place = (plan.docket.crop.place_x, plan.docket.crop.place_y)
        return plan.turned.placed(width, height, *place)
    return Frame(crop.left, crop.top, crop.width, min(crop.width / ratio, crop.top + crop.height))


def with_frame(plan: Plan, frame: Frame) -> Docket:
    """Return the docket with this frame: as a place where it is the largest, else as itself."""
    turned = plan.turned
    most, _ = turned.largest(frame.width / frame.height)
    line = plan.docket.crop
    if frame.width >= most * Fraction(9995, 10000):
        x, y = turned.place_of(frame)
        return replace(plan.docket, crop=replace(line, frame=None, place_x=x, place_y=y))
    return replace(plan.docket, crop=replace(line, frame=turned.brought_inside(frame)))


def moved(plan: Plan, frame: Frame, across: Fraction, down: Fraction) -> Frame:
    """Return the frame moved by so many source pixels, kept inside the picture."""
    shifted = Frame(frame.left + across, frame.top + down, frame.width, frame.height)
    return plan.turned.brought_inside(shifted)


def stretched(plan: Plan, frame: Frame, corner: str, x: float, y: float) -> Frame:
    """Return the frame with one corner pulled to a place; its shape and the opposite corner stay.

    Parameters
    ----------
    corner : str
        ``top-left``, ``top-right``, ``bottom-left`` or ``bottom-right``.
    x, y : float
        In the turned picture.
    """
    ratio = frame.width / frame.height
    right, lower = corner.endswith("right"), corner.startswith("bottom")
    fixed_x = frame.left if right else frame.left + frame.width
    fixed_y = frame.top if lower else frame.top + frame.height
    wide = Fraction(x).limit_denominator(1000) - fixed_x
    high = Fraction(y).limit_denominator(1000) - fixed_y
    width = max(wide if right else -wide, (high if lower else -high) * ratio)
    width = max(SMALLEST, SMALLEST * ratio, width)
    low, best = Fraction(0), _from_corner(fixed_x, fixed_y, width, ratio, right, lower)
    if plan.turned.holds(best):
        return best
    # the largest that still lies inside, found by halving: exact enough at a thousandth of a pixel
    high_width = width
    for _ in range(40):
        middle = (low + high_width) / 2
        candidate = _from_corner(fixed_x, fixed_y, middle, ratio, right, lower)
        if plan.turned.holds(candidate):
            low = middle.limit_denominator(10**6)
        else:
            high_width = middle.limit_denominator(10**6)
    return _from_corner(fixed_x, fixed_y, max(low, Fraction(1)), ratio, right, lower)


def _from_corner(
    x: Fraction, y: Fraction, width: Fraction, ratio: Fraction, right: bool, lower: bool
) -> Frame:
    height = width / ratio
    return Frame(x if right else x - width, y if lower else y - height, width, height)


def turned_by(plan: Plan, angle: Fraction) -> Docket:
    """Return the docket turned to an angle; a frame of the user's own keeps its centre inside."""
    angle = angle % 360 if not -180 < angle <= 180 else angle
    if angle > 180:
        angle -= 360
    line = plan.docket.crop
    frame = line.frame
    if frame is not None:
        before, after = plan.turned, Turned(plan.turned.width, plan.turned.height, angle)
        x, y = before.place_of(frame)
        most, _ = after.largest(frame.width / frame.height)
        width = min(frame.width, most)
        frame = after.placed(width, width * frame.height / frame.width, x, y)
    return replace(plan.docket, crop=replace(line, turn=angle, frame=frame))
