"""A photograph of the user's wall: a print hung on it, at true size, in perspective.

The camera is assumed to have no distortion, with its centre in the middle of the photograph. Four
corners of any rectangle on the wall give the wall's orientation and, if both pairs of sides
converge, the focal length; a known distance, or the rectangle's size, gives the scale.

References
----------
P. Heckbert (1989): from a square to a quadrilateral.
Z. Zhang, L.-W. He (2007), "Whiteboard scanning and image enhancement": sides from four corners.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.room_marks import RoomMarks, Spot
from zinc_margin.plan.finish.wall import frame_of, hung_size
from zinc_margin.plan.model import PrintPlan

FRAME_FACE_MM, FRAME_DEEP_MM = 18.0, 22.0
"""A plain frame's moulding: its width seen from the front, and its depth."""
_USUAL_FOCAL = 0.75
"""Relative to the longer side: typical of phones and small zooms at their wide end."""
_FOCALS = 0.4, 6.0
"""Limits of the focal length, relative to the longer side."""
_ENOUGH = 0.03
"""How much shorter the far side must be, relative to the near one, to give a focal length."""
_LEAST_PX = 8.0  # closer marks would make the scale too uncertain
_MOST_MM = 60_000.0  # beyond 60 m from the marks a wall is a mistake
_PAPER_MM = 1.0  # depth of an unframed print

Vector = tuple[float, float, float]
Quad = tuple[Spot, Spot, Spot, Spot]
"""Top left, top right, bottom right, bottom left."""


@dataclass(frozen=True)
class WallView:
    """A camera's view of a wall: maps wall positions in mm to places in the photograph.

    Attributes
    ----------
    right, down, origin : Vector
        Vectors of a mm along the wall, each way, and its origin, in camera coordinates.
    middle : Spot
        Centre of the photograph, in pixels.
    focal : float
    """

    right: Vector
    down: Vector
    origin: Vector
    middle: Spot
    focal: float

    @property
    def off(self) -> Vector:
        """One mm off the wall, towards the room."""
        into = _cross(self.right, self.down)
        by = math.hypot(*into) / math.sqrt(math.hypot(*self.right) * math.hypot(*self.down))
        return -into[0] / by, -into[1] / by, -into[2] / by

    def spot(self, across: float, down: float, off: float = 0.0) -> Spot:
        """Return the place in the photograph of a point on the wall, or off it.

        Parameters
        ----------
        across, down, off : float
            In mm from the wall's origin.

        Raises
        ------
        BadRequest
            If it is behind the camera.
        """
        away = self.off
        x, y, z = (
            o + across * r + down * d + off * n
            for o, r, d, n in zip(self.origin, self.right, self.down, away, strict=True)
        )
        if z <= 1e-9:
            raise BadRequest(
                "The print would extend behind the camera. Choose another place or a smaller print."
            )
        return self.middle[0] + self.focal * x / z, self.middle[1] + self.focal * y / z

    def on_wall(self, spot: Spot) -> Spot:
        """Return the point on the wall, in mm, at a place in the photograph.

        Raises
        ------
        BadRequest
            If it does not show the wall's plane.
        """
        ray = ((spot[0] - self.middle[0]) / self.focal, (spot[1] - self.middle[1]) / self.focal, 1)
        normal = _cross(self.right, self.down)
        along = _dot(normal, ray)
        if abs(along) < 1e-12:
            raise BadRequest("That place is not on the marked wall.")
        times = _dot(normal, self.origin) / along
        if times <= 0:
            raise BadRequest("That place is not on the marked wall.")
        at = [times * r - o for r, o in zip(ray, self.origin, strict=True)]
        rr, dd, rd = (
            _dot(self.right, self.right),
            _dot(self.down, self.down),
            _dot(self.right, self.down),
        )
        ar, ad = _dot(at, self.right), _dot(at, self.down)
        whole = rr * dd - rd * rd
        return (ar * dd - ad * rd) / whole, (ad * rr - ar * rd) / whole


@dataclass(frozen=True)
class Side:
    """A visible side of the hung object.

    Attributes
    ----------
    name : str
        ``left``, ``right``, ``top`` or ``bottom``.
    quad : Quad
        The front edge from left to right or top to bottom, then the back edge in reverse.
    shade : float
        Its light relative to the front.
    """

    name: str
    quad: Quad
    shade: float


