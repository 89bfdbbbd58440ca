"""Rotate, level and mirror the picture, together with its frame."""

from __future__ import annotations

import math
from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.crop import CropLine, Frame
from zinc_margin.docket.docket import Docket
from zinc_margin.plan.crop.rotation import Turned
from zinc_margin.plan.model import Plan


def rotate_to(plan: Plan, angle: Fraction, along: bool = False) -> Docket:
    """Return the docket rotated to an angle.

    The user's frame keeps its place on the picture if it can: its centre stays and it shrinks a
    little. If it would lose more than a third of its width, it moves instead.

    Parameters
    ----------
    angle : Fraction
        Degrees, clockwise, between −360 and 360.
    along : bool
        Whether the frame rotates with the picture, as for quarter turns.
    """
    angle = angle % 360 if not -180 < angle <= 180 else angle
    if angle > 180:
        angle -= 360
    line = plan.docket.crop
    frame = line.frame
    if frame is not None:
        before = plan.turned
        after = Turned(before.width, before.height, angle, before.mirror)
        frame = _carry(before, after, frame, along)
    return replace(plan.docket, crop=replace(line, turn=angle, frame=frame))


def _carry(before: Turned, after: Turned, frame: Frame, along: bool) -> Frame:
    """Return the frame around the same place of the picture after another rotation."""
    x, y = float(frame.left + frame.width / 2), float(frame.top + frame.height / 2)
    share = before.share_of(x, y)
    cx, cy = (Fraction(round(part * 10**6), 10**6) for part in after.turned_place(share))
    width, height = frame.width, frame.height
    if along:
        width, height = height, width

    def about(part: Fraction) -> Frame:
        return Frame(cx - width * part / 2, cy - height * part / 2, width * part, height * part)

    fits = after.share_inside(about(Fraction(1)))
    if fits * 3 >= 2:
        return about(fits)
    return after.brought_inside(about(Fraction(1)))


def quarter(plan: Plan, right: bool) -> Docket:
    """Return the docket rotated by 90°, with its frame.

    Parameters
    ----------
    right : bool
        Clockwise, or counter-clockwise if false.
    """
    step = Fraction(90 if right else -90)
    docket = rotate_to(plan, plan.docket.crop.turn + step, along=True)
    return replace(docket, crop=_turned_place(docket.crop, right))


def _turned_place(line: CropLine, right: bool) -> CropLine:
    x, y = line.place_x, line.place_y
    if right:
        x, y = None if y is None else 1 - y, x
    else:
        x, y = y, None if x is None else 1 - x
    return replace(line, place_x=x, place_y=y)


def mirror(plan: Plan) -> Docket:
    """Return the docket with the visible picture mirrored, including its rotation and frame."""
    line = plan.docket.crop
    frame = line.frame
    if frame is not None:
        frame = replace(frame, left=plan.turned.box[0] - frame.left - frame.width)
    turn = -line.turn
    x = None if line.place_x is None else 1 - line.place_x
    crop = replace(line, mirror=not line.mirror, turn=turn, frame=frame, place_x=x)
    return replace(plan.docket, crop=crop)


def level(plan: Plan, start: tuple[float, float], end: tuple[float, float]) -> Docket:
    """Return the docket rotated so a line drawn on the picture is horizontal or vertical.

    The nearer of the two is meant; the rotation is rounded to a hundredth of a degree.

    Parameters
    ----------
    start : (float, float)
        Start, in px of the rotated picture.
    end : (float, float)
        End, in px of the rotated picture.
    """
    lean = lean_of(start, end)
    return rotate_to(plan, plan.docket.crop.turn - Fraction(round(lean * 100), 100))


def lean_of(start: tuple[float, float], end: tuple[float, float]) -> float:
    """Return a line's lean from horizontal or vertical, in degrees clockwise (−45 to 45).

    Parameters
    ----------
    start : (float, float)
        Start, in px of the rotated picture.
    end : (float, float)
        End, in px of the rotated picture.
    """
    angle = math.degrees(math.atan2(end[1] - start[1], end[0] - start[0]))
    return (angle + 45) % 90 - 45
