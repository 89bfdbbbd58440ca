"""How crisp a print of this photo is, as seen; and how far sharpening may go.

The photo's own spectrum says how much there is to see at each frequency. What enlarging keeps of
it, what paper takes, and what the eye makes of it give, without a picture being made:

- *crispness*: the print's gradients along the photo's own, 1 where it is as crisp as the photo;
- *edges*: all of its gradients, its own or not;
- *apart*: how far it is from the photo, in L* rms as seen.

References
----------
J. L. Mannos, D. J. Sakrison (1974), as in `eye`.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from zinc_margin.plan.pixels.detail import kept
from zinc_margin.plan.sharpen.eye import MOST_CRISP, boost, contrast_sensitivity

FARTHER, FARTHER_REPAIRED = 10 ** (1 / 20), 10 ** (0.25 / 20)
"""Sharpening may take a print so much farther from the photo (1 dB; of what a repair left, which
is less to be trusted, less) …"""
APART = 0.3
"""… or as far as this, in L* rms as seen."""
_EDGES, _EDGES_REPAIRED = 1.07, 0.81
"""All gradients against the photo's, at most."""
_OF_REPAIRED = 0.98
"""A repaired picture's gradients against those that stand in its file, at most: most of what the
paper takes is brought back, and no more, for no one knows how much of its detail is the photo's."""
_UNSURE, _AT_MOST, _AS_CRISP = 3.2, 0.6, 0.97
"""What enlarging lost can only be guessed, the worse the more it is: one that lost a fifth of its
crispness is not sharpened beyond 0.88. Two fifths of the loss are always brought back. A print is
as crisp as the photo from 0.97."""
_RESTRAINT = 0.9
"""Of a wave's gain that coring, halo limits, shadows and highlights leave on photographs."""
_FALLS = -1.8
"""Beyond, a photo's power falls at least so steeply, and steeper than it fell before by half of
that: what is soft at some size of detail is softer still at a finer one. So crispness at 2 to 4
times is told without a bias on two dozen photographs; each by itself is told within 0.15 at 4."""
_STEPS = 0.12
"""L* rms of the steps of 8 bits, over all frequencies."""
_TRUSTED = 0.3
"""Cycles per pixel up to which a file's spectrum is its photo's; finer follows its slope."""


@dataclass(frozen=True)
class Look:
    """A print as it is seen from one distance, without sharpening and for each unit of it.

    Attributes
    ----------
    crisp : (float, float)
        Without sharpening, and what an amount of 1 adds.
    edges : (float, float, float)
        The square of all gradients against the photo's: three coefficients of the amount.
    apart : (float, float, float)
        The square of the distance from the photo, in L* rms: likewise.
    """

    crisp: tuple[float, float]
    edges: tuple[float, float, float]
    apart: tuple[float, float, float]

    def crispness(self, amount: float) -> float:
        """Return the crispness with an amount of sharpening."""
        return self.crisp[0] + amount * self.crisp[1]

    def amount(self, crispness: float) -> float:
        """Return the amount of sharpening for a crispness; negative where it is more already."""
        return (crispness - self.crisp[0]) / max(self.crisp[1], 1e-9)


@dataclass(frozen=True)
class Chain:
    """The chain between a photo and the eye.

    Attributes
    ----------
    bands : tuple of float
        The photo's contrast by octaves, the finest first, in L* rms.
    noise : float
        Its noise, in L* rms over all frequencies.
    method : str or None
        The kernel; None if pixels are kept.
    scale : float
        Output ÷ source pixels.
    cleaned : float
        The clean-up, 0 to 100.
    paper_mm : float
        Sigma of paper and process.
    effective_ppi : float
        Of the photo's own pixels.
    sigma_mm, breadth : float
        The finer scale of sharpening, and its lean to the broader one.
    """

    bands: tuple[float, ...]
    noise: float
    method: str | None
    scale: float
    cleaned: float
    paper_mm: float
    effective_ppi: float
    sigma_mm: float
    breadth: float

    def seen_from(self, distance_mm: float) -> Look:
        """Return how a print looks from a distance."""
        most = 0.5 * max(1.0, self.scale) if self.scale > 1 else 0.5 * min(1.0, self.scale)
        cycles = (np.arange(800) + 0.5) / 800 * most
        per_mm = cycles * self.effective_ppi / 25.4
        eye = contrast_sensitivity(per_mm * distance_mm * np.pi / 180)
        eye = eye / _CLEAREST
        held = kept(self.method, self.scale, self.cleaned, cycles)
        power = _power(self.bands, self.noise, cycles, held.taken) * eye**2 * (most / 800)
        slopes = power * per_mm**2
        paper = np.exp(-2 * (np.pi * self.paper_mm * per_mm) ** 2)
        lift = _RESTRAINT * boost(per_mm, self.sigma_mm, self.breadth)
        own, energy = held.own * paper, held.energy * paper**2
        steep, whole = float(slopes.sum()), float(power.sum())
        alike = slopes * energy
        return Look(
            crisp=(float((slopes * own).sum()) / steep, float((slopes * own * lift).sum()) / steep),
            edges=(
                float(alike.sum()) / steep,
                2 * float((alike * lift).sum()) / steep,
                float((alike * lift**2).sum()) / steep,
            ),
            apart=(
                whole + float((power * (energy - 2 * own)).sum()),
                2 * float((power * (energy - own) * lift).sum()),
                float((power * energy * lift**2).sum()),
            ),
        )


