"""Edges between two plain tones: their width and overshoot.

References
----------
J. Weickert, "Anisotropic Diffusion in Image Processing" (1998), for the structure tensor that
tells straight edges from texture; ISO 12233 for reading a system's sharpness off its edges.
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np

from zinc_margin.photo.sample import Sample

_REACH = 13.0  # px on each side of an edge; wider than the blur of any usable photo
_STEP = 0.5  # px between profile samples
_PER_TILE = 6  # so that one busy tile does not outvote the others
_APART = 14  # px around a chosen edge in which no other is chosen, to keep them independent
_LEAST_CONTRAST = 10.0  # L*; weaker edges are lost in noise
_LEAST_SLOPE = 1.0  # L* per px; flatter slopes are shading, not edges
_STRAIGHT = 0.85  # share of the gradient along one direction; corners and textures are below
_QUIET = 0.05  # deviation of the tones beside an edge, as a share of its step


@dataclass(frozen=True, eq=False)
class Edges:
    """Measurements of the edges between two plain tones.

    Attributes
    ----------
    sigma_px : ndarray (N,)
        Sigma, in pixels, of the Gaussian edge with the same slope; sorted from narrow to wide.
    halo : ndarray (N,)
        The smaller of both sides' overshoots, as a share of the step: sharpening overshoots on both
        sides, a line or highlight beside an edge only on one.
    contrast : ndarray (N,)
        The step, in L*.
    places : ndarray (N, 2), int
        x and y in the photo.
    """

    sigma_px: np.ndarray
    halo: np.ndarray
    contrast: np.ndarray
    places: np.ndarray


def edges_of(pieces: Sample) -> Edges:
    """Find straight, isolated edges and measure their profiles, in two threads."""
    with ThreadPoolExecutor(2) as pool:
        both = [
            Sample(pieces.tiles[share::2], pieces.places[share::2])
            for share in (0, 1)
            if len(pieces.tiles) > share
        ]
        rows = list(pool.map(_edges_of_some, both))
    if not rows:
        none = np.zeros(0)
        return Edges(none, none, none, np.zeros((0, 2), int))
    names = ("sigma_px", "halo", "contrast", "places")
    sigma, halo, contrast, places = (
        np.concatenate([getattr(some, name) for some in rows]) for name in names
    )
    order = np.argsort(sigma, kind="stable")
    return Edges(sigma[order], halo[order], contrast[order], places[order])


def _edges_of_some(pieces: Sample) -> Edges:
    from scipy import ndimage

    tiles = pieces.tiles
    tile, row, column, angle = _candidates(tiles)
    reach = np.arange(-_REACH, _REACH + _STEP / 2, _STEP)
    beside = np.arange(-3, 4)
    normal_x, normal_y = np.cos(angle), np.sin(angle)
    x = column[:, None, None] + reach * normal_x[:, None, None]
    x = x - beside[:, None] * normal_y[:, None, None]
    y = row[:, None, None] + reach * normal_y[:, None, None]
    y = y + beside[:, None] * normal_x[:, None, None]
    # Search all pieces as one tall picture, but keep candidates away from the seams.
    tall = tiles.reshape(-1, pieces.side)
    y = y + (tile * pieces.side)[:, None, None]
    profiles = ndimage.map_coordinates(tall, [y, x], order=3, mode="nearest").mean(axis=1)
    return _read(profiles, tile, row, column, pieces)


def _candidates(tiles: np.ndarray) -> tuple[np.ndarray, ...]:
    """Return tile, row, column and normal angle of the strongest straight edges."""
    from scipy import ndimage

    smooth = ndimage.gaussian_filter(tiles, (0, 1.5, 1.5), truncate=3)
    down, across = np.gradient(smooth, axis=1), np.gradient(smooth, axis=2)
    wide = (0, 3, 3)
    xx, yy, xy = (
        ndimage.gaussian_filter(product, wide, truncate=2.5)
        for product in (across * across, down * down, across * down)
    )
    straight = np.hypot(xx - yy, 2 * xy) > _STRAIGHT * (xx + yy)
    score = np.where(straight, np.hypot(across, down), 0)
    rim = int(_REACH) + 5
    inner = np.zeros_like(score)
    inner[:, rim:-rim, rim:-rim] = score[:, rim:-rim, rim:-rim]
    count, side = len(tiles), tiles.shape[1]
    every = np.arange(count)
    spread = np.arange(side)
    rows = []
    for _ in range(_PER_TILE):
        row, column = np.divmod(inner.reshape(count, -1).argmax(axis=1), side)
        enough = inner[every, row, column] >= _LEAST_SLOPE
        rows.append(np.stack([every, row, column])[:, enough])
        near_row = np.abs(spread - row[:, None]) <= _APART
        near_column = np.abs(spread - column[:, None]) <= _APART
        inner[near_row[:, :, None] & near_column[:, None, :]] = 0
    tile, row, column = np.concatenate(rows, axis=1)
    at = tile, row, column
    angle = 0.5 * np.arctan2(2 * xy[at], xx[at] - yy[at])
    backwards = across[at] * np.cos(angle) + down[at] * np.sin(angle) < 0
    return tile, row, column, angle + np.pi * backwards


def _read(
    profiles: np.ndarray, tile: np.ndarray, row: np.ndarray, column: np.ndarray, pieces: Sample
) -> Edges:
    plateau = 11
    low = np.median(profiles[:, :plateau], axis=1)
    high = np.median(profiles[:, -plateau:], axis=1)
    step = high - low
    safe = np.maximum(step, 1e-3)
    unrest = np.maximum(
        np.abs(profiles[:, :plateau] - low[:, None]).mean(axis=1),
        np.abs(profiles[:, -plateau:] - high[:, None]).mean(axis=1),
    )
    slopes = np.diff(profiles, axis=1)
    steepest = slopes.argmax(axis=1)
    middle = profiles.shape[1] // 2
    good = (step >= _LEAST_CONTRAST) & (unrest < _QUIET * safe) & (np.abs(steepest - middle) <= 4)
    places = np.arange(profiles.shape[1])
    after = (places > steepest[:, None]) & (places < steepest[:, None] + 15)
    before = (places <= steepest[:, None]) & (places > steepest[:, None] - 15)
    over = np.where(after, profiles, -1e9).max(axis=1) - high
    under = low - np.where(before, profiles, 1e9).min(axis=1)
    sigma = step / np.maximum(slopes.max(axis=1) / _STEP, 1e-6) / np.sqrt(2 * np.pi)
    order = np.flatnonzero(good)[np.argsort(sigma[good], kind="stable")]
    origin = pieces.places[tile[order]]
    return Edges(
        sigma[order],
        np.minimum(over, under)[order] / safe[order],
        step[order],
        np.stack([origin[:, 1] + column[order], origin[:, 0] + row[order]], axis=1),
    )


_BUSY = 0.15
"""The share of a photo that is examined: its busiest places."""
_FEWEST = 2000  # places needed to measure the finest tenth
_AROUND = 16
"""Half the window, in pixels, over which local power is averaged."""
_FINEST = 0.9  # quantile of the finest places that counts


def fineness_of(pieces: Sample) -> float | None:
    """Return the power of curvature over one pixel ÷ that over two, where the photo is finest.

    Of the busiest places, the finest tenth counts: much of a photo is usually out of focus, which
    reveals nothing about its pixels. The ratio is about 0.3 for a reduced picture that is sharp per
    pixel, and 0.2 or less for a blurred or enlarged one.

    Returns
    -------
    float or None
        None without detail.
    """
    from scipy import ndimage

    if not len(pieces.tiles):
        return None
    rows = []
    for axis in (1, 2):
        z = np.moveaxis(pieces.tiles, axis, 0)
        one = z[1:-3] - 2 * z[2:-2] + z[3:-1]
        two = z[:-4] - 2 * z[2:-2] + z[4:]
        near, far = (
            ndimage.uniform_filter(np.moveaxis(each**2, 0, axis), (0, _AROUND, _AROUND))
            for each in (one, two)
        )
        busy = far > np.quantile(far, 1 - _BUSY)
        if busy.sum() < _FEWEST or far[busy].mean() < 0.5:
            return None
        rows.append(near[busy] / far[busy])
    return float(np.quantile(np.concatenate(rows), _FINEST))


Place = tuple[int, int]


_GLARE, _MOST_GLARE = 95, 0.05
"""L* of a highlight, and the share of a place beyond which it counts as one."""


def sights(pieces: Sample, edges: Edges) -> dict[str, Place]:
    """Return places worth a look: x and y in the photo.

    Returns
    -------
    dict
        ``contrast`` (strongest edge), ``smooth`` (longest gradient without texture), ``shadow``
        (deepest that is not pure black), ``texture`` (the busiest place in focus that is no
        highlight), if present.
    """
    tiles = pieces.tiles
    fields: dict[str, Place] = {}
    if len(edges.contrast):
        best = int(edges.contrast.argmax())
        fields["contrast"] = (int(edges.places[best, 0]), int(edges.places[best, 1]))
    if not len(tiles):
        return fields
    fine = np.abs(np.diff(tiles, 2, axis=2)).mean(axis=(1, 2))
    mean = tiles.mean(axis=(1, 2))
    quarter = max(1, pieces.side // 4)
    coarse = tiles[:, : quarter * 4, : quarter * 4].reshape(len(tiles), 4, quarter, 4, quarter)
    means = coarse.mean(axis=(2, 4)).reshape(len(tiles), -1)
    span = means.max(axis=1) - means.min(axis=1)
    seen = (mean > 2) & (mean < 98)
    if seen.any():
        glare = (tiles > _GLARE).mean(axis=(1, 2))
        fields["texture"] = _middle(pieces, np.where(seen & (glare < _MOST_GLARE), fine, -1))
        quiet = seen & (fine <= np.quantile(fine[seen], 0.3))
        fields["smooth"] = _middle(pieces, np.where(quiet & (span < 20), span, -1))
        fields["shadow"] = _middle(pieces, np.where(mean > 2, -mean, -1e9))
    return fields


def _middle(pieces: Sample, score: np.ndarray) -> Place:
    top, left = pieces.places[int(score.argmax())]
    return int(left) + pieces.side // 2, int(top) + pieces.side // 2
