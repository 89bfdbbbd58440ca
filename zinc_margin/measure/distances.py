"""Viewing distances: a range from near to far, as lengths or in plain words."""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import parse_length, plain_text, split_unit
from zinc_margin.measure.tables import table

_BETWEEN = re.compile(r"\s*(?:-|–|—|\bto\b|\band\b)\s*")


@dataclass(frozen=True)
class Seen:
    """A viewing distance, as a range.

    Attributes
    ----------
    near_mm, far_mm : Fraction
        Above 0; equal for a single distance.

    Raises
    ------
    BadRequest
        If the near end exceeds the far one.
    """

    near_mm: Fraction
    far_mm: Fraction

    def __post_init__(self) -> None:
        if not 0 < self.near_mm <= self.far_mm:
            raise BadRequest("The near end of a viewing distance must not exceed its far end.")

    @classmethod
    def at(cls, mm: Fraction | int) -> Seen:
        """Return a single distance as a range whose ends are equal."""
        return cls(Fraction(mm), Fraction(mm))


def named_distances() -> tuple[tuple[str, Seen], ...]:
    """Return the named distances and their ranges, in mm."""
    return tuple(
        (entry["name"], Seen(*(Fraction(mm) for mm in entry["mm"])))
        for entry in table("distances")["distances"]
    )


def parse_distance(text: str, default_unit: str = "cm") -> Seen | None:
    """Read a viewing distance; None means that the print's size decides.

    Parameters
    ----------
    text : str
        One length, two (``70-110cm``), or words: ``in the hand``, ``across a room``. Empty or
        ``automatic`` means None.
    default_unit : str
        The unit of a number without one, a key of `UNITS`.

    Raises
    ------
    BadRequest
        If it is none of these.

    Examples
    --------
    >>> parse_distance("70-110cm", "cm")
    Seen(near_mm=Fraction(700, 1), far_mm=Fraction(1100, 1))
    """
    wanted = _bare(text)
    if wanted in ("", "automatic"):
        return None
    for name, seen in named_distances():
        if wanted == _bare(name):
            return seen
    if not any(sign.isdigit() for sign in plain_text(text)):
        names = ", ".join(name for name, _ in named_distances())
        raise BadRequest(
            f"“{text}” is not a distance. Type a length, a range (70-110 cm), or {names}."
        )
    ends = _BETWEEN.split(re.sub(r"^(?:from|between)\s+", "", plain_text(text)))
    if len(ends) != 2 or not all(ends):
        return Seen.at(parse_length(text, default_unit))
    far = parse_length(ends[1], default_unit)
    _, unit = split_unit(ends[0])
    near = parse_length(ends[0], default_unit)
    if unit is None:  # the near end uses the far end's unit, as in 70-110 cm
        _, unit = split_unit(ends[1])
        near = parse_length(ends[0], "mm") * (unit or parse_length("1", default_unit))
    return Seen(min(near, far), max(near, far))


def _bare(text: str) -> str:
    plain = plain_text(text).replace("’", "'")
    return re.sub(r"^(?:(?:from|its|the|at|on|in|a|an|across)\s+)+", "", plain)
