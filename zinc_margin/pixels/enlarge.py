"""Compiled loops that enlarge, a few rows at a time so intermediate data stay in the cache.

Along a row every output has its own weights, which prevents vectorisation; so blocks of rows are
transposed, summed in parallel, and transposed back.
"""

from __future__ import annotations

import numpy as np
from numba import njit

from zinc_margin.pixels.lookup import ONE, ZERO
from zinc_margin.pixels.ranges import hold_range, range_of_four, steeper

_ROWS = 32
"""Rows processed together."""


@njit(inline="always")
def _sum_rows(line, rows, start, own):  # type: ignore[no-untyped-def]
    """Write the weighted sum of rows from `start` on; common counts are unrolled.

    Six for Lanczos, four for a cubic.
    """
    width = line.shape[0]
    if own.shape[0] == 6:
        a, b, c, d, e, f = own[0], own[1], own[2], own[3], own[4], own[5]
        p, q, r = rows[start], rows[start + 1], rows[start + 2]
        s, t, u = rows[start + 3], rows[start + 4], rows[start + 5]
        for x in range(width):
            total = a * p[x]
            total += b * q[x]
            total += c * r[x]
            total += d * s[x]
            total += e * t[x]
            total += f * u[x]
            line[x] = total
    elif own.shape[0] == 4:
        a, b, c, d = own[0], own[1], own[2], own[3]
        p, q, r, s = rows[start], rows[start + 1], rows[start + 2], rows[start + 3]
        for x in range(width):
            total = a * p[x]
            total += b * q[x]
            total += c * r[x]
            total += d * s[x]
            line[x] = total
    else:
        line[:] = ZERO
        for k in range(own.shape[0]):
            weight = own[k]
            row = rows[start + k]
            for x in range(width):
                line[x] += weight * row[x]


@njit(cache=True, nogil=True)
def _laid_aside(rows, columns):  # type: ignore[no-untyped-def]
    """Transpose rows (R, S) to columns (S, at least R), in blocks of eight; the last overlaps."""
    count, width = rows.shape
    for y in range(0, count, 8):
        last = count - 1
        a, b, c, d = rows[y], rows[min(y + 1, last)], rows[min(y + 2, last)], rows[min(y + 3, last)]
        e, f = rows[min(y + 4, last)], rows[min(y + 5, last)]
        g, h = rows[min(y + 6, last)], rows[min(y + 7, last)]
        for x in range(width):
            line = columns[x]
            line[y], line[y + 1], line[y + 2], line[y + 3] = a[x], b[x], c[x], d[x]
            line[y + 4], line[y + 5], line[y + 6], line[y + 7] = e[x], f[x], g[x], h[x]


@njit(cache=True, nogil=True)
def _laid_back(columns, rows):  # type: ignore[no-untyped-def]
    """Transpose columns (S, at least R) to rows (R, S), in blocks of four."""
    count, width = rows.shape
    for y in range(0, count // 4 * 4, 4):
        a, b, c, d = rows[y], rows[y + 1], rows[y + 2], rows[y + 3]
        for x in range(width):
            line = columns[x]
            a[x], b[x], c[x], d[x] = line[y], line[y + 1], line[y + 2], line[y + 3]
    for y in range(count // 4 * 4, count):
        row = rows[y]
        for x in range(width):
            row[x] = columns[x, y]


@njit(cache=True, nogil=True)
def _across(columns, starts, weights, out):  # type: ignore[no-untyped-def]
    """Write the weighted sum of columns (S, _ROWS) for every output (N, _ROWS)."""
    flat, goal = columns.reshape(-1), out.reshape(-1)
    taps = weights.shape[1]
    for x in range(starts.shape[0]):
        at, to = np.uintp(starts[x] * _ROWS), np.uintp(x * _ROWS)
        own = weights[x]
        if taps == 6:
            a, b, c, d, e, f = own[0], own[1], own[2], own[3], own[4], own[5]
            for r in range(_ROWS):
                k = at + np.uintp(r)
                total = a * flat[k] + b * flat[k + np.uintp(_ROWS)]
                total += c * flat[k + np.uintp(2 * _ROWS)]
                total += d * flat[k + np.uintp(3 * _ROWS)]
                total += e * flat[k + np.uintp(4 * _ROWS)]
                total += f * flat[k + np.uintp(5 * _ROWS)]
                goal[to + np.uintp(r)] = total
        else:
            for r in range(_ROWS):
                goal[to + np.uintp(r)] = ZERO
            for tap in range(taps):
                weight, k = own[tap], at + np.uintp(tap * _ROWS)
                for r in range(_ROWS):
                    goal[to + np.uintp(r)] += weight * flat[k + np.uintp(r)]


@njit(cache=True, nogil=True)
def enlarge(  # type: ignore[no-untyped-def]
    samples, starts_x, weights_x, near_x, starts, weights, near, steep, out
):
    """Enlarge a plane and limit ringing: samples (R, S) → out (M, N).

    The limits come from the four by four samples around each output.

    Parameters
    ----------
    samples : ndarray (R, S), float32
        Working values, 0 to 1.
    starts_x : ndarray (N,), int64
        First sample of each output, across.
    weights_x : ndarray (N, taps), float32
        Weights of each output, across.
    near_x : (int, int)
        First tap and number of taps that limit ringing, across: four, or none for no limit.
    starts : ndarray (M,), int64
        First sample of each output, down.
    weights : ndarray (M, taps), float32
        Weights of each output, down.
    near : (int, int)
        The same, down.
    steep : float32
        Steepening of edges; 0 for none.
    out : ndarray (M, N), float32
        The result.
    """
    count, span = samples.shape
    width, length = out.shape[1], span - 3
    between = np.empty((count, width), np.float32)
    columns = np.empty((span, _ROWS), np.float32)
    aside = np.empty((width, _ROWS), np.float32)
    below, above = np.empty(span, np.float32), np.empty(span, np.float32)
    low, high = np.empty(span, np.float32), np.empty(span, np.float32)
    least, most = np.empty(width, np.float32), np.empty(width, np.float32)
    ready, known = 0, -1  # several output rows share the same samples
    for y in range(starts.shape[0]):
        start, line = starts[y], out[y]
        while ready < start + weights.shape[1]:
            rows = min(_ROWS, count - ready)
            _laid_aside(samples[ready : ready + rows], columns)
            _across(columns, starts_x, weights_x, aside)
            _laid_back(aside, between[ready : ready + rows])
            ready += rows
        _sum_rows(line, between, start, weights[y])
        if near[1] == 0:
            for x in range(width):
                line[x] = min(max(line[x], ZERO), ONE)
            continue
        if start != known:
            known, at = start, start + near[0]
            a, b, c, d = samples[at], samples[at + 1], samples[at + 2], samples[at + 3]
            range_of_four(below, above, a, b, c, d, a, b, c, d)
            range_of_four(
                low[:length],
                high[:length],
                below,
                below[1:],
                below[2:],
                below[3:],
                above,
                above[1:],
                above[2:],
                above[3:],
            )
            for x in range(width):
                place = np.uintp(starts_x[x] + near_x[0])
                least[x] = low[place]
                most[x] = high[place]
        if steep > ZERO:
            for x in range(width):
                line[x] = min(max(steeper(line[x], least[x], most[x], steep), ZERO), ONE)
        else:
            for x in range(width):
                line[x] = min(max(hold_range(line[x], least[x], most[x]), ZERO), ONE)
