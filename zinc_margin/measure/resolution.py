"""Resolution: pixels per inch as an exact rational, and the tag in a file."""

from __future__ import annotations

import re
from fractions import Fraction

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import MM_PER_INCH, parse_number, plain_text

LOWEST_PPI = Fraction(1)
HIGHEST_PPI = Fraction(10_000)
_LARGEST_PART = 2**32 - 1


def parse_ppi(text: str) -> Fraction:
    """Read ``300``, ``300 ppi``, ``300dpi`` or ``118 px/cm`` (converted to ppi).

    Raises
    ------
    BadRequest
        If it is not 1 to 10000 pixels per inch.
    """
    plain = plain_text(text)
    match = re.fullmatch(
        r"(.+?)\s*(ppi|dpi|px/in|pixels per inch|ppcm|px/cm|pixels per cm)?", plain
    )
    try:
        ppi = parse_number(match.group(1) if match else plain, "resolution")
    except BadRequest:
        raise BadRequest(
            f"“{text}” is not a resolution. Type 1 to 10000 ppi, for example 300."
        ) from None
    if match and match.group(2) in ("ppcm", "px/cm", "pixels per cm"):
        ppi *= MM_PER_INCH / 10
    if not LOWEST_PPI <= ppi <= HIGHEST_PPI:
        raise BadRequest(f"“{text}” is out of range. A resolution is 1 to 10000 ppi.")
    return ppi


def tag_for(pixels: int, length_mm: Fraction) -> tuple[int, int]:
    """Return the resolution tag, ppi as (numerator, denominator), for which `pixels` make
    `length_mm`.

    Both parts are 32-bit, as in TIFF and EXIF; if the exact value needs more, return the closest
    approximation.

    Parameters
    ----------
    pixels : int
        Pixel count of the photo.

    Examples
    --------
    A print of 3543 px that is exactly 300 mm wide:

    >>> tag_for(3543, Fraction(300))
    (149987, 500)
    """
    exact = pixels * MM_PER_INCH / length_mm
    if exact.numerator <= _LARGEST_PART and exact.denominator <= _LARGEST_PART:
        return exact.numerator, exact.denominator
    largest = _LARGEST_PART if exact <= 1 else (_LARGEST_PART / exact).__floor__()
    near = exact.limit_denominator(max(1, largest))
    return near.numerator, near.denominator


def round_half_up(value: Fraction) -> int:
    """Round to the nearest integer, halves up."""
    return (value + Fraction(1, 2)).__floor__()


def reach(width: int, height: int, ppi: Fraction) -> tuple[Fraction, Fraction]:
    """Return the size, in mm, of a print of these pixels at `ppi`.

    Examples
    --------
    >>> reach(6000, 4000, Fraction(300))
    (Fraction(508, 1), Fraction(1016, 3))
    """
    return width / ppi * MM_PER_INCH, height / ppi * MM_PER_INCH
