"""The resolution that is asked, and the least that is taken."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.docket.size import SizeLine
from zinc_margin.measure.makers import Maker, find_maker, usual_maker


def target_of(line: SizeLine) -> Fraction:
    """Return the ppi that is asked: the person's own figure, else the maker's."""
    return line.ppi or _maker(line).asks


def floor_of(line: SizeLine) -> Fraction:
    """Return the ppi under which enlarging is preferred."""
    return line.floor or _maker(line).floor


def _maker(line: SizeLine) -> Maker:
    return usual_maker() if line.maker is None else find_maker(line.maker)
