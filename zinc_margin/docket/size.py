"""Line 2: print size, resolution and viewing distance."""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction
from typing import ClassVar

from zinc_margin.docket.fields import (
    SEEN,
    SIZE,
    WAY,
    Kind,
    Line,
    Option,
    name_kind,
    number,
    one_of,
    said,
)
from zinc_margin.measure.distances import Seen
from zinc_margin.measure.lengths import parse_length
from zinc_margin.measure.makers import find_maker
from zinc_margin.measure.resolution import HIGHEST_PPI, LOWEST_PPI, parse_ppi
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.ways import Way

_PPI: Kind = number(LOWEST_PPI, HIGHEST_PPI, "ppi", parse_ppi)
_MAKER = name_kind(lambda name: find_maker(name).key, "a known maker", "WHO")


@dataclass(frozen=True)
class SizeLine(Line):
    """Line 2 of a docket."""

    title: ClassVar[str] = "Size"
    size: PrintSize | None = said(
        SIZE, "size of the print", nothing="automatic from the photo, or from `way`"
    )
    way: Way | None = said(
        WAY,
        "another way to give the size: one side, a box, a mat, pixels …",
        nothing="`size` is used",
    )
    units: str = said(one_of("cm", "in"), "units for an automatic size", "cm")
    lie: str = said(
        one_of("auto", "as-given", "across"),
        "auto: upright or across like the photo; as-given: as typed",
        "auto",
        option=Option("orient", words=("auto", "as-given")),
    )
    maker: str | None = said(
        _MAKER,
        "maker: lab, lab-online, desk, roll, canvas, press, screen, entry …",
        nothing="a lab; a canvas maker for canvas sides, a screen for pixel sizes",
        option="by",
    )
    ppi: Fraction | None = said(_PPI, "target resolution", nothing="the maker's")
    floor: Fraction | None = said(
        _PPI,
        "minimum resolution",
        nothing="half of the device's native resolution (of 360 ppi if unknown)",
        option=Option("floor", metavar="N"),
    )
    distance: Seen | None = said(
        SEEN,
        "viewing distance: 80cm, 70-110cm, in the hand, across a room …",
        nothing="up to the print's diagonal, at least 30 cm; from half of that, 30 to 50 cm",
        option="distance",
        key="distance_mm",
    )
    overspill_mm: Fraction | None = said(
        number(0, 100, "mm", parse_length),
        "overspill of a borderless driver past each edge of the paper",
        nothing="not borderless",
    )
    overspill_share: Fraction | None = said(
        number(0, Fraction(1, 4)),
        "overspill as a share of the longer side; the length in mm takes precedence",
        nothing="not borderless",
    )

    def at(self, size: PrintSize, ppi: Fraction) -> SizeLine:
        """Return the line for a print of exactly this size and orientation, at this resolution."""
        return replace(self, size=size, way=None, lie="as-given", ppi=ppi)
