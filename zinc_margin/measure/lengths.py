"""Lengths: read typed text and return exact millimetres."""

from __future__ import annotations

import re
from fractions import Fraction

from zinc_margin.measure.errors import BadRequest

MM_PER_INCH = Fraction(254, 10)
LONGEST_MM = Fraction(1_000_000)
"""A kilometre of print; anything longer is a typing mistake."""

UNITS: dict[str, Fraction] = {
    **dict.fromkeys(("mm", "millimetre", "millimetres", "millimeter", "millimeters"), Fraction(1)),
    **dict.fromkeys(("cm", "centimetre", "centimetres", "centimeter", "centimeters"), Fraction(10)),
    **dict.fromkeys(("m", "metre", "metres", "meter", "meters"), Fraction(1000)),
    **dict.fromkeys(('"', "″", "”", "''", "in", "ins", "inch", "inches"), MM_PER_INCH),
    **dict.fromkeys(("'", "′", "’", "ft", "foot", "feet"), MM_PER_INCH * 12),
}

_VULGAR = {
    "½": "1/2",
    "¼": "1/4",
    "¾": "3/4",
    "⅓": "1/3",
    "⅔": "2/3",
    "⅛": "1/8",
    "⅜": "3/8",
    "⅝": "5/8",
    "⅞": "7/8",
}
_NUMBER = re.compile(r"(?:(\d+)\s+)?(\d+)\s*/\s*(\d+)|(\d+(?:[.,]\d*)?|[.,]\d+)")


def plain_text(text: str) -> str:
    """Return `text` in lower case, with plain characters for typographic fractions and signs."""
    for sign, spelled in _VULGAR.items():
        text = text.replace(sign, " " + spelled)
    text = text.replace("''", '"')
    return " ".join(text.replace("−", "-").replace("⁄", "/").lower().split())


def parse_number(text: str, what: str = "number") -> Fraction:
    """Read ``8.5``, ``8,5``, ``8 1/2``, ``1/2`` or ``8½`` exactly.

    Parameters
    ----------
    what : str
        Its name in error sentences.

    Raises
    ------
    BadRequest
        If the text is not a positive number.

    Examples
    --------
    >>> parse_number("8½", "number")
    Fraction(17, 2)
    """
    plain = plain_text(text)
    match = _NUMBER.fullmatch(plain)
    if match is None or len(plain) > 40:
        raise BadRequest(f"“{text}” is not a {what}. Type a number.")
    whole, over, under, decimal = match.groups()
    if decimal is not None:
        return Fraction("0" + decimal.replace(",", ".").rstrip("."))
    if int(under) == 0:
        raise BadRequest(f"“{text}” divides by zero.")
    return int(whole or 0) + Fraction(int(over), int(under))


def split_unit(text: str) -> tuple[str, Fraction | None]:
    """Split off a trailing unit of length and return it in mm, or None without a unit."""
    plain = plain_text(text)
    for name in sorted(UNITS, key=len, reverse=True):
        if plain.endswith(name):
            rest = plain[: -len(name)].rstrip()
            if rest and (not name.isalpha() or not rest[-1].isalpha()):
                return rest, UNITS[name]
    return plain, None


def parse_length(text: str, default_unit: str = "cm") -> Fraction:
    """Read a length; a number without a unit is in `default_unit`.

    Parameters
    ----------
    text : str
        ``80cm``, ``2.2 m``, ``8 1/2 in``, ``31½"``, ``5 ft 6 in`` …
    default_unit : str
        A key of `UNITS`.

    Returns
    -------
    Fraction
        Millimetres, greater than 0 and at most `LONGEST_MM`.

    Examples
    --------
    >>> parse_length("8 1/2 in", "cm")
    Fraction(2159, 10)
    >>> parse_length("80", "cm")
    Fraction(800, 1)
    """
    feet = re.fullmatch(r"(\d+)\s*(?:ft|feet|foot|'|′)\s*(.+)", plain_text(text))
    if feet is not None and feet.group(2):
        return int(feet.group(1)) * UNITS["ft"] + parse_length(feet.group(2), "in")
    number, unit = split_unit(text)
    if not number:
        raise BadRequest(f"“{text}” has no number in it.")
    length = parse_number(number, "length") * (unit or UNITS[default_unit])
    if length <= 0:
        raise BadRequest(f"“{text}” is not a length: it must be more than zero.")
    if length > LONGEST_MM:
        raise BadRequest(f"“{text}” is over a kilometre. Type a smaller length.")
    return length


def nothing_or(text: str, default_unit: str = "mm") -> Fraction:
    """Read a length that may be zero: ``0``, ``0 mm``, ``12 mm``.

    Parameters
    ----------
    default_unit : str
        The unit of a number without one, a key of `UNITS`.

    Returns
    -------
    Fraction
        In mm, 0 or more.
    """
    if re.fullmatch(r"0+([.,]0+)?\s*[a-z]*", text.strip().lower()):
        return Fraction(0)
    return parse_length(text, default_unit)


def inches(mm: Fraction) -> Fraction:
    """Return a length in inches."""
    return mm / MM_PER_INCH
