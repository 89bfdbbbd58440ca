"""Sharpening and grain, a strip of rows at a time so intermediate data stay in the cache."""

from __future__ import annotations

import numpy as np

from zinc_margin.photo.arrays import Plane
from zinc_margin.pixels.edges import blur_across, blur_down, range_across, range_down, restrain
from zinc_margin.pixels.grain import grain
from zinc_margin.pixels.half_size import double_down, halve_across, halves_of
from zinc_margin.pixels.lightness import lightness, move

_Curve = tuple[np.ndarray, np.ndarray]
_ROWS = 32
"""Rows of a strip."""


def sharpen(
    planes: Plane,
    apron: int,
    tones: tuple[_Curve, _Curve, np.ndarray, np.ndarray],
    kernels: tuple[np.ndarray, np.ndarray, bool, int],
    held: tuple[np.float32, ...],
    grained: tuple[int, int, float, np.float32],
) -> None:
    """Sharpen working values (C, H + 2·apron, W + 2·apron) and add grain, in place.

    Parameters
    ----------
    planes : ndarray (C, H + 2·apron, W + 2·apron), float32
        Working values, 0 to 1.
    apron : int
        Extra pixels on each side.
    tones : tuple
        `decode`, `encode`, `to_xyz` and `from_xyz`, as in `move`.
    kernels : (ndarray, ndarray, bool, int)
        The finer and the broader blur, from the centre outwards (empty: no sharpening); whether the
        broader one works at half size; radius for the overshoot limit.
    held : tuple of float32
        See `restrain`.
    grained : (int, int, float, float)
        Position in the file of the area inside the apron, diameter of a grain in pixels (0: none),
        and its deviation.
    """
    decode, encode, to_xyz, from_xyz = tones
    fine, broad, halves, near = kernels
    left, first, size, deviation = grained
    channels, high, wide = planes.shape
    height, width = high - 2 * apron, wide - 2 * apron
    flat = planes.reshape((channels, high * wide))
    corner = 1 - (first - apron) % 2, 1 - (left - apron) % 2
    low, thin = halves_of(high, corner[0]), halves_of(wide, corner[1])
    half = np.empty((low if halves else 0, thin), np.float32)
    light = np.empty((high, wide), np.float32)
    tone = light.reshape(high * wide)
    soft = np.empty((high, width), np.float32)
    shape = (low, thin - 2 * broad.shape[0] + 2) if halves else (high, width)
    broader = np.empty(shape, np.float32)
    lows, highs = np.empty((high, width), np.float32), np.empty((high, width), np.float32)
    blurs = np.empty((_ROWS, width), np.float32), np.empty((_ROWS, width), np.float32)
    ends = np.empty((_ROWS, width), np.float32), np.empty((_ROWS, width), np.float32)
    change = np.empty((_ROWS, width), np.float32)
    room = _ROWS * width + 1
    where = np.empty(room, np.int32)
    moves = where, np.empty(room, np.float32), np.empty(room, np.float32)
    ready = 0
    for top in range(0, height, _ROWS):
        bottom = min(top + _ROWS, height)
        rows, upto = bottom - top, bottom + 2 * apron
        lightness(flat, (ready * wide, upto * wide), decode, to_xyz[1], tone)
        count = 0
        if broad.shape[0] > 0:
            fresh = ready, upto
            blur_across(light, fresh, apron, fine, soft)
            if halves:
                pairs = halves_of(ready, corner[0]), halves_of(upto, corner[0])
                halve_across(light, pairs, corner, broad, half, broader)
            else:
                blur_across(light, fresh, apron, broad, broader)
            range_across(light, fresh, apron, near, lows, highs)
            finer, softer = blurs[0][:rows], blurs[1][:rows]
            least, most = ends[0][:rows], ends[1][:rows]
            blur_down(soft, top + apron, fine, finer)
            if halves:
                double_down(broader, top + apron, apron, corner, broad, softer)
            else:
                blur_down(broader, top + apron, broad, softer)
            range_down(lows, highs, top + apron, near, least, most)
            place = top + apron, apron
            count = restrain(light, place, (finer, softer), (least, most), held, moves)
        ready = upto
        if size > 0:
            part = change[:rows]
            part[:] = 0
            row, column = np.divmod(where[:count], wide)
            part[row - top - apron, column - apron] = moves[2][:count]
            grain(light[top + apron :], apron, left, first + top, size, deviation, part)
            down, across = np.ogrid[top + apron : bottom + apron, apron : apron + width]
            count = part.size
            where[:count] = (down * wide + across).reshape(-1)
            moves[1][:count] = light[down, across].reshape(-1)
            moves[2][:count] = part.reshape(-1)
        # Change a row only after all measurements that need it.
        move(flat, moves, count, decode, encode, to_xyz, from_xyz)
