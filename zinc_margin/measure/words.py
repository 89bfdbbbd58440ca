"""Numbers and lengths as text."""

from __future__ import annotations

import os
import re
from fractions import Fraction
from functools import cache
from math import gcd

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import MM_PER_INCH, parse_number, plain_text
from zinc_margin.measure.tables import table

_UNITS = {
    "": 1, "b": 1, "byte": 1, "bytes": 1,
    "k": 10**3, "kb": 10**3, "m": 10**6, "mb": 10**6, "g": 10**9, "gb": 10**9,
    "kib": 2**10, "mib": 2**20, "gib": 2**30,
}  # fmt: skip
LEAST_BYTES = 10_000


def parse_bytes(text: str) -> int:
    """Read a file size: ``2 MB``, ``500 kB``, ``1.5MB`` or ``800000``.

    kB and MB are powers of 1000, the stricter reading, so the file fits under either.

    Raises
    ------
    BadRequest
        If it is not a file size, or under 10 kB.
    """
    plain = plain_text(text)
    match = re.fullmatch(r"(.*?\d)\s*([a-z]*)", plain)
    unit = _UNITS.get(match[2]) if match else None
    if match is None or unit is None:
        raise BadRequest(f"“{text}” is not a file size. Type one, for example 2 MB or 500 kB.")
    count = int(parse_number(match[1], "file size") * unit)
    if count < LEAST_BYTES:
        raise BadRequest(f"“{text}” is too small for any picture. Type at least 10 kB.")
    return count


Number = float | Fraction

UNITS_SHOWN = ("cm", "in", "px/cm")
"""Display units: centimetres with ppi, inches with ppi, centimetres with px/cm."""

_EIGHTHS = {
    Fraction(1, 8): "⅛", Fraction(1, 4): "¼", Fraction(3, 8): "⅜", Fraction(1, 2): "½",
    Fraction(5, 8): "⅝", Fraction(3, 4): "¾", Fraction(7, 8): "⅞",
}  # fmt: skip


@cache
def decimal_mark() -> str:
    """Return the locale's decimal mark: a point or a comma."""
    keys = ("LC_ALL", "LC_NUMERIC", "LANG")
    name = next((os.environ[key] for key in keys if os.environ.get(key)), "").split(".")[0]
    known = table("decimals")
    if name in known["comma_in"]:
        return ","
    comma = name.split("_")[0] in known["comma"] and name not in known["point_in"]
    return "," if comma else "."


_DECIMAL = re.compile(r"(?<=\d)\.(?=\d)")


def local(text: str) -> str:
    """Write a sentence's decimals with the locale's mark, for screen and terminal.

    Parameters
    ----------
    text : str
        Text without file names, which must not change.
    """
    mark = decimal_mark()
    return text if mark == "." else _DECIMAL.sub(mark, text)


_HIDDEN = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]")
"""Controls and marks of direction. File names, metadata and printers' answers may contain them."""


def clean(text: str) -> str:
    """Return a text without controls; line breaks and tabs stay."""
    return _HIDDEN.sub("�", text)


def capital(text: str) -> str:
    """Return a sentence with a capital first letter."""
    return text[:1].upper() + text[1:]


def trimmed_zeros(value: Number, places: int) -> str:
    """Write a number with at most `places` decimals and no trailing zeros.

    Parameters
    ----------
    places : int
        The most decimals.
    """
    text = f"{float(value):.{places}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return "0" if text == "-0" else text.replace("-", "−")


def in_inches(mm: Number, places: int = 2) -> str:
    """Write a length in inches: eighths as fractions, other values as decimals.

    Parameters
    ----------
    places : int
        The most decimals.
    """
    exact = Fraction(mm) / MM_PER_INCH if isinstance(mm, Fraction) else None
    if exact is not None and exact % 1 in _EIGHTHS:
        whole = exact.__floor__()
        return f"{whole or ''}{_EIGHTHS[exact % 1]}"
    return trimmed_zeros(float(mm) / float(MM_PER_INCH), places)


def unit(units: str) -> str:
    """Return the unit of length of these display units: ``cm`` or ``in``.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    return "in" if units == "in" else "cm"


def side(mm: Number, units: str) -> str:
    """Write one side of a print, in cm or in, without the unit.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    return in_inches(mm) if units == "in" else trimmed_zeros(float(mm) / 10, 2)


def pair(width_mm: Number, height_mm: Number, units: str) -> str:
    """Write a print size: ``30 × 20 cm``.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.

    Examples
    --------
    >>> pair(Fraction(2159, 10), Fraction(2794, 10), "in")
    '8½ × 11 in'
    """
    return f"{side(width_mm, units)} × {side(height_mm, units)} {unit(units)}"


