"""The resampling method: the automatic choice by photo, kind and enlargement."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.docket.pixels import PixelsLine
from zinc_margin.facts.measurements import Measured
from zinc_margin.measure.kernels import kernels
from zinc_margin.plan.model import Machine
from zinc_margin.plan.pixels.response import learned_share

METHOD_OF: dict[str, str] = {"photo": "lanczos", "lettering": "edges", "drawing": "blocks"}
"""The best kernel for each kind of picture."""


LEARNED = tuple(one.key for one in kernels().values() if one.learned)


LEARNED_FROM = Fraction(13, 10)
"""The enlargement from which AI is used automatically."""


_MOST_DOUBLINGS = 3  # ×8; a kernel does the rest


def method_for(
    line: PixelsLine, choice: str, scale: Fraction, measured: Measured | None, machine: Machine
) -> str:
    """Return the resampling method: as requested, else the automatic choice.

    AI enlarges photographs and lettering, each with its own networks. A kernel does everything
    else, and replaces AI where it cannot run, or is no better because the photo is very soft.

    Parameters
    ----------
    choice : str
        ``reduce``, ``enlarge`` or ``turn``.
    scale : Fraction
        Output ÷ source pixels.
    measured : Measured or None
        None until the pixels are measured.
    """
    usual = METHOD_OF[line.kind]
    able = machine.without_networks is None
    if line.method is not None:
        if line.method in LEARNED and (choice != "enlarge" or not able):
            return usual
        return line.method
    if line.kind == "drawing" or choice != "enlarge" or scale <= LEARNED_FROM:
        return usual
    if line.kind == "lettering" or _gains_by_ai(measured):
        return "ai" if able else usual
    return usual


AI_UNTIL = 2.0
"""Edge width, in px, up to which AI brings a print nearer to the photo than Lanczos does.

Measured on 12 photographs softened to edges of 0.5 to 3 px, clean and as JPEG 75, at ×2 and ×4: AI
is nearer by 4.3 to 1.0 dB at 0.5 px, 0.24 to 0.04 at 1.2, 0.04 to 0.01 at 1.5, and as near from 2
on; on no photograph is it farther by more than 0.01 dB. Photographs that were enlarged before gain
0.1 to 0.9 dB.
"""


def _gains_by_ai(measured: Measured | None) -> bool:
    if measured is None:  # until then, nothing but the kernel is sure to suit it
        return False
    return measured.edge_px is None or measured.edge_px <= AI_UNTIL


def doublings_for(scale: Fraction) -> int:
    """Return the number of ×2 steps before the rest is resampled.

    Parameters
    ----------
    scale : Fraction
        Output ÷ source pixels.

    Examples
    --------
    >>> doublings_for(Fraction(3))
    2
    """
    steps = 1
    while steps < _MOST_DOUBLINGS and scale > Fraction(23, 20) * 2**steps:
        steps += 1
    return steps


# Fineness below and above which the full and no extra share apply; see the networks' card.
_SMEARED, _FINE = 0.17, 0.24


_MORE = 0.6  # the extra share; blurred photographs gain 0.24 dB (see the networks' card)


def share_for(line: PixelsLine, measured: Measured | None) -> float:
    """Return the share of the AI correction to apply.

    It follows the docket's edge setting, and rises by up to three fifths for a photo that is soft
    per pixel: the networks were mostly trained on sharper ones and correct soft ones too little.

    Parameters
    ----------
    measured : Measured or None
        None until the pixels are measured.
    """
    share = learned_share(float(line.hardness))
    if line.kind != "photo" or measured is None or measured.fineness is None:
        return share
    smeared = (_FINE - measured.fineness) / (_FINE - _SMEARED)
    return share * (1 + _MORE * min(1.0, max(0.0, smeared)))
