"""Compiled loops that resample a rotated picture; see `lookup` for their rules."""

from __future__ import annotations

import math

import numpy as np
from numba import njit

from zinc_margin.pixels.lookup import ONE, ZERO, F, copy
from zinc_margin.pixels.loops import fill_weights
from zinc_margin.pixels.ranges import hold_range, steeper


@njit(cache=True, nogil=True)
def range_of(planes, span, least, most):  # type: ignore[no-untyped-def]
    """Write the range of every square of `span` × `span` samples, at its first sample.

    planes (C, R, S) → least and most (C, R − span + 1, S − span + 1).

    Parameters
    ----------
    planes : ndarray (C, H, W), float32
        Working values, 0 to 1.
    least : ndarray, float32
        Minimum of the neighbours.
    most : ndarray, float32
        Maximum of the neighbours.
    """
    rows, columns = least.shape[1], least.shape[2]
    low = np.empty((planes.shape[1], columns), np.float32)
    high = np.empty((planes.shape[1], columns), np.float32)
    for channel in range(planes.shape[0]):
        for r in range(planes.shape[1]):
            line = planes[channel, r]
            copy(low[r], line[:columns])
            copy(high[r], line[:columns])
            for k in range(1, span):
                shifted = line[k : k + columns]
                for x in range(columns):
                    value = shifted[x]
                    low[r, x] = value if value < low[r, x] else low[r, x]
                    high[r, x] = value if value > high[r, x] else high[r, x]
        for r in range(rows):
            below, above = least[channel, r], most[channel, r]
            copy(below, low[r])
            copy(above, high[r])
            for k in range(1, span):
                for x in range(columns):
                    lower, higher = low[r + k, x], high[r + k, x]
                    below[x] = lower if lower < below[x] else below[x]
                    above[x] = higher if higher > above[x] else above[x]


@njit(cache=True, nogil=True)
def rotate(  # type: ignore[no-untyped-def]
    planes,
    origin,
    steps,
    first,
    place,
    shape,
    b,
    c,
    widen,
    support,
    crispness,
    taps,
    hold,
    steep,
    out,
):
    """Resample a rotated picture: planes (C, R, S), whose corner is `place`, → out (C, M, N).

    origin (x, y) is the print's corner in source samples; steps (xx, xy, yx, yy) lead from one
    output to the next across and down; first (column, row) is the first output wanted. Positions
    are counted from the print's corner, so tiles agree.

    Parameters
    ----------
    planes : ndarray (C, H, W), float32
        Working values, 0 to 1.
    origin : (float, float)
        The print's corner among the samples, x and y.
    steps : ndarray (4,), float64
        From one output to the next: x across, x down, y across, y down.
    first : (int, int)
        Column and row of the first output.
    place : (int, int)
        The slab's corner among the samples.
    shape : int
        `LANCZOS`, `CUBIC` or `BLOCKS`.
    b, c : float
        A cubic's parameters; see `measure.kernels`.
    widen : float
        The kernel's widening relative to scale 1.
    support : float
        The kernel's half-width, in samples.
    crispness : float
        Extrapolation of the weights from the B-spline's (−1: the B-spline).
    taps : int
        Samples under the kernel.
    hold : float
        Neighbours within this distance, in kernel units, limit ringing; 0 for no limit.
    steep : float32
        Steepening of edges; 0 for none.
    out : ndarray, float32
        The result.
    """
    wx = np.empty(taps)
    wy = np.empty(taps)
    channels = planes.shape[0]
    for row in range(out.shape[1]):
        for column in range(out.shape[2]):
            s = first[0] + column + 0.5
            t = first[1] + row + 0.5
            x = origin[0] + steps[0] * s + steps[1] * t
            y = origin[1] + steps[2] * s + steps[3] * t
            left = fill_weights(shape, b, c, x, widen, support, crispness, wx)
            top = fill_weights(shape, b, c, y, widen, support, crispness, wy)
            # The samples near enough to limit ringing.
            first_i = max(0, math.floor(x - hold * widen) + 1 - left)
            last_i = min(taps, math.ceil(x + hold * widen) - left)
            first_j = max(0, math.floor(y - hold * widen) + 1 - top)
            last_j = min(taps, math.ceil(y + hold * widen) - top)
            begin = np.uintp(left - place[0])
            for channel in range(channels):
                total = 0.0
                least = F(2)
                most = F(-1)
                for j in range(taps):
                    line = planes[channel, top - place[1] + j]
                    inner = 0.0
                    for i in range(taps):
                        inner += wx[i] * line[begin + np.uintp(i)]
                    total += wy[j] * inner
                    if first_j <= j < last_j:
                        for i in range(first_i, last_i):
                            value = line[begin + np.uintp(i)]
                            least = value if value < least else least
                            most = value if value > most else most
                value = F(total)
                if hold > 0:
                    if steep > ZERO:
                        value = steeper(value, least, most, steep)
                    else:
                        value = hold_range(value, least, most)
                out[channel, row, column] = min(max(value, ZERO), ONE)


