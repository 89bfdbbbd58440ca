"""Work out the size for one picture from a way to give it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from fractions import Fraction

from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.resolution import round_half_up
from zinc_margin.measure.sizes import PrintSize, decimal
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


def label_of(way: Way) -> str:
    """Return a way as text that can be typed again."""
    if way.label:
        return way.label
    sides = way.values[:2] if way.kind in ("within", "mat", "sheet") else way.values[:1]
    values, unit = _in_rounder_unit(sides)
    plain = [decimal(value, 2) for value in way.values]
    if way.kind == "mat":
        reveal = way.values[2]
        edge = "reveal" if reveal >= 0 else "overlap"
        return f"mat {values[0]} × {values[1]} {unit}, {edge} {decimal(abs(reveal), 2)} mm"
    if way.kind == "sheet":
        sheet = f"{values[0]} × {values[1]} {unit}"
        return f"sheet {sheet}, border {decimal(way.values[2], 2)} mm"
    return {
        "shape": f"{_ratio_words(way.values[0])} as large as possible",
        "reach": f"all pixels at {plain[0]} ppi",
        "width": f"width {values[0]} {unit}",
        "height": f"height {values[0]} {unit}",
        "long-edge": f"long edge {values[0]} {unit}",
        "short-edge": f"short edge {values[0]} {unit}",
        "within": f"within {' × '.join(values)} {unit}",
        "within-px": f"within {' × '.join(plain)} px",
        "screen": f"screen {' × '.join(plain)} px",
        "long-edge-px": f"long edge {plain[0]} px",
        "scale": f"at {decimal(way.values[0] * 100, 2)} %",
        "megapixels": f"of {plain[0]} MP",
    }[way.kind]


def _in_rounder_unit(lengths: Sequence[Fraction]) -> tuple[list[str], str]:
    """Return lengths in mm as text in cm or inches, whichever needs fewer digits.

    Lengths that were typed in inches come back in inches; a way does not keep its unit.
    """
    metric = [decimal(length / 10, 2) for length in lengths]
    inches = [decimal(length / MM_PER_INCH, 2) for length in lengths]
    exact = all(
        Fraction(text) * MM_PER_INCH == mm for text, mm in zip(inches, lengths, strict=True)
    )
    if exact and sum(map(_digits, inches)) < sum(map(_digits, metric)):
        return inches, "in"
    return metric, "cm"


def _digits(text: str) -> int:
    return len(text.partition(".")[2])


def _ratio_words(ratio: Fraction) -> str:
    if max(ratio.numerator, ratio.denominator) <= 40:
        return f"{ratio.numerator}:{ratio.denominator}"
    return f"{decimal(ratio, 4)}:1" if ratio >= 1 else f"1:{decimal(1 / ratio, 4)}"
