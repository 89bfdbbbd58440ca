"""A photo's spectrum: its contrast in each octave of detail size.

References
----------
G. J. Burton, I. R. Moorhead, "Color and spatial structure in natural scenes", Applied Optics 26
(1987): the power of photographs falls by about the square of the frequency, each in its own way.
"""

from __future__ import annotations

import numpy as np

from zinc_margin.photo.sample import Sample

OCTAVES = 7
"""The finest octave ends at 0.5 cycles per pixel."""


SIDE, MOST = 128, 512
"""Side of a piece, in pixels, and the largest number of pieces examined."""
_SMALLEST = 16  # px; a smaller piece resolves too few octaves


def bands_of(pieces: Sample) -> tuple[float, ...] | None:
    """Return the contrast of each octave, finest first, in L* rms.

    Parameters
    ----------
    pieces : Sample
        Pieces that overlap by half: the part that one piece's window suppresses is central in
        another.

    Returns
    -------
    tuple of float or None
        As many octaves as a piece resolves; None if the photo is only a few pixels wide.
    """
    tiles, side = pieces.tiles, pieces.side
    if side < _SMALLEST:
        return None
    window = np.hanning(side).astype(np.float32)
    window = window[:, None] * window[None]
    shares = float((window**2).mean())
    ring = np.hypot(np.fft.fftfreq(side)[:, None], np.fft.rfftfreq(side)[None])
    # Except for the first and last, each column represents a positive and a negative frequency.
    twice = np.full(side // 2 + 1, 2.0)
    twice[[0, -1]] = 1.0
    power = np.zeros_like(ring)
    for tile in tiles:
        power += np.abs(np.fft.rfft2((tile - tile.mean()) * window)) ** 2
    power *= twice / (len(tiles) * side**4 * shares)
    bands = []
    for octave in range(min(OCTAVES, int(np.log2(side)))):
        high = 0.5 / 2**octave
        inside = (ring > high / 2) & (ring <= high)
        bands.append(round(float(np.sqrt(power[inside].sum())), 4))
    return tuple(bands)
