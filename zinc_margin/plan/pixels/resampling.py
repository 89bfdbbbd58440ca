"""The resampling method: the automatic choice by photo, kind and enlargement."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.docket.pixels import PixelsLine
from zinc_margin.facts.measurements import Measured
from zinc_margin.measure.kernels import kernels
from zinc_margin.plan.model import Machine
from zinc_margin.plan.photo.photo import ENLARGED_UNDER, SOFT_FROM
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

    AI enlarges detailed photographs and lettering, each with its own networks. A kernel does
    everything else, and replaces AI where it cannot run or would only magnify softness.

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
    if line.kind == "lettering" or _has_detail(measured):
        return "ai" if able else usual
    return usual


def _has_detail(measured: Measured | None) -> bool:
    """Return whether a photo has real detail down to single pixels."""
    if measured is None or measured.true_share < ENLARGED_UNDER:
        return False
    if measured.edge_px is None:  # too few clear edges to measure, but possibly texture everywhere
        return any(name == "texture" for name, _, _ in measured.places)
    return measured.edge_px <= SOFT_FROM


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
    share = learned_share(float(line.crisp))
    if line.kind != "photo" or measured is None or measured.fineness is None:
        return share
    smeared = (_FINE - measured.fineness) / (_FINE - _SMEARED)
    return share * (1 + _MORE * min(1.0, max(0.0, smeared)))
