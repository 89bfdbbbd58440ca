"""Inches or centimetres, from the locale or from typed text."""

from __future__ import annotations

import os
import re

from zinc_margin.measure.lengths import UNITS, plain_text

_LOCALE_KEYS = ("LC_ALL", "LC_MEASUREMENT", "LANG")
_INCHES = ("_US", "_LR", "_MM")
INCH = " inch"
"""The suffix of a family of sizes in inches."""

_METRIC = {name for name, mm in UNITS.items() if mm.denominator == 1}
_NAMES = "|".join(sorted(map(re.escape, UNITS), key=len, reverse=True))
_TYPED = re.compile(rf"\d\s*({_NAMES})(?![a-z])")


def usual_units() -> str:
    """Return ``in`` if the locale's country uses inches, else ``cm``."""
    name = next((os.environ[key] for key in _LOCALE_KEYS if os.environ.get(key)), "")
    return "in" if name.split(".")[0].endswith(_INCHES) else "cm"


def unit_named(typed: str) -> str | None:
    """Return ``in`` or ``cm`` if a text names a unit of length, else None.

    Parameters
    ----------
    typed : str
        ``12x9 in``, ``8½ × 11"``, ``30 x 20 cm``, ``1.2 m`` …
    """
    found = _TYPED.search(plain_text(typed))
    if found is None:
        return None
    return "cm" if found[1] in _METRIC else "in"


def family_in(family: str, units: str, known: list[str]) -> str:
    """Return the family of sizes in other units, or the same family if it has no counterpart.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    known : list of str
        Every family.
    """
    plain = family.removesuffix(INCH)
    wanted = plain + INCH if units == "in" else plain
    return wanted if wanted in known else family
