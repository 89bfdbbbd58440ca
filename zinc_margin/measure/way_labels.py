"""Ways to give a size as text."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.sizes import decimal
from zinc_margin.measure.ways import Way


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
