"""The crispness of a print of this photo, as seen, and the limits of sharpening.

The photo's spectrum gives the contrast at each frequency. With the losses of enlarging, paper and
eye, it predicts the following without rendering a picture:

- *crispness*: the print's gradients along the photo's, 1 for a print as crisp as the photo; -
*edges*: all of its gradients, including new ones; - *apart*: the difference from the photo, in L*
rms as seen.

References
----------
J. L. Mannos, D. J. Sakrison (1974), as in `eye`.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from zinc_margin.plan.pixels.detail import surviving_detail
from zinc_margin.plan.sharpen.eye import MOST_CRISP, boost, contrast_sensitivity

FARTHER, FARTHER_REPAIRED = 10 ** (1 / 20), 10 ** (0.25 / 20)
"""Sharpening may increase the difference from the photo by this factor (1 dB; only a quarter of
that for a repaired photo, whose detail is less certain) …
"""
APART = 0.3
"""… or up to this difference, in L* rms as seen."""
_EDGES, _EDGES_REPAIRED = 1.07, 0.81
"""Limits for all gradients, relative to the photo's: a clean one and a repaired one."""
_OF_REPAIRED = 0.98
"""Limit for a repaired picture's gradients relative to its file's: restore most of the loss to
paper but no more, since some of the file's detail may be artefacts.
"""
_UNSURE, _AT_MOST, _AS_CRISP = 3.2, 0.6, 0.97
"""Enlarging loses detail that cannot be restored reliably: a print that lost a fifth of its
crispness is not sharpened beyond 0.88. Two fifths of the loss are always restored. From 0.97 on, a
print counts as crisp as the photo.
"""
_RESTRAINT = 0.9
"""The share of a frequency's gain that coring, halo limits, shadows and highlights leave on
photographs.
"""
_FALLS = -1.8
"""Beyond the file's spectrum, a photo's power falls at least this steeply, and steeper than before
by half of the earlier excess: what is soft at one scale is softer at a finer one. With this,
crispness at ×2 to ×4 is predicted without bias on two dozen photographs, and within 0.15 for each
at ×4.
"""
_STEPS = 0.12
"""L* rms of 8-bit quantisation steps, over all frequencies."""
_TRUSTED = 0.3
"""Cycles per pixel up to which a file's spectrum is the photo's own; finer detail is extrapolated.
"""


@dataclass(frozen=True)
class Look:
    """A print seen from one distance, without sharpening and per unit of sharpening.

    Attributes
    ----------
    crisp : (float, float)
        Crispness without sharpening, and the gain for an amount of 1.
    edges : (float, float, float)
        Squared gradients relative to the photo's, as three coefficients of the amount.
    apart : (float, float, float)
        Squared difference from the photo, in L* rms, in the same form.
    """

    crisp: tuple[float, float]
    edges: tuple[float, float, float]
    apart: tuple[float, float, float]

    def crispness(self, amount: float) -> float:
        """Return the crispness with an amount of sharpening."""
        return self.crisp[0] + amount * self.crisp[1]

    def amount(self, crispness: float) -> float:
        """Return the amount of sharpening for a crispness; negative if it is already higher."""
        return (crispness - self.crisp[0]) / max(self.crisp[1], 1e-9)


@dataclass(frozen=True)
class Chain:
    """The chain of losses between a photo and the eye.

    Attributes
    ----------
    bands : tuple of float
        The photo's contrast per octave, finest first, in L* rms.
    noise : float
        Its noise, in L* rms over all frequencies.
    method : str or None
        The resampling method; None if pixels are kept.
    scale : float
        Output ÷ source pixels.
    cleaned : float
        The clean-up, 0 to 100.
    paper_mm : float
        Sigma of the blur of paper and process.
    effective_ppi : float
        Resolution before enlarging.
    sigma_mm, breadth : float
        The finer scale of sharpening, and the weight of the broader one.
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
        """Return the look of the print from a distance."""
        most = 0.5 * max(1.0, self.scale) if self.scale > 1 else 0.5 * min(1.0, self.scale)
        cycles = (np.arange(800) + 0.5) / 800 * most
        per_mm = cycles * self.effective_ppi / 25.4
        eye = contrast_sensitivity(per_mm * distance_mm * np.pi / 180)
        eye = eye / _CLEAREST
        held = surviving_detail(self.method, self.scale, self.cleaned, cycles)
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
        The share of power that remains in the file.
    """
    middles = np.array([0.5 / 2**k * 0.75 for k in range(len(bands))])
    widths = np.array([0.5 / 2 ** (k + 1) for k in range(len(bands))])
    # Subtract noise and 8-bit steps, which are not detail.
    noisy = 0.75 * np.pi * (2 * widths) ** 2 * max(_STEPS, noise) ** 2
    clear = np.maximum(np.square(bands) - noisy, 1e-8)
    dense = np.log(clear / widths)
    place = np.log(np.maximum(cycles, 1e-6))
    order = np.argsort(middles)
    log_power = np.interp(place, np.log(middles[order]), dense[order])
    power = np.exp(log_power) / np.maximum(taken, 1e-9)
    # Beyond the file's spectrum, continue the fall, steeper if it was steep before.
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
    """The amount of sharpening for a photo, and its limit.

    Attributes
    ----------
    amount : float
    bound : str or None
        Why the print is not as crisp as the photo: ``far``, ``detail`` or ``amount``; None if it
        is.
    near, far : Look
    """

    amount: float
    bound: str | None
    near: Look
    far: Look


LEAST, CRISP_ENOUGH = 0.35, 1.05
"""Without a typed viewing distance people may step up close: such a print gets at least this
amount, if that does not make it clearly crisper than the photo (second value).
"""


def wanted_amount(
    chain: Chain, near_mm: float, far_mm: float, most: float, is_said: bool = True
) -> Wanted:
    """Return the amount of sharpening for a print of a photo.

    It makes the print as crisp as the photo from the near end. It is lower where the print would
    look too crisp from the far end, would differ too much from the photo, or where enlarging lost
    too much detail to restore reliably.

    Parameters
    ----------
    near_mm, far_mm : float
        Viewing distances.
    most : float
        The largest amount.
    is_said : bool
        Whether a viewing distance was typed.
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
    """Return the largest amount for which a quadratic stays within a limit."""
    level, linear, curve = square
    if curve <= 0:
        return float("inf")
    root = linear**2 - 4 * curve * (level - limit)
    if root <= 0:
        return 0.0
    return max(0.0, (-linear + float(np.sqrt(root))) / (2 * curve))
