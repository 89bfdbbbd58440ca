"""Print sizes: typed sizes and the catalogue."""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction
from functools import cache

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import UNITS, parse_length, parse_number, plain_text, split_unit
from zinc_margin.measure.tables import table

_COMPOUND = re.compile(r"\d\s*(?:ft|feet|foot|'|′)\s*\d")
"""Matches feet and inches together."""


@dataclass(frozen=True)
class PrintSize:
    """A print size in exact millimetres, as requested.

    Attributes
    ----------
    label : str
        Its usual name: ``A3+``, ``12 × 9 in``.
    width_mm, height_mm : Fraction
        Greater than 0.
    family : str
        Its family in the catalogue; ``own`` for a typed size.
    """

    label: str
    width_mm: Fraction
    height_mm: Fraction
    family: str = "own"

    def lying(self, upright: bool) -> PrintSize:
        """Return this size in portrait (`upright`) or landscape orientation."""
        if self.width_mm == self.height_mm or (self.height_mm > self.width_mm) == upright:
            return self
        return self.swapped()

    def swapped(self) -> PrintSize:
        """Return this size with width and height exchanged."""
        return PrintSize(_swap_label(self.label), self.height_mm, self.width_mm, self.family)


def _swap_label(label: str) -> str:
    first, cross, rest = label.partition(" × ")
    if not cross or not label[:1].isdigit():
        return label  # a named size keeps its name in both orientations
    second, _, unit = rest.rpartition(" ")
    return f"{second} × {first} {unit}".strip()


def _tidy(text: str) -> str:
    return plain_text(text).replace(" ", "").replace("×", "x")


@cache
def catalogue() -> tuple[PrintSize, ...]:
    """Return every size of the shipped catalogue, in display order."""
    rows = []
    for family in table("sizes")["families"]:
        unit = UNITS[family["unit"]]
        for entry in family["sizes"]:
            width, height = (Fraction(part) for part in entry["size"])
            label = entry.get("name") or f"{entry['size'][0]} × {entry['size'][1]} {family['unit']}"
            rows.append(PrintSize(label, width * unit, height * unit, family["name"]))
    return tuple(rows)


@cache
def _by_name() -> dict[str, PrintSize]:
    names: dict[str, PrintSize] = {}
    for size in catalogue():
        names.setdefault(_tidy(size.label), size)
    return names


@cache
def _standing() -> frozenset[str]:
    rows = (entry for family in table("sizes")["families"] for entry in family["sizes"])
    return frozenset(entry["name"] for entry in rows if entry.get("stands"))


def stands(size: PrintSize) -> bool:
    """Return whether a size keeps its orientation for any photo, as a passport photo does."""
    return size.label in _standing()


def is_known(name: str) -> bool:
    """Return whether the catalogue has a size with this name."""
    return _tidy(name) in _by_name()


def parse_size(text: str, default_unit: str = "cm") -> PrintSize:
    """Read a print size: a catalogue name or two lengths.

    Parameters
    ----------
    text : str
        ``A3+``, ``27x18``, ``27 × 18 in``, ``8 1/2 x 11``, ``70cm x 46cm`` …
    default_unit : str
        The unit of numbers without one.

    Raises
    ------
    BadRequest
        The sentence quotes the unreadable part.

    Examples
    --------
    >>> size = parse_size("27x18 in", "cm")
    >>> size.label, size.width_mm
    ('27 × 18 in', Fraction(3429, 5))
    """
    named = _by_name().get(_tidy(text))
    if named is not None:
        return named
    parts = re.split(r"\s*(?:×|x|\*| by )\s*", plain_text(text))
    if len(parts) != 2 or not all(parts):
        raise BadRequest(f"Unknown size “{text}”. Type a name (A3+) or two sides (27x18in).")
    first, own_unit = split_unit(parts[0])
    second, unit = split_unit(parts[1])
    # People name sizes in inches by halves and eighths.
    usual = "in" if "/" in first + second and own_unit is None else default_unit
    unit_name = usual if unit is None else _name_of(unit)
    own_name = unit_name if own_unit is None else _name_of(own_unit)
    try:
        width, height = parse_length(parts[0], own_name), parse_length(parts[1], unit_name)
    except BadRequest as why:
        raise BadRequest(f"The size “{text}” cannot be read: {why}") from None
    if own_name == unit_name and not any(_COMPOUND.search(part) for part in parts):
        label = f"{_write(first)} × {_write(second)} {unit_name}"
    else:
        sides = (f"{decimal(side / UNITS[unit_name])}" for side in (width, height))
        label = f"{' × '.join(sides)} {unit_name}"
    return PrintSize(label, width, height)


def _name_of(unit: Fraction) -> str:
    return next(name for name in ("mm", "cm", "m", "in", "ft") if UNITS[name] == unit)


def _write(number: str) -> str:
    value = parse_number(number)
    return number if "/" in number else decimal(value)


def decimal(value: Fraction, places: int = 4) -> str:
    """Write a number with at most `places` decimals and no trailing zeros.

    Parameters
    ----------
    places : int
        The most decimals.
    """
    text = f"{float(value):.{places}f}".rstrip("0").rstrip(".")
    return text or "0"


def parse_ratio(text: str) -> Fraction:
    """Read an aspect ratio: ``16:9``, ``5/4``, ``1.5``, ``3x2``, ``1.618:1``.

    Examples
    --------
    >>> parse_ratio("16:9")
    Fraction(16, 9)
    """
    parts = re.split(r"\s*[:/x×]\s*", plain_text(text))
    if len(parts) > 2 or not all(parts):
        raise BadRequest(f"“{text}” is not a ratio. Type one, for example 3:2.")
    numbers = [parse_number(part, "ratio") for part in parts]
    if len(numbers) == 2 and numbers[1] == 0:
        raise BadRequest(f"“{text}” divides by zero.")
    ratio = numbers[0] / (numbers[1] if len(numbers) == 2 else 1)
    if not Fraction(1, 100) <= ratio <= 100:
        raise BadRequest(f"“{text}” is out of range. A ratio is 1:100 to 100:1.")
    return ratio