@dataclass(frozen=True)
class Hung:
    """The hung object as the camera sees it.

    Attributes
    ----------
    face : Quad
    sides : tuple of Side
    shadow : Quad
    soft_px : float
        Softness of the shadow's edge.
    ring : tuple of four tuple of Spot
        Places on the wall just above, right, below and left of it, to sample the light.
    """

    face: Quad
    sides: tuple[Side, ...]
    shadow: Quad
    soft_px: float
    ring: tuple[tuple[Spot, ...], ...]


def view_of(marks: RoomMarks) -> WallView:
    """Return the view of the wall, worked out from the marks.

    Raises
    ------
    BadRequest
        If the marks are insufficient; the sentence says what is missing.
    """
    if not marks.is_enough:
        raise BadRequest("Mark two places and their distance, or four corners and their size.")
    middle = (marks.width - 1) / 2, (marks.height - 1) / 2
    longest = max(marks.width, marks.height)
    if marks.corners is None:
        focal = marks.focal_px or _USUAL_FOCAL * longest
        unit = WallView((1 / focal, 0, 0), (0, 1 / focal, 0), (0, 0, 1), middle, focal)
    else:
        unit = _by_corners(in_order(marks.corners), middle, longest, marks)
        if marks.sides is not None:
            return unit
    assert marks.points is not None and marks.apart_mm is not None
    ends = marks.points
    if math.dist(*ends) < _LEAST_PX:
        raise BadRequest("The two places are the same; mark two that are well apart.")
    per_mm = math.dist(unit.on_wall(ends[0]), unit.on_wall(ends[1])) / float(marks.apart_mm)
    return _scale(unit, per_mm, per_mm)


def _scale(view: WallView, across: float, down: float) -> WallView:
    """Return a view with rescaled millimetres: `across` and `down` times the old ones."""
    return WallView(
        (view.right[0] * across, view.right[1] * across, view.right[2] * across),
        (view.down[0] * down, view.down[1] * down, view.down[2] * down),
        view.origin,
        view.middle,
        view.focal,
    )


def _by_corners(corners: Quad, middle: Spot, longest: int, marks: RoomMarks) -> WallView:
    """Return a view from a rectangle's top left corner: in mm, or in its heights if unsized."""
    (x0, y0), (x1, y1), (x2, y2), (x3, y3) = ((x - middle[0], y - middle[1]) for x, y in corners)
    sx, sy = x0 - x1 + x2 - x3, y0 - y1 + y2 - y3
    dx1, dy1, dx2, dy2 = x1 - x2, y1 - y2, x3 - x2, y3 - y2
    whole = dx1 * dy2 - dx2 * dy1
    # The convergence of its two pairs of sides.
    g, h = (sx * dy2 - dx2 * sy) / whole, (dx1 * sy - sx * dy1) / whole
    right = x1 - x0 + g * x1, y1 - y0 + g * y1
    down = x3 - x0 + h * x3, y3 - y0 + h * y3
    sides = marks.sides
    square = 0.0
    if sides is not None:
        shape = float(sides.width_mm / sides.height_mm) ** 2
        if abs(g**2 - shape * h**2) > _ENOUGH**2:  # the shape fits only one focal length
            square = (shape * _dot(down, down) - _dot(right, right)) / (g**2 - shape * h**2)
    elif min(abs(g), abs(h)) > _ENOUGH:  # they are at right angles for only one focal length
        square = -_dot(right, down) / (g * h)
    found = math.sqrt(max(0.0, square)) / longest
    focal = (
        marks.focal_px or (found if _FOCALS[0] <= found <= _FOCALS[1] else _USUAL_FOCAL) * longest
    )
    across = right[0] / focal, right[1] / focal, g
    downward = down[0] / focal, down[1] / focal, h
    origin = x0 / focal, y0 / focal, 1.0
    if sides is not None:
        per = 1 / float(sides.width_mm), 1 / float(sides.height_mm)
    else:
        per = math.hypot(*downward) / math.hypot(*across), 1.0
    return _scale(WallView(across, downward, origin, middle, focal), *per)


