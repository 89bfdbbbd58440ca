"""Hints for typing into fields, with examples in the current units."""

from __future__ import annotations

from zinc_margin.measure import words
from zinc_margin.measure.distances import named_distances
from zinc_margin.measure.tables import table

_NAMED = ", ".join(name for name, _ in named_distances())


def hint(field: str, units: str) -> str:
    """Return the hint for a field.

    Parameters
    ----------
    field : str
        A key of ``data/hints.json``.
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    metric, inches = table("hints")["hints"][field]
    return str(inches if words.unit(units) == "in" else metric).replace("{named}", _NAMED)
