"""Compiled loops that measure the surroundings of each place for sharpening, and limit it.

Rows are summed four at a time, which needs a quarter of the memory accesses; rows are never
overwritten while they are read, because that would prevent vectorisation.
"""

from __future__ import annotations

import numpy as np
from numba import njit

from zinc_margin.pixels.lookup import ONE, ZERO, F
from zinc_margin.pixels.ranges import range_of_four, range_of_two, wider

_STILL = F(1e-2)
"""Smaller changes of L*, a fortieth of an 8-bit step, are skipped."""
_LOUDER = F(1.3)  # how much larger the same noise is in L* in the shadows, added up to 2.3 times
_TINY = F(1e-6)  # avoids a division by zero


@njit(cache=True, nogil=True, error_model="numpy")
def _begun(line, o, here, p, a, b, q, c, d):  # type: ignore[no-untyped-def]
    for x in range(line.shape[0]):
        line[x] = o * here[x] + (p * (a[x] + b[x]) + q * (c[x] + d[x]))


@njit(cache=True, nogil=True, error_model="numpy")
def _summed(line, p, a, b, q, c, d, r, e, f, s, g, h):  # type: ignore[no-untyped-def]
    for x in range(line.shape[0]):
        sums = p * (a[x] + b[x]) + q * (c[x] + d[x])
        line[x] += sums + (r * (e[x] + f[x]) + s * (g[x] + h[x]))


@njit(inline="always", error_model="numpy")
def _pair(weights, k):  # type: ignore[no-untyped-def]
    """Return a pair's weight and its offset; zero beyond the last pair."""
    last = weights.shape[0] - 1
    return (weights[k], k) if k <= last else (ZERO, last)


@njit(cache=True, nogil=True, error_model="numpy")
def _along_row(line, row, at, weights):  # type: ignore[no-untyped-def]
    """Write the weighted sum of a row's neighbours to `line`, which starts at `at` in the row."""
    end = at + line.shape[0]
    p, i = _pair(weights, 1)
    q, j = _pair(weights, 2)
    _begun(
        line,
        weights[0],
        row[at:end],
        p,
        row[at - i : end - i],
        row[at + i : end + i],
        q,
        row[at - j : end - j],
        row[at + j : end + j],
    )
    for k in range(3, weights.shape[0], 4):
        p, i = _pair(weights, k)
        q, j = _pair(weights, k + 1)
        r, m = _pair(weights, k + 2)
        s, n = _pair(weights, k + 3)
        _summed(
            line,
            p,
            row[at - i : end - i],
            row[at + i : end + i],
            q,
            row[at - j : end - j],
            row[at + j : end + j],
            r,
            row[at - m : end - m],
            row[at + m : end + m],
            s,
            row[at - n : end - n],
            row[at + n : end + n],
        )


@njit(cache=True, nogil=True, error_model="numpy")
def down_rows(line, rows, at, weights):  # type: ignore[no-untyped-def]
    """Write the weighted sum of the rows around one to `line`.

    Parameters
    ----------
    line : ndarray (W,), float32
        The result.
    rows : ndarray (H, W), float32
    at : int
        The centre row.
    weights : ndarray (N,), float32
        From the centre outwards.
    """
    p, i = _pair(weights, 1)
    q, j = _pair(weights, 2)
    _begun(line, weights[0], rows[at], p, rows[at - i], rows[at + i], q, rows[at - j], rows[at + j])
    for k in range(3, weights.shape[0], 4):
        p, i = _pair(weights, k)
        q, j = _pair(weights, k + 1)
        r, m = _pair(weights, k + 2)
        s, n = _pair(weights, k + 3)
        _summed(
            line,
            p,
            rows[at - i],
            rows[at + i],
            q,
            rows[at - j],
            rows[at + j],
            r,
            rows[at - m],
            rows[at + m],
            s,
            rows[at - n],
            rows[at + n],
        )


@njit(cache=True, nogil=True, error_model="numpy")
def blur_across(plane, rows, apron, weights, out):  # type: ignore[no-untyped-def]
    """Blur rows of a plane horizontally.

    Parameters
    ----------
    plane : ndarray (H, W + 2·apron), float32
    rows : (int, int)
        First, and one past the last.
    apron : int
        Extra pixels of the plane on each side.
    weights : ndarray (N,), float32
        From the centre outwards, at most apron + 1.
    out : ndarray (H, W), float32
        The result.
    """
    for y in range(rows[0], rows[1]):
        _along_row(out[y], plane[y], apron, weights)


@njit(cache=True, nogil=True, error_model="numpy")
def blur_down(plane, top, weights, out):  # type: ignore[no-untyped-def]
    """Blur a plane vertically; the first row of the result is centred on row `top`.

    Parameters
    ----------
    plane : ndarray (H, W), float32
    weights : ndarray (N,), float32
        From the centre outwards.
    out : ndarray (M, W), float32
        The result.
    """
    for y in range(out.shape[0]):
        down_rows(out[y], plane, top + y, weights)


