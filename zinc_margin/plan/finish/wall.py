"""The finished object on a wall: position, size, and a figure for scale."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction

from zinc_margin.plan.model import PrintPlan

FIGURES = {"standing": (1720.0, 480.0), "seated": (1300.0, 560.0), "door": (2000.0, 860.0)}
"""Height and width of the figures for scale, in mm."""


_EYE_MM = 1500.0  # usual centre height of hung pictures


_GAP_MM = 350.0  # space between the figure and the print


_LEAST_SCENE_MM = 2350.0  # height that shows a standing figure and some wall above it


@dataclass(frozen=True)
class Scene:
    """A wall seen from the front, in mm from its left end and the floor.

    Attributes
    ----------
    width, height : float
    picture : (float, float, float, float)
        Left, bottom, width and height of the hung object.
    figure : (float, float, float)
        Left, width and height of the figure.
    angle : float
        Angle of the picture's width from the far viewing distance, in degrees.
    """

    width: float
    height: float
    picture: tuple[float, float, float, float]
    figure: tuple[float, float, float]
    angle: float


def scene(plan: PrintPlan, figure: str) -> Scene:
    """Return a plan's print at eye height next to a figure.

    Parameters
    ----------
    figure : str
        A key of `FIGURES`.
    """
    wide, high = hung_size(plan)
    tall, broad = FIGURES[figure]
    rim = max(400.0, 0.25 * wide)
    bottom = max(80.0, _EYE_MM - high / 2)
    width = rim + wide + _GAP_MM + broad + rim
    height = max(_LEAST_SCENE_MM, bottom + high + 300.0)
    angle = 2 * math.degrees(math.atan(wide / 2 / plan.far_mm))
    return Scene(
        width, height, (rim, bottom, wide, high), (rim + wide + _GAP_MM, broad, tall), angle
    )


def frame_of(plan: PrintPlan) -> tuple[Fraction, Fraction] | None:
    """Return width and height in mm of the frame around a print's mat, or None."""
    return None if plan.mat is None else plan.mat.frame


def hung_size(plan: PrintPlan) -> tuple[float, float]:
    """Return width and height of the hung object, in mm: face, frame or sheet."""
    frame = frame_of(plan)
    if frame is not None:
        return float(frame[0]), float(frame[1])
    sheet = plan.sheet
    if sheet is not None and sheet.side_mm:
        return float(sheet.face_mm[0]), float(sheet.face_mm[1])
    return float(plan.whole.width_mm), float(plan.whole.height_mm)
