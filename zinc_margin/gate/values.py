"""Readers: each states what a JSON value may contain, and converts it.

A reader takes a JSON value and returns typed data; it raises `Wrong`, whose text names what is
allowed. `record`, `list_of` and `table_of` combine readers into declarations of whole files.
Numbers are exact: decimals or fractions.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
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
_MOST_ENTRIES = 100_000

Reader = Callable[[Any], Any]


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


def whole(low: int, high: int) -> Callable[[Any], int]:
    """Return a reader of whole numbers from `low` to `high`."""
    within = number(low, high)

    def read(value: Any) -> int:
        result = within(value)
        if result.denominator != 1:
            raise Wrong("must be a whole number")
        return int(result)

    return read


def figure(low: float, high: float) -> Callable[[Any], float]:
    """Return a reader of measured figures, which need not be exact, from `low` to `high`."""

    def read(value: Any) -> float:
        if isinstance(value, bool) or not isinstance(value, (int, float)):
            raise Wrong(f"must be a number from {low:g} to {high:g}")
        if not low <= value <= high:  # also refuses NaN
            raise Wrong(f"must be from {low:g} to {high:g}")
        return float(value)

    return read


def one_of(*allowed: Any) -> Reader:
    """Return a reader of certain words or numbers."""

    def read(value: Any) -> Any:
        # a list or table cannot be looked up in a set, and True equals 1
        if isinstance(value, (str, int)) and not isinstance(value, bool) and value in allowed:
            return value
        raise Wrong("must be one of " + ", ".join(map(str, allowed)))

    return read


def yes_or_no(value: Any) -> bool:
    """Read a JSON true or false."""
    if not isinstance(value, bool):
        raise Wrong("must be true or false")
    return value


def or_none(reader: Reader) -> Reader:
    """Return a reader that also accepts null."""
    return lambda value: None if value is None else reader(value)


def list_of(reader: Reader, least: int = 0, most: int = _MOST_ENTRIES) -> Reader:
    """Return a reader of a list, as a tuple."""
    count = str(least) if least == most else f"{least} to {most}"

    def read(value: Any) -> tuple[Any, ...]:
        if not isinstance(value, (list, tuple)) or not least <= len(value) <= most:
            raise Wrong(f"must be a list of {count} entries")
        return tuple(map(reader, value))

    return read


def table_of(reader: Reader, most: int = _MOST_ENTRIES) -> Reader:
    """Return a reader of an object with free keys, as a dict."""

    def read(value: Any) -> dict[str, Any]:
        if not isinstance(value, dict) or len(value) > most:
            raise Wrong(f"must be an object of at most {most} entries")
        return {name_from(key): reader(held) for key, held in value.items()}

    return read


def good_ones(entries: Iterable[Any], reader: Reader) -> Iterable[Any]:
    """Yield the entries that a reader accepts; leave out the others."""
    for each in entries:
        try:
            yield reader(each)
        except Wrong:
            continue


def record(needed: Mapping[str, Reader], also: Mapping[str, Reader] | None = None) -> Reader:
    """Return a reader of an object with known fields, as a dict; other fields are left out.

    Parameters
    ----------
    needed : mapping
        The fields that must be there.
    also : mapping
        Fields that may be missing, or null; they are then None.
    """
    readers = {**needed, **{name: or_none(reader) for name, reader in (also or {}).items()}}

    def read(value: Any) -> dict[str, Any]:
        if not isinstance(value, Mapping):
            raise Wrong("must be an object of fields")
        result = {}
        for name, reader in readers.items():
            if name in needed and name not in value:
                raise Wrong(f"lacks {name}")
            try:
                result[name] = reader(value.get(name))
            except Wrong as why:
                raise Wrong(f"{name} {why}") from None
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


def name_from(value: Any) -> str:
    """Read a text as `text_from` does, or bytes of a file name that are not UTF-8."""
    if not isinstance(value, str) or len(value) > 4000 or "\0" in value:
        raise Wrong("must be a name")
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