@njit(cache=True, nogil=True, error_model="numpy")
def range_across(plane, rows, apron, reach, low, high):  # type: ignore[no-untyped-def]
    """Write the minimum and maximum within `reach` of each place, along rows of a plane.

    Windows of four (or three) samples are combined.

    Parameters
    ----------
    plane : ndarray (H, W + 2·apron), float32
    rows : (int, int)
        First, and one past the last.
    apron : int
        Extra pixels of the plane on each side.
    low, high : ndarray (H, W), float32
        The results.
    """
    width, first, rest = low.shape[1], apron - reach, max(2 * reach - 3, 0)
    last = min(3, 2 * reach)
    least, most = np.empty(width + rest, np.float32), np.empty(width + rest, np.float32)
    for y in range(rows[0], rows[1]):
        row = plane[y, first:]
        long = width + rest
        a, b, c, d = row[:long], row[1 : 1 + long], row[2 : 2 + long], row[last : last + long]
        range_of_four(least, most, a, b, c, d, a, b, c, d)
        range_of_two(low[y], high[y], least, least[rest:], most, most[rest:])
        for k in range(4, rest, 4):
            wider(low[y], high[y], least[k:], most[k:])


@njit(cache=True, nogil=True, error_model="numpy")
def range_down(lows, highs, top, reach, low, high):  # type: ignore[no-untyped-def]
    """Write the minimum and maximum within `reach` of each place, along columns.

    Parameters
    ----------
    lows, highs : ndarray (H, W), float32
    top : int
        The row of the first result row.
    low, high : ndarray (M, W), float32
        The results.
    """
    height, width = low.shape
    first, rest, last = top - reach, max(2 * reach - 3, 0), min(3, 2 * reach)
    least = np.empty((height + rest, width), np.float32)
    most = np.empty((height + rest, width), np.float32)
    for y in range(height + rest):
        at = first + y
        range_of_four(
            least[y],
            most[y],
            lows[at],
            lows[at + 1],
            lows[at + 2],
            lows[at + last],
            highs[at],
            highs[at + 1],
            highs[at + 2],
            highs[at + last],
        )
    for y in range(height):
        range_of_two(low[y], high[y], least[y], least[y + rest], most[y], most[y + rest])
        for k in range(4, rest, 4):
            wider(low[y], high[y], least[y + k], most[y + k])


@njit(inline="always", error_model="numpy")
def _bound(value, bound):  # type: ignore[no-untyped-def]
    """Limit a value ≥ 0 to a bound, softly from half of it."""
    one, other = value * value, bound * bound
    return value * bound / (np.sqrt(np.sqrt(one * one + other * other)) + _TINY)


@njit(inline="always", error_model="numpy")
def _ramp(value, start, end):  # type: ignore[no-untyped-def]
    part = min(max((value - start) * F(ONE / (end - start)), ZERO), ONE)
    return part * part * (F(3) - F(2) * part)


@njit(cache=True, nogil=True, error_model="numpy")
def restrain(light, place, soft, near, held, moves):  # type: ignore[no-untyped-def]
    """Collect the places whose lightness changes; return their number.

    Detail at noise level is cored; deep shadows and near-white are held back; overshoot beside an
    edge is limited, also to three quarters of the distance to black and white.

    Parameters
    ----------
    light : ndarray, float32
        Lightness, L*, with its apron.
    place : (int, int)
        Row and column of `light` at which the other arrays begin.
    soft : (ndarray (H, W), ndarray (H, W)), float32
        Lightness blurred at the finer and at the broader scale, L*.
    near : (ndarray (H, W), ndarray (H, W)), float32
        Minimum and maximum around each place.
    held : tuple of float32
        Amount of sharpening, 0 to 3; breadth, from fine edges (0) to broad ones (1); largest
        overshoot, L*; coring threshold, L*; reduction in shadows and in highlights.
    moves : (ndarray (N,), ndarray (N,), ndarray (N,)), int32, float32, float32
        Results: changed places of `light` in row order, their lightness, and their change.
    """
    amount, breadth, halo, noise, shadows, highlights = held
    fine, broad = soft
    low, high = near
    where, tones, steps = moves
    floor = (amount * noise) * (amount * noise)
    floor = floor * floor + F(1e-30)
    height, width = fine.shape
    line, moving = np.empty(width, np.float32), np.empty(width, np.uint8)
    least, most = np.empty(width, np.float32), np.empty(width, np.float32)
    total = 0
    for y in range(height):
        row = light[y + place[0], place[1] : place[1] + width]
        finer, broader = fine[y], broad[y]
        for x in range(width):
            change = amount * (row[x] - ((ONE - breadth) * finer[x] + breadth * broader[x]))
            line[x] = change
            power = change * change
            power *= power
            # Coring leaves most places of a photograph unchanged; skip them early.
            moving[x] = 1 if power * abs(change) > _STILL * (power + floor) else 0
        begin = total
        first = np.int32((y + place[0]) * light.shape[1] + place[1])
        for x in range(width):
            where[total] = first + np.int32(x)
            total += moving[x]
        count = total - begin
        places, tone, move = where[begin:total], tones[begin:total], steps[begin:total]
        lower, higher = low[y], high[y]
        for n in range(count):
            at = np.uintp(places[n] - first)
            move[n], tone[n], least[n], most[n] = line[at], row[at], lower[at], higher[at]
        # without a branch, so it vectorises
        for n in range(count):
            change, here = move[n], tone[n]
            power = change * change
            power *= power
            # The same noise in light is larger in L* in the shadows.
            louder = ONE + _LOUDER * (ONE - _ramp(here, F(12), F(50)))
            louder *= louder
            change *= power / (power + floor * louder * louder)
            change *= ONE - shadows * (ONE - _ramp(here, F(8), F(16)))
            change *= ONE - highlights * _ramp(here, F(90), F(98))
            rises = change > ZERO
            much = abs(change)
            room = most[n] - here if rises else here - least[n]
            end = F(100) - here if rises else here
            over = max(much - room, ZERO)
            much = _bound(much - over + _bound(over, halo), F(0.75) * max(end, ZERO))
            move[n] = much if rises else -much
    return total