def in_order(corners: Quad) -> Quad:
    """Return four corners sorted: top left, top right, bottom right, bottom left.

    Parameters
    ----------
    corners : tuple of four Spot
        In any order.

    Raises
    ------
    BadRequest
        If they are not corners of a rectangle.
    """
    middle = sum(x for x, _ in corners) / 4, sum(y for _, y in corners) / 4
    round_ = sorted(corners, key=lambda at: math.atan2(at[1] - middle[1], at[0] - middle[0]))
    turns = []
    for at in range(4):
        a, b, c = round_[at], round_[(at + 1) % 4], round_[(at + 2) % 4]
        turns.append((b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]))
    if min(turns) <= _LEAST_PX**2:
        raise BadRequest(
            "The four places are not corners of a rectangle on a wall. Mark them again."
        )
    first = min(range(4), key=lambda at: sum(round_[at]))
    a, b, c, d = (round_[(first + at) % 4] for at in range(4))
    return a, b, c, d


def depth_mm(plan: PrintPlan) -> float:
    """Return the depth of the hung print, in mm."""
    if frame_of(plan) is not None:
        return FRAME_DEEP_MM
    if plan.sheet is not None and plan.sheet.side_mm:
        return float(plan.sheet.bars_mm)
    return _PAPER_MM


def hang_print(plan: PrintPlan, view: WallView, middle_mm: Spot) -> Hung:
    """Hang a plan's print on a wall.

    Parameters
    ----------
    middle_mm : Spot
        Its centre on the wall.

    Raises
    ------
    BadRequest
        If it would extend behind the camera.
    """
    wide, high = hung_size(plan)
    left, top = middle_mm[0] - wide / 2, middle_mm[1] - high / 2
    right, bottom = left + wide, top + high
    deep = depth_mm(plan)
    if max(abs(each) for each in (left, right, top, bottom)) > _MOST_MM:
        raise BadRequest("The print would hang far outside this wall. Choose another place.")

    def quad(off: float, dx: float = 0.0, dy: float = 0.0) -> Quad:
        spots = [
            view.spot(x + dx, y + dy, off)
            for x, y in ((left, top), (right, top), (right, bottom), (left, bottom))
        ]
        return spots[0], spots[1], spots[2], spots[3]

    face, back = quad(deep), quad(0.0)
    sides = []
    for name, (one, other), shade in (
        ("left", (0, 3), 0.78),
        ("right", (1, 2), 0.78),
        ("top", (0, 1), 0.95),
        ("bottom", (3, 2), 0.55),
    ):
        side = face[one], face[other], back[other], back[one]
        # A side is visible if its outline has the same direction as seen from outside.
        turn = _area(side)
        outward = turn < 0 if name in ("right", "top") else turn > 0
        if outward and abs(turn) > 0.5:
            sides.append(Side(name, side, shade))
    # Light comes from above, slightly from the left.
    shadow = quad(0.0, 0.25 * deep + 1.0, 0.6 * deep + 3.0)
    per_mm = math.dist(face[0], face[2]) / math.hypot(wide, high)
    beyond = max(40.0, 0.12 * max(wide, high))
    steps = [at / 8 for at in range(1, 8)]
    ring = tuple(
        tuple(view.spot(*place(share, out)) for share in steps for out in (0.5, 1.0))
        for place in (
            lambda share, out: (left + share * wide, top - out * beyond),
            lambda share, out: (right + out * beyond, top + share * high),
            lambda share, out: (left + share * wide, bottom + out * beyond),
            lambda share, out: (left - out * beyond, top + share * high),
        )
    )
    return Hung(face, tuple(sides), shadow, (0.5 * deep + 4.0) * per_mm, ring)


def usual_middle(view: WallView, marks: RoomMarks) -> Spot:
    """Return a print's initial place, in mm on the wall: just above the photograph's centre."""
    return view.on_wall(((marks.width - 1) / 2, (marks.height - 1) / 2.4))


def _area(quad: Quad) -> float:
    """Return twice the signed area, positive if clockwise."""
    total = 0.0
    for (x0, y0), (x1, y1) in zip(quad, (*quad[1:], quad[0]), strict=True):
        total += x0 * y1 - x1 * y0
    return total


def _cross(a: Vector, b: Vector) -> Vector:
    return a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]


def _dot(a: Sequence[float], b: Sequence[float]) -> float:
    return sum(x * y for x, y in zip(a, b, strict=True))
