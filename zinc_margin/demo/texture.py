"""Building blocks of the demo pictures: clouds of noise, lenses, and camera noise."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache

import numpy as np

STRIP = 250
"""Rows drawn at a time."""


@cache
def cloud(seed: int, slope: float, size: int = 1024, stretch: float = 1.0) -> np.ndarray:
    """Return periodic noise whose amplitude is frequency to the power of −slope.

    Parameters
    ----------
    stretch : float
        Above 1 stretches it horizontally.

    Returns
    -------
    ndarray (size, size), float32
        Mean 0, deviation 1.
    """
    from scipy import fft

    rng = np.random.default_rng(seed)
    down = np.fft.fftfreq(size)[:, None]
    along = np.fft.rfftfreq(size)[None, :] * stretch
    frequency = np.hypot(down, along)
    frequency[0, 0] = 1
    spectrum = fft.rfft2(rng.standard_normal((size, size)).astype(np.float32))
    spectrum /= frequency**slope
    spectrum[0, 0] = 0
    field = fft.irfft2(spectrum, s=(size, size)).astype(np.float32)
    return np.asarray(field / field.std())


def stretch(field: np.ndarray, rows: np.ndarray, columns: np.ndarray) -> np.ndarray:
    """Return a periodic field, interpolated at fractional positions, rows × columns.

    Parameters
    ----------
    rows, columns : ndarray (R,), (C,)

    Returns
    -------
    ndarray (R, C), float32
    """
    size = field.shape[0]
    y0, x0 = np.floor(rows).astype(int), np.floor(columns).astype(int)
    fy, fx = (rows - y0).astype(np.float32)[:, None], (columns - x0).astype(np.float32)
    upper, lower = field[y0 % size], field[(y0 + 1) % size]
    lines = upper + (lower - upper) * fy
    left, right = lines[:, x0 % size], lines[:, (x0 + 1) % size]
    return np.asarray(left + (right - left) * fx)


def step(low: float, high: float, x: np.ndarray) -> np.ndarray:
    """Return 0 below `low`, 1 above `high`, and a smooth step between."""
    part = np.clip((x - low) / np.float32(high - low), 0, 1)
    return np.asarray(part * part * (3 - 2 * part))


def mix(one: np.ndarray, other: np.ndarray | tuple[float, ...], share: np.ndarray) -> np.ndarray:
    """Blend colours (…, 3) by a share (…)."""
    return one + (np.asarray(other, np.float32) - one) * share[..., None]


def strips(height: int) -> Iterator[slice]:
    """Yield slices of `STRIP` rows."""
    for top in range(0, height, STRIP):
        yield slice(top, min(height, top + STRIP))


def develop(light: np.ndarray, rng: np.random.Generator, most: int, grain: float) -> np.ndarray:
    """Turn linear light (…, 3) into sRGB-like codes with a camera's noise.

    Parameters
    ----------
    most : int
        255 or 65535.
    grain : float
        Standard deviation of the noise in mid-tones, as a share of white.
    """
    noise = rng.standard_normal(light.shape, np.float32)
    light = np.maximum(light, 0)
    # Photon noise: brighter places are noisier in light, but less so perceptually.
    light = light + noise * (grain * np.sqrt(light + 0.002))
    # A shoulder, so highlights roll off as in film and cameras.
    light = np.where(light > 0.7, 0.7 + 0.3 * np.tanh((light - 0.7) / 0.3), light)
    code = np.clip(light, 0, 1) ** np.float32(1 / 2.2)
    return np.asarray((code * most + 0.5).astype(np.uint8 if most == 255 else np.uint16))
