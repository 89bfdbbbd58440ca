"""The loss of crispness to paper, pixels and distance, and the sharpening that restores it.

References
----------
J. L. Mannos, D. J. Sakrison, "The effects of a visual fidelity criterion on the encoding of
images", IEEE Trans. Information Theory 20 (1974): the eye's contrast sensitivity.
Acutance as the sensitivity-weighted mean of a chain's modulation transfer is the form that work
on camera-phone image quality uses (CPIQ; IEEE 1858).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from zinc_margin.plan.pixels.response import response

MOST_CRISP = 1.15
"""How much crisper than the photo a print may look from the far end."""


MOST = 3.0
"""The largest amount; beyond it, edges turn into outlines."""


BROAD = 2.5
"""The second scale's sigma relative to the first."""


_PER_DEGREE = np.linspace(0.0, 120.0, 1201)  # cycles per degree; the eye resolves at most about 60


@dataclass(frozen=True)
class Restoration:
    """The sharpening for a print.

    Attributes
    ----------
    sigma_mm : float
        The finer scale, on paper.
    amount : float
        0 to 3 at full strength.
    acutance_before, acutance_after : float
        1 if no visible contrast is lost.
    gain : float
        Gain of acutance for an amount of 1.
    bound : str or None
        ``amount`` if the largest amount was not enough, ``far`` if more would be too crisp from the
        far end, else None.
    """

    sigma_mm: float
    amount: float
    acutance_before: float
    acutance_after: float
    gain: float
    bound: str | None


def contrast_sensitivity(per_degree: np.ndarray) -> np.ndarray:
    """Return the eye's sensitivity at frequencies in cycles per degree.

    Parameters
    ----------
    per_degree : ndarray
        (N,), cycles per degree.

    Examples
    --------
    >>> contrast_sensitivity(np.array([1.0, 8.0, 30.0])).round(2)
    array([0.32, 0.98, 0.19])
    """
    scaled = 0.114 * per_degree
    return np.asarray(2.6 * (0.0192 + scaled) * np.exp(-(scaled**1.1)))


def boost(frequency: np.ndarray, sigma: float, breadth: float) -> np.ndarray:
    """Return U(f), the two-scale difference of Gaussians: 0 for flat areas, 1 for the finest.

    Parameters
    ----------
    frequency : ndarray
        (N,), cycles per mm on the paper.
    sigma : float
        The finer scale, in mm.
    breadth : float
        From fine edges (0) to broad ones (1).

    Examples
    --------
    >>> boost(np.array([0.0, 1.0, 5.0]), sigma=0.1, breadth=0.2).round(2)
    array([0.  , 0.29, 0.99])
    """
    fine = 1 - np.exp(-2 * (np.pi * sigma * frequency) ** 2)
    broad = 1 - np.exp(-2 * (np.pi * BROAD * sigma * frequency) ** 2)
    return np.asarray((1 - breadth) * fine + breadth * broad)


def finest_sigma(
    paper_sigma_mm: float, distance_mm: float, output_ppi: float, effective_ppi: float
) -> float:
    """Return the finest useful scale of sharpening, in mm.

    Parameters
    ----------
    paper_sigma_mm : float
        Sigma of the blur of paper and process.
    distance_mm : float
        Viewing distance in mm, above 0.
    output_ppi : float
        Value for the file.
    effective_ppi : float
        Resolution before enlarging, in ppi.
    """
    return max(
        paper_sigma_mm,
        distance_mm * float(np.tan(np.radians(0.7 / 60))),
        0.6 * 25.4 / output_ppi,
        0.6 * 25.4 / effective_ppi,
    )


def _chain(
    paper_sigma_mm: float,
    distance_mm: float,
    pitch: float,
    method: str | None,
    hardness: float,
    sigma_mm: float,
    breadth: float,
) -> tuple[float, float]:
    """Return a print's acutance without sharpening, and its gain for an amount of 1."""
    # Convert cycles per degree to cycles per mm on the paper.
    frequency = _PER_DEGREE / (distance_mm * np.pi / 180)
    sensitivity = contrast_sensitivity(_PER_DEGREE)
    chain = np.exp(-2 * (np.pi * paper_sigma_mm * frequency) ** 2)
    samples = frequency / pitch
    if method is None:
        chain = chain * (samples <= 0.5)
    else:
        chain = chain * response(method, samples, hardness)
    whole = float(sensitivity.sum())
    gain = chain * sensitivity * boost(frequency, sigma_mm, breadth)
    return float((chain * sensitivity).sum()) / whole, float(gain.sum()) / whole


def restore(
    paper_sigma_mm: float,
    distance_mm: float,
    output_ppi: float,
    effective_ppi: float,
    method: str | None,
    breadth: float = 0.2,
    strength: float = 1.0,
    hardness: float = 0.0,
    far_mm: float | None = None,
) -> Restoration:
    """Return the sharpening for one print.

    Parameters
    ----------
    paper_sigma_mm, distance_mm : float
        Sigma of the paper's blur, and the viewing distance.
    output_ppi, effective_ppi : float
        Resolution of the file, and before enlarging.
    method : str or None
        The resampling method; None if pixels are kept.
    breadth : float
        0 (fine edges) to 1 (broad ones).
    strength : float
        Factor on the automatic amount.
    hardness : float
        Edges, −100 (soft) to 100 (hard).
    far_mm : float or None
        A second, farther viewing distance, from which the print must not be too crisp; or None.
    """
    pitch = min(output_ppi, effective_ppi) / 25.4
    sigma = finest_sigma(paper_sigma_mm, distance_mm, output_ppi, effective_ppi)
    before, gain = _chain(paper_sigma_mm, distance_mm, pitch, method, hardness, sigma, breadth)
    wanted = max(0.0, (1 - before) / gain) if gain > 1e-9 else 0.0
    most, bound = MOST, "amount"
    if far_mm is not None and far_mm > distance_mm:
        level, more = _chain(paper_sigma_mm, far_mm, pitch, method, hardness, sigma, breadth)
        until = max(0.0, (MOST_CRISP - level) / more) if more > 1e-9 else MOST
        if until < most:
            most, bound = until, "far"
    amount = strength * min(wanted, most)
    return Restoration(
        sigma_mm=sigma,
        amount=amount,
        acutance_before=before,
        acutance_after=before + amount * gain,
        gain=gain,
        bound=bound if wanted > most else None,
    )
