"""How pixels are worked out: what suits a photo, its kind and the enlargement."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.facts.measured import Measured
from zinc_margin.plan.ability import absent
from zinc_margin.plan.photo.findings import ENLARGED_UNDER, SOFT_FROM
from zinc_margin.plan.pixels.kernels import learned_share

METHOD_OF: dict[str, str] = {"photo": "lanczos", "lettering": "edges", "drawing": "blocks"}
"""What suits each kind of picture."""


LEARNED = ("learned", "learned-fine")


LEARNED_FROM = Fraction(13, 10)
"""The enlargement from which the learned enlarger is taken by itself."""


_MOST_DOUBLINGS = 3


def method_for(docket: Docket, choice: str, scale: Fraction, measured: Measured | None) -> str:
    """Return how pixels are worked out: as it is written, else what suits.

    A photograph with detail of its own is enlarged by what was learned from photographs, lettering
    by what was learned from lettering; where that cannot run, or would only magnify softness, and
    for everything else, a kernel serves.
    """
    line = docket.pixels
    usual = METHOD_OF[line.kind]
    if line.method is not None:
        if line.method in LEARNED and (choice != "enlarge" or absent() is not None):
            return usual
        return line.method
    if line.kind == "drawing" or choice != "enlarge" or scale <= LEARNED_FROM:
        return usual
    if line.kind == "lettering" or _detailed(measured):
        return usual if absent() is not None else "learned"
    return usual


def _detailed(measured: Measured | None) -> bool:
    """Tell whether a photo has detail of its own, down to its pixels."""
    if measured is None or measured.true_share < ENLARGED_UNDER:
        return False
    if measured.edge_px is None:  # too few clear edges to tell, but perhaps texture everywhere
        return any(name == "texture" for name, _, _ in measured.places)
    return measured.edge_px <= SOFT_FROM


def doublings_for(scale: Fraction) -> int:
    """Return how often a photo is made twice as large before the rest is resampled."""
    steps = 1
    while steps < _MOST_DOUBLINGS and scale > Fraction(23, 20) * 2**steps:
        steps += 1
    return steps


_SMEARED, _FINE = 0.17, 0.24


_MORE = 0.6


def share_for(docket: Docket, measured: Measured | None) -> float:
    """Return how much of the learned correction is taken.

    As the docket leans, and up to three fifths more for a photo whose detail is smeared over its
    pixels: the networks learned mostly from finer ones, and fall short there.
    """
    share = learned_share(float(docket.pixels.crisp))
    if docket.pixels.kind != "photo" or measured is None or measured.fineness is None:
        return share
    smeared = (_FINE - measured.fineness) / (_FINE - _SMEARED)
    return share * (1 + _MORE * min(1.0, max(0.0, smeared)))
