"""Earlier enlargement: the share of a photo's pixels that carry real detail.

References
----------
A. C. Gallagher, "Detection of linear and cubic interpolation in JPEG compressed images",
Proc. CRV (2005): interpolation leaves its period in the variance of differences.
A. C. Popescu and H. Farid, "Exposing digital forgeries by detecting traces of resampling",
IEEE Trans. Signal Processing 53 (2005): that interpolated pixels foretell each other; with whole
factors only odd differences show it.
"""

from __future__ import annotations

import numpy as np

from zinc_margin.photo.sample import Sample

_STRONG = 20.0
"""A spectral line this many times as high as the median line is not due to chance."""
_LOWEST = 0.22  # cycles per pixel; below, photographs have too much power for lines to show
_STEEP, _GENTLE = 15.0, 6.0
"""Falls of the spectrum, in dB, that camera photos do not reach, and do not nearly reach."""
_GRID_LINES = (0.125, 0.25, 0.375, 0.5)
_NEAR_LINE = 0.006  # cycles per pixel within which a line belongs to JPEG's grid


def true_share(pieces: Sample) -> float:
    """Return the share of pixels each way that carry real detail; 1 if the photo was not enlarged.

    Two signs must agree: the period left by interpolation, which gives the factor (1.28 to 4.5),
    and a spectrum that drops where the smaller picture's detail ends. Blur alone has no period, and
    repeats in the subject do not empty the spectrum. Heavy JPEG compression after the enlargement
    erases the period.
    """
    if len(pieces.tiles) < 4:
        return 1.0
    power = 10 * np.log10(np.maximum(spectrum(pieces.tiles), 1e-12))
    factor = _by_period(pieces, power)
    return 1.0 if factor is None else round(1 / factor, 3)


def spectrum(tiles: np.ndarray) -> np.ndarray:
    """Return the mean power spectrum of the busier half of the pieces, 0 to 0.5 cycles per pixel.

    Power is in L* squared, for each of T / 2 + 1 frequencies.

    Parameters
    ----------
    tiles : ndarray
        (N, T, T), L*.
    """
    busy = tiles.std(axis=(1, 2))
    chosen = tiles[busy >= np.median(busy)]
    window = np.hanning(tiles.shape[1]).astype(np.float32)
    power = np.zeros(tiles.shape[1] // 2 + 1)
    for rows in (chosen, chosen.swapaxes(1, 2)):
        waves = np.fft.rfft((rows - rows.mean(axis=2, keepdims=True)) * window, axis=2)
        power += (np.abs(waves) ** 2).mean(axis=(0, 1)) / (window**2).sum()
    return power / 2


def _by_period(pieces: Sample, power: np.ndarray) -> float | None:
    places, lines = _lines(pieces)
    near = {line: lines[np.abs(places - line) < _NEAR_LINE].max() for line in _GRID_LINES}
    blocks = max(near[0.125], near[0.375])
    usable = places >= _LOWEST
    for line in _GRID_LINES:
        if line in (0.125, 0.375) or near[line] < 2 * blocks:
            usable &= np.abs(places - line) >= _NEAR_LINE
    best = int(np.where(usable, lines, 0).argmax())
    if lines[best] < _STRONG:
        return None
    period = float(places[best])
    # Halved JPEG blocks also leave a line at 1/4, so it counts only for a whole factor.
    for line in (0.25, 0.5):
        if abs(period - line) < _NEAR_LINE:
            return 1 / line if _fall(power, 1 / line) >= _STEEP - 4 else None
    whole, part = 1 / period, 1 / (1 - period)
    if _fall(power, whole) >= _STEEP:
        return whole
    return part if _fall(power, part) >= _GENTLE else None


def _lines(pieces: Sample) -> tuple[np.ndarray, np.ndarray]:
    """Return frequencies and their prominence, in first or second differences, both directions."""
    from scipy import ndimage

    span = int(pieces.places.max()) + pieces.side
    size = 4096
    while size < 2 * span:
        size *= 2
    rows = []
    for order in (1, 2):
        both = []
        for axis in (0, 1):
            tiles = pieces.tiles if axis == 1 else pieces.tiles.swapaxes(1, 2)
            steps = np.minimum(np.abs(np.diff(tiles, order, axis=2)), 4.0).mean(axis=1)
            steps /= np.maximum(steps.mean(axis=1, keepdims=True), 1e-3)
            total, count = np.zeros(span), np.zeros(span)
            for start, row in zip(pieces.places[:, axis], steps, strict=True):
                total[start + 1 : start + 1 + len(row)] += row
                count[start + 1 : start + 1 + len(row)] += 1
            there = count > 0
            mean = np.where(there, total / np.maximum(count, 1), 1)
            rest = np.where(there, mean - ndimage.uniform_filter1d(mean, 31), 0)
            waves = np.abs(np.fft.rfft(rest * np.hanning(span), size))
            both.append(waves / np.median(waves))
        rows.append(np.minimum(*both))
    return np.arange(size // 2 + 1) / size, np.maximum(*rows)


def _fall(power: np.ndarray, factor: float) -> float:
    """Return the drop, in dB, across the frequency where an enlarged picture's detail ends."""
    places = np.arange(len(power)) / (2 * (len(power) - 1))
    end = 0.5 / factor
    below = power[(places >= 0.55 * end) & (places <= 0.8 * end)].mean()
    above = power[(places >= 1.2 * end) & (places <= max(1.6 * end, 1.2 * end + 0.02))].mean()
    return float(below - above)
