"""Compiled loops that resample; see `lookup` for their rules."""

from __future__ import annotations

import math

import numpy as np
from numba import njit

from zinc_margin.pixels.lookup import ONE, ZERO, copy, look, root
from zinc_margin.pixels.ranges import hold_range, steeper
from zinc_margin.pixels.weights import BLOCKS, LANCZOS


@njit(cache=True, nogil=True)
def unpack(codes, table, rows, columns, out):  # type: ignore[no-untyped-def]
    """Convert stored samples (H, W, C) to planes (C, len(rows), len(columns)) through a table.

    Parameters
    ----------
    codes : ndarray (H, W, C), uint8 or uint16
    table : ndarray, float32
        Values on an even grid.
    rows : ndarray (M,), int
        Rows of the block.
    columns : ndarray (N,), int
        Columns of the block.
    out : ndarray, float32
        The result.
    """
    for channel in range(out.shape[0]):
        values = table[channel]
        for r in range(rows.shape[0]):
            row = codes[rows[r]]
            line = out[channel, r]
            for c in range(columns.shape[0]):
                line[c] = values[row[columns[c], channel]]


@njit(inline="always")
def _weighted_sum(row, start, own, whole):  # type: ignore[no-untyped-def]
    """Return the weighted sum of a row's samples from `start` on, in four independent sums.

    `whole` is the largest multiple of four among the weights.
    """
    one, two, three, four = ZERO, ZERO, ZERO, ZERO
    for k in range(0, whole, 4):
        at = start + np.uintp(k)
        one += own[k] * row[at]
        two += own[k + 1] * row[at + np.uintp(1)]
        three += own[k + 2] * row[at + np.uintp(2)]
        four += own[k + 3] * row[at + np.uintp(3)]
    total = (one + two) + (three + four)
    for k in range(whole, own.shape[0]):
        total += own[k] * row[start + np.uintp(k)]
    return total


