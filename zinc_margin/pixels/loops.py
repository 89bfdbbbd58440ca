"""The loops that resample, compiled; see `lookup` for what they keep to."""

from __future__ import annotations

import math

import numpy as np
from numba import njit

from .lookup import ONE, ZERO, F, look, root


@njit(cache=True, nogil=True)
def unpack(codes, table, rows, columns, out):  # type: ignore[no-untyped-def]
    """Turn stored codes (H, W, C) into planes (C, len(rows), len(columns)) through a table."""
    for channel in range(out.shape[0]):
        values = table[channel]
        for r in range(rows.shape[0]):
            row = codes[rows[r]]
            line = out[channel, r]
            for c in range(columns.shape[0]):
                line[c] = values[row[columns[c], channel]]


@njit(cache=True, nogil=True)
def across(planes, starts, weights, near, out, low, high):  # type: ignore[no-untyped-def]
    """Resample along rows.

    planes (C, R, S) → out (C, R, N); low and high get the range of the taps `near` (first, count).
    With no `near` taps they are left alone.
    """
    taps = weights.shape[1]
    first, count = near
    least = np.empty(planes.shape[2], np.float32)
    most = np.empty(planes.shape[2], np.float32)
    for channel in range(planes.shape[0]):
        for r in range(planes.shape[1]):
            row = planes[channel, r]
            line = out[channel, r]
            if taps == 6:  # an enlargement by Lanczos: the usual case, written out
                for x in range(starts.shape[0]):
                    start = np.uintp(starts[x])
                    own = weights[x]
                    total = own[0] * row[start]
                    total += own[1] * row[start + np.uintp(1)]
                    total += own[2] * row[start + np.uintp(2)]
                    total += own[3] * row[start + np.uintp(3)]
                    total += own[4] * row[start + np.uintp(4)]
                    total += own[5] * row[start + np.uintp(5)]
                    line[x] = total
            else:
                whole = taps // 4 * 4
                for x in range(starts.shape[0]):
                    start = np.uintp(starts[x])
                    own = weights[x]
                    # four sums side by side: none has to wait for the one before
                    one, two, three, four = ZERO, ZERO, ZERO, ZERO
                    for k in range(0, whole, 4):
                        at = start + np.uintp(k)
                        one += own[k] * row[at]
                        two += own[k + 1] * row[at + np.uintp(1)]
                        three += own[k + 2] * row[at + np.uintp(2)]
                        four += own[k + 3] * row[at + np.uintp(3)]
                    total = (one + two) + (three + four)
                    for k in range(whole, taps):
                        total += own[k] * row[start + np.uintp(k)]
                    line[x] = total
            if count > 0:
                # the range from every sample onwards, once; then each output takes its own
                length = row.shape[0] - count + 1
                least[:length] = row[:length]
                most[:length] = row[:length]
                for k in range(1, count):
                    shifted = row[k : k + length]
                    for x in range(length):
                        value = shifted[x]
                        least[x] = value if value < least[x] else least[x]
                        most[x] = value if value > most[x] else most[x]
                below = low[channel, r]
                above = high[channel, r]
                for x in range(starts.shape[0]):
                    start = np.uintp(starts[x] + first)
                    below[x] = least[start]
                    above[x] = most[start]


@njit(inline="always")
def _held(value, least, most):  # type: ignore[no-untyped-def]
    """Softly hold a resampled value near its neighbours' range.

    What passes it is halved, and never passes by more than a tenth of the range.
    """
    room = (most - least) * F(0.1)
    inside = min(max(value, least), most)
    return inside + min(max((value - inside) * F(0.5), -room), room)


@njit(inline="always")
def _steeper(value, least, most, steep):  # type: ignore[no-untyped-def]
    """Hold a value inside its neighbours' range, and make the way between two tones steeper.

    For lettering and drawings, whose edges are to stay edges; where tones hardly differ, they stay.
    """
    span = most - least
    inside = min(max(value, least), most)
    part = (inside - least) / (span + F(1e-6))
    sharper = min(max(F(0.5) + (part - F(0.5)) * (ONE + steep), ZERO), ONE)
    clear = min(max((span - F(0.06)) * F(8), ZERO), ONE)
    return inside + clear * span * (sharper - part)


