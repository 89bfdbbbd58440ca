"""Work out the size for one picture from a way to give it."""

from __future__ import annotations

import math
from fractions import Fraction

from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.resolution import round_half_up
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.way_labels import label_of
from zinc_margin.measure.ways import IN_PIXELS, Way


def size_for(way: Way, width: Fraction, height: Fraction, ppi: Fraction, lies: bool) -> PrintSize:
    """Return the size that a way describes.

    Parameters
    ----------
    width, height : Fraction
        Size of the printed part, in source pixels; it has the print's shape, except for mats and
        screens.
    ppi : Fraction
        Converts wishes in pixels to print units.
    lies : bool
        Whether boxes and mats are oriented as the picture.
    """
    ratio = width / height
    if way.kind in IN_PIXELS:
        across, down = pixels_for_wish(way, width, height, lies)
        return PrintSize(
            label_of(way), across / ppi * MM_PER_INCH, down / ppi * MM_PER_INCH, "screen"
        )
    if way.kind == "mat":
        opening_w, opening_h, reveal = way.values
        sides = _lying(opening_w - 2 * reveal, opening_h - 2 * reveal, ratio, lies)
        return PrintSize(label_of(way), *sides, "mat")
    if way.kind == "sheet":
        sheet_w, sheet_h = _lying(way.values[0], way.values[1], ratio, lies)
        border = way.values[2]
        return PrintSize(label_of(way), sheet_w - 2 * border, sheet_h - 2 * border, "sheet")
    if way.kind in ("shape", "reach"):
        shape = way.values[0] if way.kind == "shape" else ratio
        if way.kind == "shape" and lies and ratio != 1 and (shape > 1) != (ratio > 1):
            shape = 1 / shape
        at = way.values[0] if way.kind == "reach" else ppi
        wide = min(width, height * shape) / at * MM_PER_INCH
        return PrintSize(label_of(way), wide, wide / shape)
    if way.kind == "within":
        box_w, box_h = _lying(way.values[0], way.values[1], ratio, lies)
        wide = min(box_w, box_h * ratio)
    else:
        (side,) = way.values
        by_width = {
            "width": True,
            "height": False,
            "long-edge": width >= height,
            "short-edge": width < height,
        }[way.kind]
        wide = side if by_width else side * ratio
    return PrintSize(label_of(way), wide, wide / ratio)


def pixels_for_wish(way: Way, width: Fraction, height: Fraction, lies: bool) -> tuple[int, int]:
    """Return the file's pixels for a way in pixels.

    Parameters
    ----------
    width, height : Fraction
        In px of the rotated picture.
    lies : bool
        Whether boxes and mats are oriented as the picture.
    """
    ratio = width / height
    if way.kind == "screen":
        box_w, box_h = _lying(way.values[0], way.values[1], ratio, lies)
        return int(box_w), int(box_h)
    if way.kind == "within-px":
        box_w, box_h = _lying(way.values[0], way.values[1], ratio, lies)
        if box_w <= box_h * ratio:
            return int(box_w), max(1, min(int(box_h), round_half_up(box_w / ratio)))
        return max(1, min(int(box_w), round_half_up(box_h * ratio))), int(box_h)
    (value,) = way.values
    if way.kind == "long-edge-px":
        edge = int(value)
        if width >= height:
            return edge, max(1, round_half_up(edge / ratio))
        return max(1, round_half_up(edge * ratio)), edge
    if way.kind == "scale":
        return max(1, round_half_up(width * value)), max(1, round_half_up(height * value))
    # megapixels: never more than requested
    most = (value * 1_000_000).__floor__()
    across = max(1, math.isqrt((most * ratio).__floor__()))
    down = max(1, min(round_half_up(across / ratio), most // across))
    return across, down


def _lying(
    width: Fraction, height: Fraction, ratio: Fraction, lies: bool
) -> tuple[Fraction, Fraction]:
    """Orient a box as the picture."""
    if lies and ratio != 1 and (width > height) != (ratio > 1) and width != height:
        return height, width
    return width, height