@njit(cache=True, nogil=True)
def double(plane, taps, pad, between, out):  # type: ignore[no-untyped-def]
    """Enlarge the inside of a plane (H, W) by two, without ringing limits.

    `taps` are the six of an even output, starting three samples before its own; an odd output uses
    them reversed. `between` is (H, N) for out (M, N).

    Parameters
    ----------
    plane : ndarray (H, W), float32
    taps : ndarray (6,), float32
        Weights of an even output's samples.
    pad : int
        Extra pixels on every side.
    between : ndarray (H, N), float32
    out : ndarray, float32
        The result.
    """
    a, b, c, d, e, f = taps
    for r in range(pad - 3, plane.shape[0] - pad + 3):
        row, line = plane[r], between[r]
        for x in range(out.shape[1] // 2):
            at = pad + x
            two, three, four = row[at - 2], row[at - 1], row[at]
            five, six = row[at + 1], row[at + 2]
            even = a * row[at - 3] + b * two + c * three + d * four + e * five + f * six
            odd = f * two + e * three + d * four + c * five + b * six + a * row[at + 3]
            line[2 * x], line[2 * x + 1] = even, odd
    for y in range(out.shape[0] // 2):
        at = pad + y
        even, odd = out[2 * y], out[2 * y + 1]
        u, v, w = between[at - 3], between[at - 2], between[at - 1]
        here, p, q, s = between[at], between[at + 1], between[at + 2], between[at + 3]
        for x in range(out.shape[1]):
            even[x] = a * u[x] + b * v[x] + c * w[x] + d * here[x] + e * p[x] + f * q[x]
            odd[x] = f * v[x] + e * w[x] + d * here[x] + c * p[x] + b * q[x] + a * s[x]


@njit(inline="always")
def _ranges(low, high, source, count):  # type: ignore[no-untyped-def]
    """Write the minimum and maximum of every `count` neighbours in a pair of rows."""
    below, above = source
    length = below.shape[0] - count + 1
    copy(low[:length], below[:length])
    copy(high[:length], above[:length])
    for k in range(1, count):
        lower, higher = below[k : k + length], above[k : k + length]
        for x in range(length):
            low[x] = lower[x] if lower[x] < low[x] else low[x]
            high[x] = higher[x] if higher[x] > high[x] else high[x]


@njit(inline="always")
def _range_of_rows(low, high, rows, first, count):  # type: ignore[no-untyped-def]
    """Write the minimum and maximum of `count` rows at every place."""
    copy(low, rows[first])
    copy(high, rows[first])
    for k in range(1, count):
        row = rows[first + k]
        for x in range(low.shape[0]):
            here = row[x]
            low[x] = here if here < low[x] else low[x]
            high[x] = here if here > high[x] else high[x]


@njit(cache=True, nogil=True)
def reduce(  # type: ignore[no-untyped-def]
    planes, starts_x, weights_x, near_x, starts_y, weights_y, near_y, steep, out, lines
):
    """Reduce planes (C, R, S) → out (C, M, N): vertically first, one output row at a time.

    Few rows remain for the horizontal pass, and they stay in the cache. lines (5, S) is scratch.

    Parameters
    ----------
    planes : ndarray (C, H, W), float32
        Working values, 0 to 1.
    starts_x : ndarray (N,), int64
        First sample of each output, across.
    weights_x : ndarray (N, taps), float32
        Weights of each output, across.
    near_x : (int, int)
        First tap and number of taps that limit ringing, across.
    starts_y : ndarray (M,), int64
        First sample of each output, down.
    weights_y : ndarray (M, taps), float32
        Weights of each output, down.
    near_y : (int, int)
        The same, down.
    steep : float32
        Steepening of edges; 0 for none.
    out : ndarray, float32
        The result.
    lines : ndarray (5, S), float32
    """
    taps_x, taps_y = weights_x.shape[1], weights_y.shape[1]
    first_x, count_x = near_x
    first_y, count_y = near_y
    value, low, high, least, most = lines[0], lines[1], lines[2], lines[3], lines[4]
    whole = taps_x // 4 * 4
    for channel in range(planes.shape[0]):
        plane = planes[channel]
        for y in range(starts_y.shape[0]):
            start = starts_y[y]
            value[:] = ZERO
            for k in range(taps_y):
                weight = weights_y[y, k]
                row = plane[start + k]
                for x in range(row.shape[0]):
                    value[x] += weight * row[x]
            line = out[channel, y]
            for x in range(starts_x.shape[0]):
                line[x] = _weighted_sum(value, np.uintp(starts_x[x]), weights_x[x], whole)
            if count_x > 0:
                _range_of_rows(low, high, plane, start + first_y, count_y)
                _ranges(least, most, (low, high), count_x)
                for x in range(starts_x.shape[0]):
                    at = np.uintp(starts_x[x] + first_x)
                    if steep > ZERO:
                        line[x] = steeper(line[x], least[at], most[at], steep)
                    else:
                        line[x] = hold_range(line[x], least[at], most[at])
            for x in range(line.shape[0]):
                line[x] = min(max(line[x], ZERO), ONE)


@njit(inline="always")
def _cubic(b, c, x):  # type: ignore[no-untyped-def]
    x = abs(x)
    if x < 1:
        return ((12 - 9 * b - 6 * c) * x**3 + (-18 + 12 * b + 6 * c) * x**2 + (6 - 2 * b)) / 6
    if x < 2:
        return (
            (-b - 6 * c) * x**3 + (6 * b + 30 * c) * x**2 + (-12 * b - 48 * c) * x + 8 * b + 24 * c
        ) / 6
    return 0.0


@njit(cache=True, nogil=True)
def fill_weights(shape, b, c, centre, widen, support, crispness, out):  # type: ignore[no-untyped-def]
    """Write one output's weights; return the index of its first sample.

    shape is `LANCZOS`, `CUBIC` (with its b and c) or `BLOCKS`. `crispness` moves them away from the
    B-spline's, or towards it (−1: the B-spline's). The weights sum to 1 and their first moment is
    exact, so flat areas and ramps pass unchanged: a small odd correction under a triangular window
    compensates the kernel's own error.

    Parameters
    ----------
    shape : int
        `LANCZOS`, `CUBIC` or `BLOCKS`.
    b, c : float
        A cubic's parameters; see `measure.kernels`.
    centre : float
        The output's position among the samples.
    widen : float
        The kernel's widening relative to scale 1.
    support : float
        The kernel's half-width, in samples.
    crispness : float
        Extrapolation of the weights from the B-spline's (−1: the B-spline).
    out : ndarray, float32
        The result.
    """
    taps = out.shape[0]
    start = math.floor(centre - support * widen) + 1
    total = 0.0
    if shape == LANCZOS:
        # Sines of evenly spaced angles follow from each other by the addition theorem.
        angle = math.pi * (start - centre) / widen
        turn = math.pi / widen
        sin, cos = math.sin(angle), math.cos(angle)
        wide_sin, wide_cos = math.sin(angle / 3), math.cos(angle / 3)
        step_sin, step_cos = math.sin(turn), math.cos(turn)
        third_sin, third_cos = math.sin(turn / 3), math.cos(turn / 3)
        for k in range(taps):
            near = abs(angle) < 1e-8
            value = 1.0 if near else 3 * sin * wide_sin / (angle * angle)
            out[k] = value if abs(start + k - centre) < 3 * widen else 0.0
            total += out[k]
            angle += turn
            sin, cos = sin * step_cos + cos * step_sin, cos * step_cos - sin * step_sin
            wide_sin, wide_cos = (
                wide_sin * third_cos + wide_cos * third_sin,
                wide_cos * third_cos - wide_sin * third_sin,
            )
    else:
        for k in range(taps):
            place = (start + k - centre) / widen
            value = _cubic(b, c, place)
            if shape == BLOCKS:
                value = 1.0 if abs(place) <= 0.5 else 0.0
            out[k] = value
            total += value
    if shape == BLOCKS:
        if total == 0.0:  # no sample's centre is under a block: take the nearest
            out[:] = 0.0
            nearest = math.floor(centre + 0.5) - start
            out[min(max(nearest, 0), taps - 1)] = 1.0
            return start
        for k in range(taps):
            out[k] /= total
        return start
    moment = 0.0
    window = 0.0
    mean = 0.0
    square = 0.0
    smooth_total = 0.0
    if crispness != 0.0:
        for k in range(taps):
            smooth_total += _cubic(1.0, 0.0, (start + k - centre) / widen)
    for k in range(taps):
        out[k] /= total
        if crispness != 0.0:
            smooth = _cubic(1.0, 0.0, (start + k - centre) / widen) / smooth_total
            out[k] += crispness * (out[k] - smooth)
        distance = (start + k - centre) / widen
        moment += out[k] * distance
        part = max(0.0, 1 - abs(distance) / support)
        window += part
        mean += part * distance
        square += part * distance * distance
    mean /= window
    spread = square - mean * mean * window
    if spread > 1e-12 and abs(moment) > 1e-15:
        for k in range(taps):
            distance = (start + k - centre) / widen
            part = max(0.0, 1 - abs(distance) / support)
            out[k] -= moment / spread * part * (distance - mean)
    return start


@njit(cache=True, nogil=True)
def fill_axis(shape, b, c, centres, widen, support, crispness, starts, weights):  # type: ignore[no-untyped-def]
    """Write the weights of several outputs, and the first sample of each.

    Parameters
    ----------
    shape : int
        `LANCZOS`, `CUBIC` or `BLOCKS`.
    b, c : float
        A cubic's parameters; see `measure.kernels`.
    centres : ndarray (N,), float64
        Positions of the outputs among the samples.
    widen : float
        The kernel's widening relative to scale 1.
    support : float
        The kernel's half-width, in samples.
    crispness : float
        Extrapolation of the weights from the B-spline's (−1: the B-spline).
    starts : ndarray (N,), int64
        First sample of each output.
    weights : ndarray (N, taps), float32
        Weights of each output.
    """
    for index in range(centres.shape[0]):
        starts[index] = fill_weights(
            shape, b, c, centres[index], widen, support, crispness, weights[index]
        )


@njit(cache=True, nogil=True)
def encode(planes, tables):  # type: ignore[no-untyped-def]
    """Convert linear values to encoded ones, in place.

    Parameters
    ----------
    planes : ndarray (C, H, W), float32
        Working values, 0 to 1.
    tables : ndarray (C, N, 2), float32
        One per channel.
    """
    for channel in range(planes.shape[0]):
        table = tables[channel]
        for y in range(planes.shape[1]):
            line = planes[channel, y]
            for x in range(line.shape[0]):
                line[x] = root(line[x])
            for x in range(line.shape[0]):
                line[x] = look(table, line[x])