def length(mm: Number, units: str) -> str:
    """Write a distance in a suitable unit: ``45 cm``, ``2.2 m``, ``18 in``, ``7.2 ft``.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    value = float(mm)
    if units == "in":
        inch = value / 25.4
        if inch >= 72:
            return f"{trimmed_zeros(inch / 12, 1)} ft"
        return f"{trimmed_zeros(inch, 1 if inch < 20 else 0)} in"
    if value >= 1000:
        return f"{trimmed_zeros(value / 1000, 2 if value < 10_000 else 1)} m"
    return f"{trimmed_zeros(value / 10, 1 if value < 100 else 0)} cm"


def span(near_mm: Number, far_mm: Number, units: str) -> str:
    """Write a range of distances in one unit, ``70–110 cm``; a single distance if both ends agree.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.

    Examples
    --------
    >>> span(700, 1100, "cm")
    '70–110 cm'
    """
    near, far = length(near_mm, units), length(far_mm, units)
    if near == far:
        return far
    for name, mm, places, least in _SPANS[unit(units)]:
        if float(near_mm) >= least:
            ends = (trimmed_zeros(float(end) / mm, places) for end in (near_mm, far_mm))
            return "–".join(ends) + f" {name}"
    raise AssertionError


_SPANS = {
    "cm": (("m", 1000.0, 1, 1000.0), ("cm", 10.0, 0, 100.0), ("mm", 1.0, 0, 0.0)),
    "in": (("ft", 304.8, 1, 914.0), ("in", 25.4, 0, 100.0), ("in", 25.4, 1, 0.0)),
}
"""Units for a range: name, mm, decimals, and the smallest near end that uses them."""


def small(mm: Number, units: str, longest: Number = 0) -> str:
    """Write a short length, such as a trimmed edge: ``12.5 mm``, ``0.49 in``.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    longest : float
        The longest length in mm of the same list, which decides its unit.

    Examples
    --------
    >>> [small(mm, "cm", 100) for mm in (99.94, 100)]
    ['10 cm', '10 cm']
    """
    if units == "in":
        return f"{trimmed_zeros(float(mm) / 25.4, 2)} in"
    value = float(mm)
    if max(value, float(longest)) < 100:
        return f"{trimmed_zeros(value, 1)} mm"
    return f"{trimmed_zeros(value / 10, 1)} cm"


def ppi(value: Number) -> str:
    """Write a resolution without the unit."""
    return trimmed_zeros(value, 0 if float(value) >= 100 else 1)


def resolution(value: Number, units: str = "cm") -> str:
    """Write a resolution: ``300 ppi``, or converted, ``118.1 px/cm``.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    if units != "px/cm":
        return f"{ppi(value)} ppi"
    per_cm = float(value) / 2.54
    return f"{trimmed_zeros(per_cm, 1 if per_cm >= 10 else 2)} px/cm"


def resolution_range(low: Number, high: Number, units: str = "cm") -> str:
    """Write a range of resolutions; a single one if both ends read the same.

    Examples
    --------
    >>> resolution_range(56.8, 71.4)
    '56.8–71.4 ppi'
    """
    first, last = resolution(low, units), resolution(high, units)
    return last if first == last else f"{first.split()[0]}–{last}"


def share(value: Number) -> str:
    """Write a share of 0 to 1 in percent: ``0 %``, ``under 0.1 %``, ``3.4 %``, ``17 %``."""
    percent = float(value) * 100
    if 0 < percent < 0.1:
        return "under 0.1 %"
    return f"{trimmed_zeros(percent, 0 if percent >= 10 else 1)} %"


def times(enlargement: Number) -> str:
    """Write an enlargement factor; a dash if nothing is enlarged.

    Parameters
    ----------
    enlargement : Number
        1 without enlargement.
    """
    value = float(enlargement)
    if value <= 1.0005:
        return "–"
    return f"{trimmed_zeros(value, 2 if value < 10 else 1)} ×"


def megapixels(width: int, height: int) -> str:
    """Write a picture's size in megapixels."""
    value = width * height / 1e6
    if value < 0.005:
        return "under 0.01 MP"
    return f"{trimmed_zeros(value, 0 if value >= 10 else 1 if value >= 1 else 2)} MP"


def size_in_bytes(count: Number) -> str:
    """Write a file's size: ``163 MB``, ``1.9 GB``, ``12 kB``.

    Parameters
    ----------
    count : Number
        Bytes.
    """
    for name, unit in (("GB", 1e9), ("MB", 1e6), ("kB", 1e3)):
        if float(count) >= unit:
            value = float(count) / unit
            return f"{trimmed_zeros(value, 0 if value >= 20 else 1)} {name}"
    return f"{int(count)} bytes"


def seconds(value: float) -> str:
    """Write a duration: ``under a second``, ``12 s``, ``3 min``.

    Parameters
    ----------
    value : float
        Seconds, 0 or more.
    """
    if value < 1:
        return "under a second"
    return f"{value:.0f} s" if value < 100 else f"{value / 60:.0f} min"


def shape(width: int, height: int) -> str:
    """Write an aspect ratio: ``3:2`` if it is a common one, else ``1.47:1``."""
    known = {(3, 2), (4, 3), (5, 4), (1, 1), (16, 9), (2, 1), (3, 1), (7, 5), (16, 10), (6, 7)}
    exact = (width // gcd(width, height), height // gcd(width, height))
    if exact in known or exact[::-1] in known:
        return f"{exact[0]}:{exact[1]}"
    for first, second in sorted(known | {(b, a) for a, b in known}):
        if abs(width / height / (first / second) - 1) < 0.003:
            return f"about {first}:{second}"
    ratio = width / height
    if ratio >= 1:
        return f"{trimmed_zeros(ratio, 2)}:1"
    return f"1:{trimmed_zeros(1 / ratio, 2)}"


NAME_BYTES = 200
"""Limit for file names. File systems allow 255; suffixes, numbers and partial marks need some."""


def bytes_of(name: str) -> int:
    """Return the length of a file name in bytes.

    Parameters
    ----------
    name : str
        Bytes that are not UTF-8 are surrogates.
    """
    return len(name.encode("utf-8", "surrogateescape"))


def shorten(name: str, most: int = NAME_BYTES) -> str:
    """Return a name cut to at most this many bytes, between two characters.

    Parameters
    ----------
    name : str
        Bytes that are not UTF-8 are surrogates.
    most : int
        Bytes, 1 or more.
    """
    raw = name.encode("utf-8", "surrogateescape")
    if len(raw) <= most:
        return name
    end = most
    while end and raw[end] & 0xC0 == 0x80:  # inside a multi-byte character
        end -= 1
    return raw[: end or most].decode("utf-8", "surrogateescape")
