"""Pointing at the nest and dragging its edges, in exact sizes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.measure import words
from zinc_margin.measure.distances import Seen
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.resolution import HIGHEST_PPI, LOWEST_PPI
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.plan.size.distance import sharp_from

_LARGEST = 500_000.0  # mm; the longest viewing distance that dragging sets


def step_mm(units: str) -> Fraction:
    """Return the step of free sizes, in mm: a millimetre, or an eighth of an inch.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    return MM_PER_INCH / 8 if words.unit(units) == "in" else Fraction(1)


def size_at(
    x_mm: float, y_mm: float, shape: Fraction, near_mm: float, units: str = "cm"
) -> PrintSize:
    """Return the print whose free corner is at this point, in the photo's shape if close to it.

    Parameters
    ----------
    x_mm, y_mm : float
        Distance from the common corner.
    shape : Fraction
        Width ÷ height of the photo.
    near_mm : float
        Distance from the diagonal within which the shape is exact.
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    if abs(x_mm - y_mm * float(shape)) / math.hypot(1, float(shape)) <= near_mm:
        return _of_shape(shape, max(x_mm, y_mm * float(shape)), units)
    return _size_of(_to_step(x_mm, units), _to_step(y_mm, units), units)


def drag_size(
    size: PrintSize,
    grip: str,
    x_mm: float,
    y_mm: float,
    known: Sequence[PrintSize] = (),
    near_mm: float = 0.0,
    units: str = "cm",
) -> PrintSize:
    """Return the size after an edge or the free corner was dragged to a point.

    Parameters
    ----------
    size : PrintSize
        The dragged size; dragging its corner keeps its shape.
    grip : str
        ``corner``, ``right`` or ``top``.
    x_mm, y_mm : float
        Distance from the common corner.
    known : sequence of PrintSize
        Sizes to snap to: by the corner if both sides are within `near_mm`, by an edge if the moved
        side matches one of theirs.
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    if grip == "corner":
        for other in known:
            off = max(abs(float(other.width_mm) - x_mm), abs(float(other.height_mm) - y_mm))
            if off <= near_mm:
                return other
        ratio = size.width_mm / size.height_mm
        return _of_shape(ratio, max(1.0, x_mm, y_mm * float(ratio)), units)
    width, height = size.width_mm, size.height_mm
    if grip == "right":
        width = _snap(x_mm, [other.width_mm for other in known], near_mm, units)
    else:
        height = _snap(y_mm, [other.height_mm for other in known], near_mm, units)
    for other in known:
        if (other.width_mm, other.height_mm) == (width, height):
            return other
    return _size_of(width, height, units)


def drag_reach(
    docket: Docket, edge: str, shape_px: tuple[int, int], x_mm: float, y_mm: float, free: bool
) -> Docket:
    """Return the docket after a reach edge was dragged: its ppi, or the distance, follows.

    Parameters
    ----------
    edge : str
        ``asked``, ``floor`` or ``eye``.
    shape_px : (int, int)
        The picture's width and height in its own pixels.
    x_mm, y_mm : float
        Distance from the common corner.
    free : bool
        False rounds to a nearby multiple of ten ppi or cm.
    """
    width, height = shape_px
    wide = max(1.0, x_mm, y_mm * width / height)
    exact = width / wide * 25.4
    if edge == "eye":
        distance = min(_LARGEST, sharp_from(max(1.0, exact))) / 10
        seen = _round(distance, free)
        return _with_size(docket, distance=Seen.at(max(Fraction(1), seen) * 10))
    ppi = min(HIGHEST_PPI, max(LOWEST_PPI, _round(exact, free)))
    return _with_size(docket, **{"ppi" if edge == "asked" else "floor": ppi})


def _with_size(docket: Docket, **fields: Fraction | Seen) -> Docket:
    return replace(docket, size=replace(docket.size, **fields))  # type: ignore[arg-type]


def _round(value: float, free: bool) -> Fraction:
    whole = round(value)
    ten = round(value / 10) * 10
    return Fraction(ten if not free and abs(value - ten) <= 0.02 * value and ten else whole)


def _snap(mm: float, sides: Sequence[Fraction], near_mm: float, units: str) -> Fraction:
    nearest = min(sides, key=lambda side: abs(float(side) - mm), default=None)
    if nearest is not None and abs(float(nearest) - mm) <= near_mm:
        return nearest
    return _to_step(mm, units)


def _to_step(mm: float, units: str) -> Fraction:
    step = step_mm(units)
    return max(step, round(Fraction(mm).limit_denominator(10**6) / step) * step)


def _of_shape(shape: Fraction, width_mm: float, units: str) -> PrintSize:
    """Return a size of this shape: whole steps along its longer side; the other side is exact."""
    if shape >= 1:
        width = _to_step(width_mm, units)
        return _size_of(width, width / shape, units)
    height = _to_step(width_mm / float(shape), units)
    return _size_of(height * shape, height, units)


def _size_of(width: Fraction, height: Fraction, units: str) -> PrintSize:
    return PrintSize(words.pair(width, height, units), width, height)
