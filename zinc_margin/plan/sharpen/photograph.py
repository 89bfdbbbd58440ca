"""The crispness of a print of this photo, as seen, and the limits of sharpening.

The photo's spectrum gives the contrast at each frequency. With the losses of enlarging, paper and
eye, it predicts the following without rendering a picture:

- *crispness*: the print's gradients along the photo's, 1 for a print as crisp as the photo;
- *edges*: all of its gradients, including new ones;
- *apart*: the difference from the photo, in L* rms as seen.

References
----------
J. L. Mannos, D. J. Sakrison (1974), as in `eye`.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zinc_margin.plan.pixels.detail import Coding, surviving_detail
from zinc_margin.plan.sharpen.eye import MOST_CRISP, boost, contrast_sensitivity

FARTHER_DB, FARTHER_REPAIRED_DB, _REPAIRED_FROM = 1.0, 0.5, 40.0
"""Sharpening may take a print this much farther from the photo, in dB: half as far where repair of
this strength, or more, made detail less certain …
"""
APART = 0.3
"""… or up to this difference from the photo, in L* rms as seen, if that is more."""
EDGES = 1.0
"""All of a print's gradients, relative to the photo's, that sharpening aims at: real detail that
enlarging lost is partly replaced by stronger edges, so crispness may stay below 1.
"""
NEARLY = 0.96
"""Crispness from which a print looks as crisp as the photo."""
_RESTRAINT, _HELD = 0.93, 0.55
"""The share of a frequency's gain that coring, halo limits, shadows and highlights leave on
photographs, and how fast it falls as the amount grows.
"""
_UNEVEN, _MORE_UNEVEN = 0.25, 0.5
"""Its variance among details, and how fast that grows: uneven gain restores less than it adds.
These four are measured on photographs printed with amounts of 0.4 to 4, on lustre and canvas.
"""
_FALLS = -1.8
"""Beyond the file's spectrum, a photo's power continues to fall as before, and at least this
steeply. With this, gradients at ×2 to ×4 are predicted without bias on two dozen photographs.
"""
_STEPS = 0.12
"""L* rms of 8-bit quantisation steps, over all frequencies."""
_TRUSTED = 0.3
"""Cycles per pixel up to which a file's spectrum is the photo's own; finer detail is extrapolated.
"""


@dataclass(frozen=True)
class Look:
    """A print seen from one distance, without sharpening and per unit of its effect.

    Attributes
    ----------
    crisp : (float, float)
        Crispness without sharpening, and the gain for an effect of 1.
    edges : (float, float, float)
        Squared gradients relative to the photo's, as three coefficients of the effect.
    apart : tuple of four float
        Squared difference from the photo, in L* rms, in the same form.
    """

    crisp: tuple[float, float]
    edges: tuple[float, float, float]
    apart: tuple[float, float, float, float]

    def crispness(self, amount: float) -> float:
        """Return the crispness with an amount of sharpening."""
        return self.crisp[0] + _effect(amount) * self.crisp[1]

    def all_edges(self, amount: float) -> float:
        """Return all gradients, relative to the photo's, with an amount of sharpening."""
        return float(np.sqrt(max(0.0, _value(self.edges, _effect(amount)))))

    def difference(self, amount: float) -> float:
        """Return the difference from the photo, in L* rms, with an amount of sharpening."""
        return float(np.sqrt(max(0.0, _value(self.apart, _effect(amount)))))

    def amount(self, crispness: float) -> float:
        """Return the amount of sharpening for a crispness; 0 if it is already higher."""
        return _amount((crispness - self.crisp[0]) / max(self.crisp[1], 1e-9))


def _effect(amount: float) -> float:
    """Return the effect on photographs of an amount, as an amount on faint edges."""
    return _RESTRAINT * amount / (1 + _HELD * amount)


def _amount(effect: float) -> float:
    """Return the amount that has an effect; infinity if none has."""
    rest = _RESTRAINT - _HELD * effect
    return max(0.0, effect / rest) if rest > 0 else float("inf")


def _value(curve: tuple[float, ...], effect: float) -> float:
    return float(np.polynomial.polynomial.polyval(effect, curve))


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
    coding : Coding
        How it was coded, and the repair of that.
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
    coding: Coding
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
        held = surviving_detail(self.method, self.scale, self.coding, cycles)
        power = _power(self.bands, self.noise, cycles, held.taken) * eye**2 * (most / 800)
        slopes = power * per_mm**2
        paper = np.exp(-2 * (np.pi * self.paper_mm * per_mm) ** 2)
        lift = boost(per_mm, self.sigma_mm, self.breadth)
        own, energy = held.own * paper, held.energy * paper**2
        steep, whole = float(slopes.sum()), float(power.sum())
        alike = slopes * energy
        added = float((power * energy * lift**2).sum())
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
                (1 + _UNEVEN) * added,
                _MORE_UNEVEN * added,
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
    # Beyond the file's spectrum, continue the fall.
    trusted = cycles <= _TRUSTED
    part = (cycles >= _TRUSTED / 2) & trusted
    if part.sum() > 2 and not trusted.all():
        own = float(np.polyfit(place[part], np.log(power[part]), 1)[0])
        slope = min(_FALLS, own)
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
amount, if that does not make its edges clearly stronger than the photo's (second value).
"""


def wanted_amount(
    chain: Chain, near_mm: float, far_mm: float, most: float, is_said: bool = True
) -> Wanted:
    """Return the amount of sharpening for a print of a photo.

    It gives the print the photo's edges as seen from the near end. It is lower where the print
    would look too crisp from the far end, or would differ too much from the photo. The rule is the
    same for every file: how it was coded and enlarged only changes what is predicted.

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
    full = _until(near.edges, EDGES**2)
    if not is_said:
        full = max(full, min(LEAST, _until(near.edges, CRISP_ENOUGH**2)))
    uncertain = min(1.0, chain.coding.cleaned / _REPAIRED_FROM)
    farther = FARTHER_DB - uncertain * (FARTHER_DB - FARTHER_REPAIRED_DB)
    bounds = {
        "far": far.amount(MOST_CRISP),
        "detail": _until(near.apart, max(near.apart[0] * 10 ** (farther / 10), APART**2)),
        "amount": most,
    }
    name = min(bounds, key=lambda each: bounds[each])
    if bounds[name] < full:
        return Wanted(bounds[name], name, near, far)
    lost = chain.scale > 1 and near.crispness(full) < NEARLY
    return Wanted(full, "detail" if lost else None, near, far)


def _until(curve: tuple[float, ...], limit: float) -> float:
    """Return the amount up to which a polynomial of its effect stays within a limit."""
    level, *rest = curve
    if level > limit:
        return 0.0
    roots = np.roots([*reversed(rest), level - limit])
    real = [float(root.real) for root in roots if abs(root.imag) < 1e-9 and root.real > 0]
    return _amount(min(real)) if real else float("inf")