@njit(cache=True, nogil=True)
def down(planes, low, high, starts, weights, near, steep, out, least, most):  # type: ignore[no-untyped-def]
    """Resample along columns, and hold the ringing: planes (C, R, N) → out (C, M, N)."""
    taps = weights.shape[1]
    first, count = near
    width = planes.shape[2]
    for channel in range(planes.shape[0]):
        known = -1  # several rows of an enlargement lie between the same samples
        for y in range(starts.shape[0]):
            start = starts[y]
            line = out[channel, y]
            line[:] = ZERO
            for k in range(taps):
                weight = weights[y, k]
                row = planes[channel, start + k]
                for x in range(width):
                    line[x] += weight * row[x]
            if count > 0:
                if start != known:
                    known = start
                    least[:] = low[channel, start + first]
                    most[:] = high[channel, start + first]
                    for k in range(1, count):
                        below = low[channel, start + first + k]
                        above = high[channel, start + first + k]
                        for x in range(width):
                            lower, higher = below[x], above[x]
                            least[x] = lower if lower < least[x] else least[x]
                            most[x] = higher if higher > most[x] else most[x]
                if steep > ZERO:
                    for x in range(width):
                        line[x] = _steeper(line[x], least[x], most[x], steep)
                else:
                    for x in range(width):
                        line[x] = _held(line[x], least[x], most[x])
            for x in range(width):
                line[x] = min(max(line[x], ZERO), ONE)


_SMOOTH = 4


@njit(inline="always")
def _kernel(method, x):  # type: ignore[no-untyped-def]
    x = abs(x)
    if method == 3:
        return 1.0 if x <= 0.5 else 0.0
    b = 1 / 3 if method == 1 else 1.0 if method == _SMOOTH else 0.0
    c = 1 / 3 if method == 1 else 0.0 if method == _SMOOTH else 0.5
    if x < 1:
        return ((12 - 9 * b - 6 * c) * x**3 + (-18 + 12 * b + 6 * c) * x**2 + (6 - 2 * b)) / 6
    if x < 2:
        return (
            (-b - 6 * c) * x**3 + (6 * b + 30 * c) * x**2 + (-12 * b - 48 * c) * x + 8 * b + 24 * c
        ) / 6
    return 0.0


