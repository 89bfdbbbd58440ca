"""Edges between two quiet tones: how wide they are, and how far they shoot over.

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

_REACH = 13.0
_STEP = 0.5
_PER_TILE = 6
_APART = 14
_LEAST_CONTRAST = 10.0
_LEAST_SLOPE = 1.0
_STRAIGHT = 0.85
_QUIET = 0.05


@dataclass(frozen=True, eq=False)
class Edges:
    """What was read off the edges that stand between two quiet tones.

    Attributes
    ----------
    sigma_px : ndarray (N,)
        Width of the Gaussian whose edge has the same slope, in pixels; from narrow to wide.
    halo : ndarray (N,)
        Overshoot on the side that has less of it, as a share of the step: sharpening shoots over
        on both sides, a line or a highlight beside an edge only on one.
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
    """Find straight, isolated edges and read their profiles; two threads share the pieces."""
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
    # all pieces as one tall picture: candidates keep so far from the seams that none is crossed
    tall = tiles.reshape(-1, pieces.side)
    y = y + (tile * pieces.side)[:, None, None]
    profiles = ndimage.map_coordinates(tall, [y, x], order=3, mode="nearest").mean(axis=1)
    return _read(profiles, tile, row, column, pieces)


def _candidates(tiles: np.ndarray) -> tuple[np.ndarray, ...]:
    """Return tile, row, column and the angle across the edge of the strongest straight edges."""
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
