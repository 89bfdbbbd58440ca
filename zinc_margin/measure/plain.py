"""Exact values in JSON: numbers as decimals or fractions, sizes, and ways to give a size."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from fractions import Fraction
from typing import Any

from zinc_margin.measure.distances import Seen
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import LONGEST_MM
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.ways import WAYS, Way

_MOST_DIGITS = 400
_NUMBER = re.compile(
    r"[+-]?(\d+(/\d+)?|(\d+\.\d*|\.?\d+)(e[+-]?\d{1,3})?)", re.IGNORECASE | re.ASCII
)
_MOST_WAY = 10**7


class Wrong(Exception):
    """A value outside its allowed range; the text names what is allowed."""


def plain(value: Any) -> Any:
    """Return a value as plain JSON data.

    Parameters
    ----------
    value : Fraction, PrintSize, Way, or whatever JSON holds already
        Fractions become integers, exact decimals, or text such as ``"1/3"``.
    """
    if isinstance(value, Fraction):
        # Use a plain decimal where it is exact, for people who read the file.
        return int(value) if value.denominator == 1 else _decimal(value)
    if isinstance(value, Seen):
        return [plain(value.near_mm), plain(value.far_mm)]
    if isinstance(value, PrintSize):
        return {
            "label": value.label,
            "width_mm": plain(value.width_mm),
            "height_mm": plain(value.height_mm),
        }
    if isinstance(value, Way):
        named = zip(WAYS[value.kind], value.values, strict=True)
        label = {"label": value.label} if value.label else {}
        frame = {"frame_mm": [plain(side) for side in value.frame]} if value.frame else {}
        return {"kind": value.kind} | label | {name: plain(part) for name, part in named} | frame
    return value


def _decimal(value: Fraction) -> str:
    for places in range(1, 10):
        if 10**places % value.denominator == 0:
            whole, rest = divmod(abs(int(value * 10**places)), 10**places)
            return f"{'-' if value < 0 else ''}{whole}.{rest:0{places}d}"
    return str(value)


def exact(value: Any) -> Fraction:
    """Return an exact number; reject an excessive exponent before expanding it.

    Parameters
    ----------
    value : Any
        A JSON value: an int, a float, or text like ``"0.5"`` or ``"1/3"``.

    Raises
    ------
    ValueError
        If it is not a number, or is too long.
    """
    if isinstance(value, bool) or not isinstance(value, (int, float, str)):
        raise ValueError("is not a number")
    # Python refuses to print an integer of thousands of digits, even in a message.
    text = "" if isinstance(value, int) and abs(value) >= 10**_MOST_DIGITS else str(value).strip()
    if len(text) > _MOST_DIGITS or not _NUMBER.fullmatch(text):
        raise ValueError("is not a number")
    try:
        return Fraction(text)
    except ZeroDivisionError:
        raise ValueError("divides by zero") from None


def number(low: Fraction | int, high: Fraction | int) -> Callable[[Any], Fraction]:
    """Return a reader of exact numbers from `low` to `high`.

    Parameters
    ----------
    low, high : Fraction or int
        Inclusive bounds.

    Returns
    -------
    callable
        Accepts an int, a float, or text like ``"0.5"`` or ``"1/3"``; raises `Wrong`.
    """

    def read(value: Any) -> Fraction:
        try:
            result = exact(value)
        except ValueError:
            raise Wrong(f"must be a number from {low} to {high}") from None
        if not low <= result <= high:
            raise Wrong(f"must be from {low} to {high}")
        return result

    return read


def length_from(value: Any) -> Fraction:
    """Read a length in mm, above 0 and at most a kilometre.

    Parameters
    ----------
    value : Any
        A JSON value.
    """
    length = number(0, LONGEST_MM)(value)
    if length == 0:
        raise Wrong("must be more than 0")
    return length


def seen_from(value: Any) -> Seen:
    """Read a viewing distance: near end and far end, in mm.

    Parameters
    ----------
    value : Any
        A JSON list of two lengths.
    """
    if isinstance(value, Seen):
        return value
    if not isinstance(value, list) or len(value) != 2:
        raise Wrong("must be two lengths in mm, near and far")
    near, far = (length_from(end) for end in value)
    try:
        return Seen(near, far)
    except BadRequest as why:
        raise Wrong(f"must be two lengths in mm: {why}") from None


def text_from(value: Any) -> str:
    """Read a text of 1 to 4000 characters without NUL.

    Parameters
    ----------
    value : Any
        A JSON value.
    """
    if not isinstance(value, str) or not value or len(value) > 4000 or "\0" in value:
        raise Wrong("must be a short text")
    if any("\ud800" <= letter <= "\udfff" for letter in value):
        raise Wrong("must be complete text: it has half of a surrogate pair")
    return value


def size_from(value: Any) -> PrintSize:
    """Read a print size: ``width_mm``, ``height_mm`` and an optional ``label``.

    Parameters
    ----------
    value : Any
        A JSON value.
    """
    if not isinstance(value, Mapping):
        raise Wrong("must have width_mm and height_mm")
    width, height = length_from(value.get("width_mm")), length_from(value.get("height_mm"))
    label = value.get("label")
    return PrintSize(text_from(label) if label else f"{width} × {height} mm", width, height)


def way_from(value: Any) -> Way:
    """Read a way to give a size: its ``kind``, the values of that kind and an optional ``label``.

    Parameters
    ----------
    value : Any
        A JSON value.
    """
    # a list cannot be a dict key
    if not isinstance(value, Mapping) or value.get("kind") not in list(WAYS):
        raise Wrong("must have a kind: " + ", ".join(WAYS))
    names = WAYS[value["kind"]]
    try:
        values = tuple(number(-_MOST_WAY, _MOST_WAY)(value.get(name)) for name in names)
        label = text_from(value["label"]) if value.get("label") else ""
        frame = value.get("frame_mm")
        outer = None if frame is None else (length_from(frame[0]), length_from(frame[1]))
        return Way(value["kind"], values, label, frame=outer)
    except (TypeError, IndexError, KeyError):
        raise Wrong("must have a frame of two lengths") from None
    except BadRequest as why:
        raise Wrong(f"is not possible: {why}") from None