@njit(cache=True, nogil=True)
def rotate_close(  # type: ignore[no-untyped-def]
    planes, least, most, origin, steps, first, place, series, hold, steep, out
):
    """Resample a rotated picture that is not reduced: a faster version of `rotate`.

    series (taps, terms; both even) holds every tap's weight as a polynomial in the position between
    samples, −½ to ½; least and most are the results of `range_of` over 4 samples each way.

    Parameters
    ----------
    planes : ndarray (C, H, W), float32
        Working values, 0 to 1.
    least : ndarray, float32
        Minimum of the neighbours.
    most : ndarray, float32
        Maximum of the neighbours.
    origin : (float, float)
        The print's corner among the samples, x and y.
    steps : ndarray (4,), float64
        From one output to the next: x across, x down, y across, y down.
    first : (int, int)
        Column and row of the first output.
    place : (int, int)
        The slab's corner among the samples.
    series : ndarray (taps, terms), float32
    hold : float
        Neighbours within this distance, in kernel units, limit ringing; 0 for no limit.
    steep : float32
        Steepening of edges; 0 for none.
    out : ndarray, float32
        The result.
    """
    taps, terms = series.shape
    columns = out.shape[2]
    wx = np.empty((taps, columns), np.float32)
    wy = np.empty((taps, columns), np.float32)
    across = np.empty(columns, np.int64)
    along = np.empty(columns, np.int64)
    part_x = np.empty(columns, np.float32)
    part_y = np.empty(columns, np.float32)
    before = taps // 2 - 1
    inner = taps // 2 - 2
    for row in range(out.shape[1]):
        t = first[1] + row + 0.5
        for column in range(columns):
            s = first[0] + column + 0.5
            x = origin[0] + steps[0] * s + steps[1] * t
            y = origin[1] + steps[2] * s + steps[3] * t
            whole_x, whole_y = math.floor(x), math.floor(y)
            across[column] = whole_x - before - place[0]
            along[column] = whole_y - before - place[1]
            part_x[column] = F(x - whole_x - 0.5)
            part_y[column] = F(y - whole_y - 0.5)
        # A tap and its mirror image share their even and their odd powers.
        for weights, part in ((wx, part_x), (wy, part_y)):
            for k in range(taps // 2):
                own, mirrored = weights[k], weights[taps - 1 - k]
                for column in range(columns):
                    own[column] = series[k, 0]
                    mirrored[column] = series[k, 1]
                for term in range(2, terms, 2):
                    odd, even = series[k, term], series[k, term + 1]
                    for column in range(columns):
                        square = part[column] * part[column]
                        own[column] = own[column] * square + odd
                        mirrored[column] = mirrored[column] * square + even
                for column in range(columns):
                    tilt = part[column] * own[column]
                    own[column] = mirrored[column] + tilt
                    mirrored[column] = mirrored[column] - tilt
        if taps == 6:  # Lanczos, the usual case, unrolled; weights serve all channels
            for column in range(columns):
                i, j = np.uintp(across[column]), np.uintp(along[column])
                a, b, c = wx[0, column], wx[1, column], wx[2, column]
                d, e, f = wx[3, column], wx[4, column], wx[5, column]
                for channel in range(planes.shape[0]):
                    plane = planes[channel]
                    total = ZERO
                    for k in range(6):
                        line = plane[j + np.uintp(k)]
                        total += wy[k, column] * (
                            a * line[i]
                            + b * line[i + np.uintp(1)]
                            + c * line[i + np.uintp(2)]
                            + d * line[i + np.uintp(3)]
                            + e * line[i + np.uintp(4)]
                            + f * line[i + np.uintp(5)]
                        )
                    out[channel, row, column] = total
        else:
            for channel in range(planes.shape[0]):
                plane = planes[channel]
                for column in range(columns):
                    i, j = np.uintp(across[column]), np.uintp(along[column])
                    total = ZERO
                    for k in range(taps):
                        line = plane[j + np.uintp(k)]
                        inside = ZERO
                        for m in range(taps):
                            inside += wx[m, column] * line[i + np.uintp(m)]
                        total += wy[k, column] * inside
                    out[channel, row, column] = total
        for channel in range(planes.shape[0]):
            goal = out[channel, row]
            for column in range(columns):
                value = goal[column]
                if hold > 0:
                    i, j = across[column] + inner, along[column] + inner
                    low, high = least[channel, j, i], most[channel, j, i]
                    if steep > ZERO:
                        value = steeper(value, low, high, steep)
                    else:
                        value = hold_range(value, low, high)
                goal[column] = min(max(value, ZERO), ONE)