@njit(cache=True, nogil=True)
def fill_weights(method, centre, widen, support, lean, out):  # type: ignore[no-untyped-def]
    """Write one output's weights; return the index of its first sample.

    `lean` moves them away from the B-spline's, or towards it (−1: they are the B-spline's).

    The weights sum to 1 and their first moment is exact, so that a flat tone and a ramp pass
    unchanged: what the kernel alone misses is put back by a small odd correction under a
    triangular window.
    """
    taps = out.shape[0]
    start = math.floor(centre - support * widen) + 1
    total = 0.0
    if method == 0:
        # sines of evenly spaced angles follow from the one before, by the addition theorem
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
            value = _kernel(method, (start + k - centre) / widen)
            out[k] = value
            total += value
    if method == 3:
        if total == 0.0:  # no sample's centre lies under a block: take the nearest
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
    if lean != 0.0:
        for k in range(taps):
            smooth_total += _kernel(_SMOOTH, (start + k - centre) / widen)
    for k in range(taps):
        out[k] /= total
        if lean != 0.0:
            smooth = _kernel(_SMOOTH, (start + k - centre) / widen) / smooth_total
            out[k] += lean * (out[k] - smooth)
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
def turned(  # type: ignore[no-untyped-def]
    planes, origin, steps, first, place, method, widen, support, lean, taps, hold, steep, out
):
    """Resample a turned picture: planes (C, R, S), whose corner is `place`, → out (C, M, N).

    origin (x, y) is where the print's corner lies among the source's samples; steps
    (xx, xy, yx, yy) lead from one output to the next across and down; first (column, row) is
    the first output wanted. Places are counted from the print's corner, so that tiles agree.
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
            left = fill_weights(method, x, widen, support, lean, wx)
            top = fill_weights(method, y, widen, support, lean, wy)
            # the samples near enough to say how far ringing may go
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
                        value = _steeper(value, least, most, steep)
                    else:
                        value = _held(value, least, most)
                out[channel, row, column] = min(max(value, ZERO), ONE)


@njit(cache=True, nogil=True)
def range_of(planes, span, least, most):  # type: ignore[no-untyped-def]
    """Write the range of every square of `span` × `span` samples, at its first sample.

    planes (C, R, S) → least and most (C, R − span + 1, S − span + 1).
    """
    rows, columns = least.shape[1], least.shape[2]
    low = np.empty((planes.shape[1], columns), np.float32)
    high = np.empty((planes.shape[1], columns), np.float32)
    for channel in range(planes.shape[0]):
        for r in range(planes.shape[1]):
            line = planes[channel, r]
            low[r] = line[:columns]
            high[r] = line[:columns]
            for k in range(1, span):
                shifted = line[k : k + columns]
                for x in range(columns):
                    value = shifted[x]
                    low[r, x] = value if value < low[r, x] else low[r, x]
                    high[r, x] = value if value > high[r, x] else high[r, x]
        for r in range(rows):
            below, above = least[channel, r], most[channel, r]
            below[:] = low[r]
            above[:] = high[r]
            for k in range(1, span):
                for x in range(columns):
                    lower, higher = low[r + k, x], high[r + k, x]
                    below[x] = lower if lower < below[x] else below[x]
                    above[x] = higher if higher > above[x] else above[x]


@njit(cache=True, nogil=True)
def turned_close(  # type: ignore[no-untyped-def]
    planes, least, most, origin, steps, first, place, series, hold, steep, out
):
    """Resample a turned picture that is not reduced: as `turned`, in its quicker form.

    series (taps, terms) holds every tap's weight as a polynomial in the place between samples,
    −½ to ½; least and most are those of `range_of` over 4 samples each way.
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
        for k in range(taps):
            for weights, part in ((wx[k], part_x), (wy[k], part_y)):
                for column in range(columns):
                    weights[column] = series[k, 0]
                for term in range(1, terms):
                    factor = series[k, term]
                    for column in range(columns):
                        weights[column] = weights[column] * part[column] + factor
        for channel in range(planes.shape[0]):
            plane = planes[channel]
            goal = out[channel, row]
            if taps == 6:  # Lanczos: the usual case, written out
                for column in range(columns):
                    i, j = np.uintp(across[column]), np.uintp(along[column])
                    total = ZERO
                    for k in range(6):
                        line = plane[j + np.uintp(k)]
                        total += wy[k, column] * (
                            wx[0, column] * line[i]
                            + wx[1, column] * line[i + np.uintp(1)]
                            + wx[2, column] * line[i + np.uintp(2)]
                            + wx[3, column] * line[i + np.uintp(3)]
                            + wx[4, column] * line[i + np.uintp(4)]
                            + wx[5, column] * line[i + np.uintp(5)]
                        )
                    goal[column] = total
            else:
                for column in range(columns):
                    i, j = np.uintp(across[column]), np.uintp(along[column])
                    total = ZERO
                    for k in range(taps):
                        line = plane[j + np.uintp(k)]
                        inside = ZERO
                        for m in range(taps):
                            inside += wx[m, column] * line[i + np.uintp(m)]
                        total += wy[k, column] * inside
                    goal[column] = total
            for column in range(columns):
                value = goal[column]
                if hold > 0:
                    i, j = across[column] + inner, along[column] + inner
                    low, high = least[channel, j, i], most[channel, j, i]
                    if steep > ZERO:
                        value = _steeper(value, low, high, steep)
                    else:
                        value = _held(value, low, high)
                goal[column] = min(max(value, ZERO), ONE)


@njit(cache=True, nogil=True)
def encoded(planes, tables):  # type: ignore[no-untyped-def]
    """Turn linear values into encoded ones, in place."""
    for channel in range(planes.shape[0]):
        table = tables[channel]
        for y in range(planes.shape[1]):
            line = planes[channel, y]
            for x in range(line.shape[0]):
                line[x] = look(table, root(line[x]))
