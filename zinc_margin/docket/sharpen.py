"""Line 5: output sharpening."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass
from fractions import Fraction
from typing import Any, ClassVar

from zinc_margin.docket.fields import SWITCH, Kind, Line, Option, name_kind, number, said, short_mm
from zinc_margin.gate import values
from zinc_margin.gate.values import Wrong
from zinc_margin.measure.lengths import plain_text
from zinc_margin.measure.papers import find_process


def _paper(value: Any) -> str:
    # A user's paper may be missing here; planning then reports it.
    name = plain_text(values.text_from(value))[:60].strip()
    if not name:
        raise Wrong("must be a paper's name")
    return name


PAPER = Kind(_paper, "a paper's name", metavar="PAPER")
SIGMA = dataclasses.replace(number(0, 5, "mm", short_mm), metavar="LENGTH")
STRENGTH = number(0, 300, "%")
_PROCESS = name_kind(lambda name: find_process(name).key, "a printing process", "HOW")
_SHARE = number(0, 100, "%")
_LIGHTNESS = number(0, 50, "L*")


@dataclass(frozen=True)
class SharpenLine(Line):
    """Line 5 of a docket."""

    title: ClassVar[str] = "Sharpen"
    on: bool | None = said(
        SWITCH,
        "sharpen for the print",
        nothing="yes, except for a lab that does its own enlarging",
        option=Option("no-sharpen", "no sharpening", sets=False),
    )
    paper: str | None = said(
        PAPER,
        "paper: gloss, lustre, matt, canvas … screen, or one of yours",
        nothing="the maker's default; canvas for a print with canvas sides",
    )
    strength: Fraction = said(
        STRENGTH,
        "strength, percent of the automatic amount, 0 to 300",
        Fraction(100),
        option="strength",
    )
    sigma_mm: Fraction | None = said(
        SIGMA,
        "blur (sigma) of your own paper, for example 0.06mm",
        nothing="the paper's",
        option="paper-blur",
    )
    process: str | None = said(
        _PROCESS,
        "printing process: inkjet, exposure, dye, press …",
        nothing="the maker's",
        option="process",
    )
    breadth: Fraction | None = said(
        number(0, 1),
        "from the finest edges (0) to broad ones (1)",
        nothing="0.2, more for a soft photo",
        option="lean",
        key="lean",
    )
    halo: Fraction | None = said(
        _LIGHTNESS,
        "highest overshoot beside an edge, in L*",
        nothing="automatic for the photo",
        option="halo",
    )
    noise: Fraction | None = said(
        _LIGHTNESS,
        "noise floor: smaller differences, in L*, are not sharpened",
        nothing="automatic for the photo",
        option="noise-floor",
    )
    shadows: Fraction = said(
        _SHARE, "reduction in deep shadows, percent", Fraction(80), option="shadows"
    )
    highlights: Fraction = said(
        _SHARE,
        "reduction in the brightest tones, percent",
        Fraction(50),
        option="highlights",
    )
