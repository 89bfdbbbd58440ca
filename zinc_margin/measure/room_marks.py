"""Marks on a photograph of a room: two points and, optionally, a rectangle on its wall."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from fractions import Fraction

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import parse_length
from zinc_margin.measure.sizes import PrintSize

Spot = tuple[float, float]
"""Across and down, in pixels of the photograph."""


@dataclass(frozen=True)
class RoomMarks:
    """Marks on a photograph of a room.

    Attributes
    ----------
    width, height : int
        Size of the photograph, in pixels.
    points : (Spot, Spot) or None
        Two places on the wall.
    apart_mm : Fraction or None
        Their distance.
    corners : tuple of four Spot, or None
        Corners of a rectangle on the wall, in any order; None: the wall is seen from the front.
    sides : PrintSize or None
        The rectangle's true size, which replaces the two points.
    focal_px : float or None
        The camera's focal length in pixels, if the metadata has it.
    """

    width: int
    height: int
    points: tuple[Spot, Spot] | None = None
    apart_mm: Fraction | None = None
    corners: tuple[Spot, Spot, Spot, Spot] | None = None
    sides: PrintSize | None = None
    focal_px: float | None = None

    def scaled(self, by: float) -> RoomMarks:
        """Return the marks for the photograph resized by a factor."""

        def moved(spot: Spot) -> Spot:
            return scaled_spot(spot, by)

        points, corners = self.points, self.corners
        return replace(
            self,
            width=max(1, round(self.width * by)),
            height=max(1, round(self.height * by)),
            points=None if points is None else (moved(points[0]), moved(points[1])),
            corners=None
            if corners is None
            else (moved(corners[0]), moved(corners[1]), moved(corners[2]), moved(corners[3])),
            focal_px=None if self.focal_px is None else self.focal_px * by,
        )

    @property
    def is_enough(self) -> bool:
        """Whether the marks determine the wall's scale."""
        by_points = self.points is not None and self.apart_mm is not None
        return by_points or (self.corners is not None and self.sides is not None)


def scaled_spot(spot: Spot, by: float) -> Spot:
    """Return a point in a resized picture; pixel centres stay pixel centres."""
    return (spot[0] + 0.5) * by - 0.5, (spot[1] + 0.5) * by - 0.5


def parse_spots(text: str, count: int) -> tuple[Spot, ...]:
    """Read points in pixels: ``412,880 1630,884``.

    Parameters
    ----------
    count : int
        The required number.
    """
    spots = []
    for part in text.replace(";", " ").split():
        numbers = part.split(",")
        try:
            across, down = (float(each) for each in numbers)
        except ValueError:
            raise BadRequest(
                f"“{part}” is not a place. Type pixels: across,down (412,880)."
            ) from None
        if not (math.isfinite(across) and math.isfinite(down)):
            raise BadRequest(f"“{part}” is not a place in a picture.")
        spots.append((across, down))
    if len(spots) != count:
        raise BadRequest(f"“{text}” has {len(spots)} places instead of {count}.")
    return tuple(spots)


def parse_apart(text: str, default_unit: str) -> Fraction:
    """Read the distance between two points, 1 cm to 100 m.

    Parameters
    ----------
    default_unit : str
        The unit of a number without one, a key of `UNITS`.
    """
    apart = parse_length(text, default_unit)
    if not 10 <= apart <= 100_000:
        raise BadRequest(f"“{text}” is out of range. Two places on a wall are 1 cm to 100 m apart.")
    return apart
