"""The test page that measures a paper: its layout, in mm from the corner of the printed block."""

from __future__ import annotations

from dataclasses import dataclass

WIDTH, HEIGHT = 170.0, 150.0
"""Size of the printed block, which is centred on any sheet large enough."""

MARK = 8.0
"""Side of the black squares in the corners."""
HOLE = 3.0
"""Side of the white hole in the first square, which shows the page's orientation."""
MARKS = ((4.0, 4.0), (166.0, 4.0), (4.0, 116.0), (166.0, 116.0))
"""Centres of the squares: top left, top right, bottom left, bottom right."""

PATCH = 9.0
STEPS = (4, 10, 18, 26, 34, 42, 50, 58, 66, 74, 82, 90)
"""L* of the patches that linearise a scan, from left to right."""
PATCHES = tuple((24.0 + 11.0 * at, 12.0) for at in range(len(STEPS)))
"""Centres of the patches."""

SLANT_DEG = 5.0


@dataclass(frozen=True)
class Target:
    """A slanted edge in a square.

    Attributes
    ----------
    x, y : float
        Its centre.
    side : float
    upright : bool
        Whether the edge is nearly vertical.
    low, high : float
        L* on its two sides.
    """

    x: float
    y: float
    side: float
    upright: bool
    low: float
    high: float


TARGETS = tuple(
    Target(20.0 + 26.0 * (at % 6), 38.0 + 30.0 * (at // 6), 23.0, at % 2 == 0, low, high)
    for at, (low, high) in enumerate([(45.0, 55.0)] * 4 + [(40.0, 60.0)] * 4 + [(25.0, 80.0)] * 4)
)

RULER = (20.0, 100.0, 100.0)
"""Left, top and length of a printed ruler."""

METAL = (30.0, 122.0, 110.0, 26.0)
"""Left, top, width and height of the window where a metal edge is placed for the scan."""
