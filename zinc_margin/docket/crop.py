"""Line 3: the part of the picture to print."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Any, ClassVar

from zinc_margin.docket.fields import SWITCH, Line, Option, held, length, number, one_of, said
from zinc_margin.gate import values

_MOST_PX = 10**7
_SHARE = number(0, 1)


@dataclass(frozen=True)
class Frame:
    """A crop frame, in pixels of the upright, rotated picture.

    Attributes
    ----------
    left, top, width, height : Fraction
        From 0; width and height above 0.
    """

    left: Fraction
    top: Fraction
    width: Fraction
    height: Fraction


def _frame(value: Mapping[str, Any]) -> Frame:
    left, top = (values.number(0, _MOST_PX)(value.get(key)) for key in ("left", "top"))
    least = Fraction(1, 1000)
    sides = (values.number(least, _MOST_PX)(value.get(key)) for key in ("width", "height"))
    return Frame(left, top, *sides)


@dataclass(frozen=True)
class CropLine(Line):
    """Line 3 of a docket."""

    title: ClassVar[str] = "Crop"
    fit: str = said(
        one_of("trim", "whole", "border"),
        "fill the size (trim), show the whole picture, or put it in a border",
        "trim",
        option="fit",
    )
    border_mm: Fraction | None = said(
        length(), "narrowest border around the picture", nothing="a twentieth of the shorter side"
    )
    place_x: Fraction | None = said(
        _SHARE,
        "position of the frame across, 0 (left) to 1",
        nothing="around the photo's subject, else centred",
    )
    place_y: Fraction | None = said(
        _SHARE,
        ("position of the frame down, 0 (top) to 1"),
        nothing="around the photo's subject, else centred",
    )
    frame: Frame | None = said(
        held(Frame, _frame, "left, top, width and height"),
        "frame in pixels of the upright, rotated picture",
        nothing="the largest",
    )
    turn: Fraction = said(
        number(-360, 360, "degrees"),
        "rotation in degrees, clockwise",
        Fraction(0),
        key="rotate",
        option=Option("rotate", metavar="DEG"),
    )
    mirror: bool = said(
        SWITCH, "mirror left and right, before rotating", False, option=Option("mirror", sets=True)
    )