_CLEAREST = float(contrast_sensitivity(np.linspace(0.1, 60, 6000)).max())


def _power(
    bands: tuple[float, ...], noise: float, cycles: np.ndarray, taken: np.ndarray
) -> np.ndarray:
    """Return the photo's power per cycle, in L*², at frequencies in cycles per pixel.

    Parameters
    ----------
    cycles : ndarray (N,)
    taken : ndarray (N,)
        The share of it that the file still has.
    """
    middles = np.array([0.5 / 2**k * 0.75 for k in range(len(bands))])
    widths = np.array([0.5 / 2 ** (k + 1) for k in range(len(bands))])
    # noise, and an 8-bit file's own steps, are no detail
    noisy = 0.75 * np.pi * (2 * widths) ** 2 * max(_STEPS, noise) ** 2
    clear = np.maximum(np.square(bands) - noisy, 1e-8)
    dense = np.log(clear / widths)
    place = np.log(np.maximum(cycles, 1e-6))
    order = np.argsort(middles)
    log_power = np.interp(place, np.log(middles[order]), dense[order])
    power = np.exp(log_power) / taken
    # beyond what the file tells, it goes on falling, the faster the faster it fell before
    trusted = cycles <= _TRUSTED
    part = (cycles >= _TRUSTED / 2) & trusted
    if part.sum() > 2 and not trusted.all():
        own = float(np.polyfit(place[part], np.log(power[part]), 1)[0])
        slope = min(_FALLS, own + _FALLS / 2)
        last, start = float(np.log(power[trusted][-1])), float(place[trusted][-1])
        power = np.where(trusted, power, np.exp(last + slope * (place - start)))
    return np.asarray(power)


@dataclass(frozen=True)
class Wanted:
    """The amount that is worked out for a photo, and what holds it.

    Attributes
    ----------
    amount : float
    bound : str or None
        ``far``, ``detail`` or ``amount``: what keeps the print from being as crisp as the photo;
        None if nothing does.
    near, far : Look
    """

    amount: float
    bound: str | None
    near: Look
    far: Look


LEAST, CRISP_ENOUGH = 0.35, 1.05
"""Where no one says from where a print is seen, people also step up to it: it gets at least a usual
amount, as long as that does not make it clearly crisper than the photo."""


def wanted_amount(
    chain: Chain, near_mm: float, far_mm: float, most: float, is_said: bool = True
) -> Wanted:
    """Work out how much sharpening a print of a photo wants.

    As much as makes it as crisp as the photo from the near end; less, where from the far end it
    would be too crisp, where it would leave the photo, or where enlarging lost too much to be
    sure what the photo had.

    Parameters
    ----------
    near_mm, far_mm : float
        From where it is seen.
    most : float
        The largest amount of all.
    is_said : bool
        Whether somebody has said from where it is seen.
    """
    near, far = chain.seen_from(near_mm), chain.seen_from(far_mm)
    in_file = replace(chain, paper_mm=0.0).seen_from(near_mm)
    lost = max(0.0, 1 - in_file.crisp[0]) if chain.scale > 1 else 0.0
    sure = 1 - min(_UNSURE * lost**2, _AT_MOST * lost)
    full = max(0.0, near.amount(max(sure, _AS_CRISP)))
    if not is_said:
        full = max(full, min(LEAST, near.amount(CRISP_ENOUGH)))
    repaired = chain.cleaned > 0
    farther, apart, limit = FARTHER, APART, _EDGES**2
    if repaired:
        farther, apart = FARTHER_REPAIRED, 0.0
        limit = min(_EDGES_REPAIRED**2, in_file.edges[0] * _OF_REPAIRED**2)
    bounds = {
        "far": max(0.0, far.amount(MOST_CRISP)),
        "detail": min(
            _until(near.edges, max(limit, near.edges[0])),
            _until(near.apart, max(near.apart[0] * farther**2, apart**2)),
            max(0.0, near.amount(sure)) if sure < _AS_CRISP else most,
        ),
        "amount": most,
    }
    name = min(bounds, key=lambda each: bounds[each])
    if bounds[name] >= full:
        return Wanted(full, None, near, far)
    return Wanted(bounds[name], name, near, far)


def _until(square: tuple[float, float, float], limit: float) -> float:
    """Return the largest amount at which a square is within a limit."""
    level, linear, curve = square
    if curve <= 0:
        return float("inf")
    root = linear**2 - 4 * curve * (level - limit)
    if root <= 0:
        return 0.0
    return max(0.0, (-linear + float(np.sqrt(root))) / (2 * curve))
