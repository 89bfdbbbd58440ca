"""Rotated pictures: exact boxes, frames inside them, and room to move.

Coordinates are pixels of the upright picture rotated by the docket's angle; (0, 0) is the top left
of its bounding box, x runs right and y down. Angles are degrees, clockwise.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

from zinc_margin.docket.crop import Frame
from zinc_margin.measure.resolution import round_half_up

_FINE = 10**6  # denominator for results of sines and cosines: a millionth of a pixel


@dataclass(frozen=True)
class Turned:
    """A picture rotated around its centre.

    Attributes
    ----------
    width, height : int
        Size of the upright picture.
    angle : Fraction
        Degrees, clockwise positive.
    mirror : bool
        Whether left and right are swapped before rotating.
    """

    width: int
    height: int
    angle: Fraction = Fraction(0)
    mirror: bool = False

    @cached_property
    def quarters(self) -> int:
        """The nearest number of quarter turns, 0–3."""
        return round_half_up(self.angle / 90) % 4

    @cached_property
    def square(self) -> bool:
        """Whether the rotation is a multiple of 90°, so no resampling is needed."""
        return self.angle % 90 == 0

    @cached_property
    def slope(self) -> float:
        """The tangent of the remaining rotation, after the quarter turns, 0 to 1."""
        return abs(math.tan(math.radians(float(self.angle - 90 * round_half_up(self.angle / 90)))))

    @cached_property
    def set_width(self) -> int:
        """The picture's width after the quarter turns only."""
        return self.height if self.quarters % 2 else self.width

    @cached_property
    def set_height(self) -> int:
        """The picture's height after the quarter turns only."""
        return self.width if self.quarters % 2 else self.height

    @cached_property
    def _rest(self) -> tuple[float, float]:
        """Cosine and sine of the remaining angle, after the quarter turns."""
        rest = self.angle - round_half_up(self.angle / 90) * 90
        if rest == 0:
            return 1.0, 0.0
        return math.cos(math.radians(rest)), math.sin(math.radians(rest))

    @cached_property
    def box(self) -> tuple[Fraction, Fraction]:
        """Width and height of the rotated picture's bounding box."""
        if self.square:
            return Fraction(self.set_width), Fraction(self.set_height)
        cos, sin = self._rest
        across = self.set_width * cos + self.set_height * abs(sin)
        down = self.set_width * abs(sin) + self.set_height * cos
        return Fraction(math.ceil(across * _FINE), _FINE), Fraction(math.ceil(down * _FINE), _FINE)

    def largest(self, ratio: Fraction) -> tuple[Fraction, Fraction]:
        """Return width and height of the largest frame of this shape (width ÷ height) inside.

        Parameters
        ----------
        ratio : Fraction
            Width ÷ height.
        """
        if self.square:
            width = min(Fraction(self.set_width), self.set_height * ratio)
            return width, width / ratio
        cos, sin = self._rest
        shape = float(ratio)
        # The frame's half-extents along the picture's axes must fit the picture.
        fitting = min(
            self.set_width / (cos + abs(sin) / shape), self.set_height / (abs(sin) + cos / shape)
        )
        exact = Fraction(math.floor(fitting * _FINE), _FINE)
        return exact, exact / ratio

    @cached_property
    def largest_whole(self) -> tuple[Fraction, Fraction]:
        """Width and height of the largest frame of the picture's shape."""
        if self.square:
            return Fraction(self.set_width), Fraction(self.set_height)
        return self.largest(Fraction(self.set_width, self.set_height))

    def _half(self, width: Fraction, height: Fraction) -> tuple[float, float]:
        cos, sin = self._rest
        w, h = float(width), float(height)
        return (w * cos + h * abs(sin)) / 2, (w * abs(sin) + h * cos) / 2

    def placed(
        self, width: Fraction, height: Fraction, place_x: Fraction, place_y: Fraction
    ) -> Frame:
        """Return a frame of this size at a place (0–1 each) in its free room.

        The room is measured along the picture's sides, after its quarter turns.

        Parameters
        ----------
        width, height : Fraction
            In px of the rotated picture.
        place_x, place_y : Fraction
            0 to 1.
        """
        if self.square:
            return Frame(
                (self.set_width - width) * place_x,
                (self.set_height - height) * place_y,
                width,
                height,
            )
        half_x, half_y = self._half(width, height)
        u = half_x + float(place_x) * max(0.0, self.set_width - 2 * half_x)
        v = half_y + float(place_y) * max(0.0, self.set_height - 2 * half_y)
        x, y = self._to_turned(u, v)
        left, top = Fraction(round(x * _FINE), _FINE), Fraction(round(y * _FINE), _FINE)
        return Frame(left - width / 2, top - height / 2, width, height)

    def place_of(self, frame: Frame) -> tuple[Fraction, Fraction]:
        """Return a frame's place in its free room, 0–1 each; ½ without room.

        Parameters
        ----------
        frame : Frame
            In px of the rotated picture.
        """
        u, v, half_x, half_y = self._centred(frame)
        places = []
        for centre, half, side in ((u, half_x, self.set_width), (v, half_y, self.set_height)):
            room = side - 2 * half
            share = (centre - half) / room if room > 1e-6 else 0.5
            places.append(Fraction(round(min(1.0, max(0.0, share)) * _FINE), _FINE))
        return places[0], places[1]

    def holds(self, frame: Frame) -> bool:
        """Return whether a frame is inside the picture.

        Parameters
        ----------
        frame : Frame
            In px of the rotated picture.
        """
        if self.square:
            return (
                frame.left >= 0
                and frame.top >= 0
                and frame.left + frame.width <= self.set_width
                and frame.top + frame.height <= self.set_height
            )
        u, v, half_x, half_y = self._centred(frame)
        slack = 1e-4
        return (
            half_x - slack <= u <= self.set_width - half_x + slack
            and half_y - slack <= v <= self.set_height - half_y + slack
        )

    def share_inside(self, frame: Frame) -> Fraction:
        """Return the largest share of a frame, around its centre, inside the picture, up to 1."""
        u, v, half_x, half_y = self._centred(frame)
        room_x, room_y = min(u, self.set_width - u), min(v, self.set_height - v)
        share = min(1.0, room_x / half_x, room_y / half_y)
        return Fraction(math.floor(max(0.0, share) * _FINE), _FINE)

    def brought_inside(self, frame: Frame) -> Frame:
        """Return the frame, shrunk around its centre if necessary and moved inside.

        Parameters
        ----------
        frame : Frame
            In px of the rotated picture.
        """
        ratio = frame.width / frame.height
        most, _ = self.largest(ratio)
        width = min(frame.width, most)
        shrunk = Frame(
            frame.left + (frame.width - width) / 2,
            frame.top + (frame.height - width / ratio) / 2,
            width,
            width / ratio,
        )
        if self.holds(shrunk):
            return shrunk
        return self.placed(width, width / ratio, *self.place_of(shrunk))

    def _centred(self, frame: Frame) -> tuple[float, float, float, float]:
        """Return a frame's centre and half its extent, in px of the picture after quarter turns."""
        middle = frame.left + frame.width / 2, frame.top + frame.height / 2
        return *self._to_picture(*map(float, middle)), *self._half(frame.width, frame.height)

    def _to_picture(self, x: float, y: float) -> tuple[float, float]:
        cos, sin = self._rest
        box_x, box_y = self.box
        dx, dy = x - float(box_x) / 2, y - float(box_y) / 2
        return (
            dx * cos + dy * sin + self.set_width / 2,
            -dx * sin + dy * cos + self.set_height / 2,
        )

    def _to_turned(self, u: float, v: float) -> tuple[float, float]:
        cos, sin = self._rest
        box_x, box_y = self.box
        du, dv = u - self.set_width / 2, v - self.set_height / 2
        return du * cos - dv * sin + float(box_x) / 2, du * sin + dv * cos + float(box_y) / 2

    def set_map(self, frame: Frame) -> tuple[float, float, float, float, float, float]:
        """Return the map from the frame to the picture after its quarter turns.

        Parameters
        ----------
        frame : Frame
            In px of the rotated picture.

        Returns
        -------
        tuple
            (x0, xx, xy, y0, yx, yy): a point (s, t) inside the frame, in pixels, is at (x0 + xx·s +
            xy·t, y0 + yx·s + yy·t) in the picture after quarter turns.
        """
        return _map_through(self._corner_and_steps(frame))

    def source_map(self, frame: Frame) -> tuple[float, float, float, float, float, float]:
        """Return the map from the frame to the upright picture, in the form of `set_map`.

        Parameters
        ----------
        frame : Frame
            In px of the rotated picture.
        """
        w, h = self.width, self.height
        back = {
            0: lambda a, b: (a, b),
            1: lambda a, b: (b, h - a),
            2: lambda a, b: (w - a, h - b),
            3: lambda a, b: (w - b, a),
        }[self.quarters]
        points = [back(*point) for point in self._corner_and_steps(frame)]
        if self.mirror:
            points = [(w - x, y) for x, y in points]
        return _map_through(points)

    def set_share(self, place: tuple[Fraction, Fraction]) -> tuple[Fraction, Fraction]:
        """Map a place (shares) of the upright picture to the picture after its quarter turns.

        Parameters
        ----------
        place : (Fraction, Fraction)
            Shares of the upright picture's width and height.
        """
        x, y = place
        if self.mirror:
            x = 1 - x
        return {0: (x, y), 1: (1 - y, x), 2: (1 - x, 1 - y), 3: (y, 1 - x)}[self.quarters]

    def share_of(self, x: float, y: float) -> tuple[Fraction, Fraction]:
        """Map a point of the rotated picture to a place (shares) of the upright one."""
        u, v = self._to_picture(x, y)
        s, t = (
            Fraction(round(part / side * 10**9), 10**9)
            for part, side in ((u, self.set_width), (v, self.set_height))
        )
        back = {0: (s, t), 1: (t, 1 - s), 2: (1 - s, 1 - t), 3: (1 - t, s)}[self.quarters]
        return (1 - back[0], back[1]) if self.mirror else back

    def turned_place(self, place: tuple[Fraction, Fraction]) -> tuple[float, float]:
        """Map a place (shares) of the upright picture to the rotated one, in px.

        Parameters
        ----------
        place : (Fraction, Fraction)
            Shares of the upright picture's width and height.
        """
        u, v = self.set_share(place)
        return self._to_turned(float(u * self.set_width), float(v * self.set_height))

    def _corner_and_steps(self, frame: Frame) -> list[tuple[float, float]]:
        """Return a frame's corner and the points one pixel across and down, after quarter turns."""
        cos, sin = self._rest
        u, v = self._to_picture(float(frame.left), float(frame.top))
        return [(u, v), (u + cos, v - sin), (u + sin, v + cos)]


def _map_through(
    points: list[tuple[float, float]],
) -> tuple[float, float, float, float, float, float]:
    (x0, y0), (x1, y1), (x2, y2) = points
    return x0, x1 - x0, x2 - x0, y0, y1 - y0, y2 - y0
