"""Read figures back from sentences, with the error that their rounding allows."""

from __future__ import annotations

import re

_EIGHTHS = {"⅛": 1 / 8, "¼": 1 / 4, "⅜": 3 / 8, "½": 1 / 2, "⅝": 5 / 8, "¾": 3 / 4, "⅞": 7 / 8}
_NUMBER = r"(?:\d[\d.]*[½⅛¼⅜⅝¾⅞]?|[½⅛¼⅜⅝¾⅞])"
_MM = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "ft": 304.8}
_PAIR = re.compile(rf"({_NUMBER}) ?[×x] ?({_NUMBER}) ?(cm|in|mm)\b")
_PIXELS = re.compile(r"(\d+) × (\d+) px")
_PPI = re.compile(r"([\d.]+)(?:–([\d.]+))? (ppi|px/cm)")


def value_of(number: str) -> tuple[float, float]:
    """Return a written number, and half a unit of its last place."""
    if number[-1] in _EIGHTHS:
        return float(number[:-1] or 0) + _EIGHTHS[number[-1]], 1e-9
    return float(number), 0.5 * 10.0 ** -len(number.partition(".")[2])


def pairs(text: str) -> list[tuple[float, float, float]]:
    """Return every size in a text: both sides and their error, in mm.

    Sizes are written with up to two decimals and without trailing zeros.
    """
    result = []
    for first, second, unit in _PAIR.findall(text):
        mm = _MM[unit]
        error = 0.0 if {first[-1], second[-1]} <= set(_EIGHTHS) else 0.00501 * mm
        result.append((value_of(first)[0] * mm, value_of(second)[0] * mm, error))
    return result


def pixels(text: str) -> list[tuple[int, int]]:
    """Return every ``W × H px`` in a text."""
    return [(int(wide), int(high)) for wide, high in _PIXELS.findall(text)]


def resolutions(text: str) -> list[tuple[float, float]]:
    """Return the ends of every resolution in a text, widened by its rounding, in ppi."""
    result = []
    for low, high, unit in _PPI.findall(text):
        per = 1.0 if unit == "ppi" else 2.54
        place = 0.5 if float(low) >= 100 else 0.05 if per == 1 or float(low) >= 10 else 0.005
        result.append(
            ((float(low) - place) * per - 1e-6, (float(high or low) + place) * per + 1e-6)
        )
    return result
