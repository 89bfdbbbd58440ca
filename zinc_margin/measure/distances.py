"""From where a print is looked at: typed lengths, and plain words."""

from __future__ import annotations

import re
from fractions import Fraction

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import parse_length, plain_text
from zinc_margin.measure.tables import table

DIAGONAL = "its diagonal"


def named_distances() -> tuple[tuple[str, Fraction], ...]:
    """Return the plain words and their distances in mm."""
    return tuple(
        (entry["name"], Fraction(entry["mm"])) for entry in table("distances")["distances"]
    )


def parse_distance(text: str, default_unit: str = "cm") -> Fraction | None:
    """Read a distance: ``2.2 m``, ``in the hand``, ``across a room``; None for the diagonal.

    Parameters
    ----------
    text : str
    default_unit : str
        The unit of a bare number, a key of `UNITS`.

    Raises
    ------
    BadRequest
        When it is neither.
    """
    wanted = _bare(text)
    if wanted in ("", "diagonal"):
        return None
    for name, length in named_distances():
        if wanted == _bare(name):
            return length
    try:
        return parse_length(text, default_unit)
    except BadRequest as why:
        if any(sign.isdigit() for sign in text):
            raise
        names = ", ".join(name for name, _ in named_distances())
        raise BadRequest(f"“{text}” is no distance; type a length, or {names}.") from why


def _bare(text: str) -> str:
    plain = plain_text(text).replace("’", "'")
    return re.sub(r"^(?:(?:from|its|the|at|in|a|an|across)\s+)+", "", plain)
