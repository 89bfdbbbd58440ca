"""The loops over pixels, compiled.

Every output value is worked out by the same operations in the same order wherever its tile
begins or ends, so that bands, regions and threads cannot change a bit. (No fast-math, and no
library calls whose vector and scalar forms differ in the last place.)
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit

F = np.float32
STEPS = 4096
"""Even steps of every lookup table; values between two are interpolated."""

_KNEE = F((6 / 29) ** 3)
_LOW = F(6 / 29)
_SLOPE = F(3 * (6 / 29) ** 2)
_OFFSET = F(4 / 29)
_STEPS = F(STEPS)
_ONE = F(1)
_ZERO = F(0)
_HALF = F(0.5)
_TINY = F(1e-20)
_NEXT = np.uintp(1)
_LOW32 = np.uint64(0xFFFFFFFF)
_MIX = np.array([0x9E3779B1, 0x85EBCA77, 0xC2B2AE3D, 0x2C1B3C6D, 0x297A2D39], np.uint64)


@njit(inline="always")
def _look(table, value):  # type: ignore[no-untyped-def]
    """Interpolate a table over 0–1."""
    place = min(max(value, _ZERO), _ONE) * _STEPS
    whole = np.int32(place)
    index = np.uintp(whole)  # unsigned: no look for an index counted from the end
    # the tables carry one entry beyond 1, so that 1 itself needs no case of its own
    low = table[index]
    return low + (place - F(whole)) * (table[index + _NEXT] - low)


@njit(inline="always")
def _root(value):  # type: ignore[no-untyped-def]
    """Return the fourth root: the place in a table of encoded values."""
    return np.sqrt(np.sqrt(max(value, _ZERO)))


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
            for x in range(starts.shape[0]):
                start = np.uintp(starts[x])
                total = _ZERO
                for k in range(taps):
                    total += weights[x, k] * row[start + np.uintp(k)]
                out[channel, r, x] = total
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
                for x in range(starts.shape[0]):
                    start = np.uintp(starts[x] + first)
                    low[channel, r, x] = least[start]
                    high[channel, r, x] = most[start]


@njit(inline="always")
def _held(value, least, most):  # type: ignore[no-untyped-def]
    """Softly hold a resampled value near its neighbours' range: a tenth of it may be passed."""
    room = (most - least) * F(0.1)
    inside = min(max(value, least), most)
    past = value - inside
    return inside + past * room / (abs(past) + room + _TINY)


@njit(cache=True, nogil=True)
def down(planes, low, high, starts, weights, near, out, least, most):  # type: ignore[no-untyped-def]
    """Resample along columns, and hold the ringing: planes (C, R, N) → out (C, M, N)."""
    taps = weights.shape[1]
    first, count = near
    width = planes.shape[2]
    for channel in range(planes.shape[0]):
        for y in range(starts.shape[0]):
            start = starts[y]
            line = out[channel, y]
            line[:] = _ZERO
            for k in range(taps):
                weight = weights[y, k]
                row = planes[channel, start + k]
                for x in range(width):
                    line[x] += weight * row[x]
            if count > 0:
                least[:] = low[channel, start + first]
                most[:] = high[channel, start + first]
                for k in range(1, count):
                    below = low[channel, start + first + k]
                    above = high[channel, start + first + k]
                    for x in range(width):
                        lower, higher = below[x], above[x]
                        least[x] = lower if lower < least[x] else least[x]
                        most[x] = higher if higher > most[x] else most[x]
                for x in range(width):
                    line[x] = _held(line[x], least[x], most[x])
            for x in range(width):
                line[x] = min(max(line[x], _ZERO), _ONE)


@njit(inline="always")
def _kernel(method, x):  # type: ignore[no-untyped-def]
    x = abs(x)
    if method == 0:
        if x >= 3:
            return 0.0
        if x < 1e-9:
            return 1.0
        angle = math.pi * x
        return 3 * math.sin(angle) * math.sin(angle / 3) / (angle * angle)
    if method == 3:
        return 1.0 if x <= 0.5 else 0.0
    b = 1 / 3 if method == 1 else 0.0
    c = 1 / 3 if method == 1 else 0.5
    if x < 1:
        return ((12 - 9 * b - 6 * c) * x**3 + (-18 + 12 * b + 6 * c) * x**2 + (6 - 2 * b)) / 6
    if x < 2:
        return (
            (-b - 6 * c) * x**3 + (6 * b + 30 * c) * x**2 + (-12 * b - 48 * c) * x + 8 * b + 24 * c
        ) / 6
    return 0.0


@njit(cache=True, nogil=True)
def fill_weights(method, centre, widen, support, out):  # type: ignore[no-untyped-def]
    """Write one output's weights; return the index of its first sample.

    The weights sum to 1 and their first moment is exact, so that a flat tone and a ramp pass
    unchanged: what the kernel alone misses is put back by a small odd correction under a
    triangular window.
    """
    taps = out.shape[0]
    start = math.floor(centre - support * widen) + 1
    total = 0.0
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
    for k in range(taps):
        out[k] /= total
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
def turned(planes, origin, steps, first, place, method, widen, support, taps, hold, out):  # type: ignore[no-untyped-def]
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
            left = fill_weights(method, x, widen, support, wx)
            top = fill_weights(method, y, widen, support, wy)
            for channel in range(channels):
                total = 0.0
                least = F(2)
                most = F(-1)
                for j in range(taps):
                    line = planes[channel, top - place[1] + j]
                    begin = np.uintp(left - place[0])
                    inner = 0.0
                    near_y = abs(top + j - y) < hold * widen
                    for i in range(taps):
                        value = line[begin + np.uintp(i)]
                        inner += wx[i] * value
                        if near_y and abs(left + i - x) < hold * widen:
                            least = min(least, value)
                            most = max(most, value)
                    total += wy[j] * inner
                value = F(total)
                if hold > 0:
                    value = _held(value, least, most)
                out[channel, row, column] = min(max(value, _ZERO), _ONE)


@njit(cache=True, nogil=True)
def encoded(planes, tables):  # type: ignore[no-untyped-def]
    """Turn linear values into encoded ones, in place."""
    for channel in range(planes.shape[0]):
        table = tables[channel]
        for y in range(planes.shape[1]):
            line = planes[channel, y]
            for x in range(line.shape[0]):
                line[x] = _look(table, _root(line[x]))


@njit(cache=True, nogil=True)
def lightness(planes, decode, luminance, cube, out):  # type: ignore[no-untyped-def]
    """L* (0–100) of encoded planes (C, H, W) → out (H, W)."""
    width = out.shape[1]
    for y in range(out.shape[0]):
        line = out[y]
        line[:] = _ZERO
        for channel in range(planes.shape[0]):
            table = decode[channel]
            row = planes[channel, y]
            weight = luminance[channel]
            for x in range(width):
                line[x] += weight * _look(table, row[x])
        for x in range(width):
            line[x] = F(116) * _look(cube, np.sqrt(max(line[x], _ZERO))) - F(16)


@njit(cache=True, nogil=True)
def blur(plane, apron, weights, out, scratch):  # type: ignore[no-untyped-def]
    """Gaussian blur: plane (H + 2·apron, W + 2·apron) → out (H, W).

    weights are those from the centre outwards, at most apron + 1; scratch is like plane.
    """
    reach = weights.shape[0] - 1
    height, width = out.shape
    for y in range(apron - reach, height + apron + reach):
        row = plane[y]
        line = scratch[y, apron : apron + width]
        here = row[apron : apron + width]
        for x in range(width):
            line[x] = weights[0] * here[x]
        for k in range(1, reach + 1):
            weight = weights[k]
            before = row[apron - k : apron - k + width]
            behind = row[apron + k : apron + k + width]
            for x in range(width):
                line[x] += weight * (before[x] + behind[x])
    for y in range(height):
        line = out[y]
        here = scratch[y + apron, apron : apron + width]
        for x in range(width):
            line[x] = weights[0] * here[x]
        for k in range(1, reach + 1):
            weight = weights[k]
            above = scratch[y + apron - k, apron : apron + width]
            below = scratch[y + apron + k, apron : apron + width]
            for x in range(width):
                line[x] += weight * (above[x] + below[x])


@njit(cache=True, nogil=True)
def extremes(plane, apron, reach, low, high, scratch_low, scratch_high):  # type: ignore[no-untyped-def]
    """Least and most within `reach` of each place: plane (H + 2·apron, …) → (H, W) each."""
    height, width = low.shape
    for y in range(apron - reach, height + apron + reach):
        row = plane[y]
        least = scratch_low[y, apron : apron + width]
        most = scratch_high[y, apron : apron + width]
        least[:] = row[apron : apron + width]
        most[:] = row[apron : apron + width]
        for k in range(1, reach + 1):
            before = row[apron - k : apron - k + width]
            behind = row[apron + k : apron + k + width]
            for x in range(width):
                least[x] = min(least[x], min(before[x], behind[x]))
                most[x] = max(most[x], max(before[x], behind[x]))
    for y in range(height):
        least = low[y]
        most = high[y]
        least[:] = scratch_low[y + apron - reach, apron : apron + width]
        most[:] = scratch_high[y + apron - reach, apron : apron + width]
        for k in range(1 - reach, reach + 1):
            from_low = scratch_low[y + apron + k, apron : apron + width]
            from_high = scratch_high[y + apron + k, apron : apron + width]
            for x in range(width):
                least[x] = min(least[x], from_low[x])
                most[x] = max(most[x], from_high[x])


@njit(inline="always")
def _bounded(value, bound):  # type: ignore[no-untyped-def]
    """Hold a value ≥ 0 under a bound; nearly unchanged up to half of it."""
    if bound <= _ZERO:
        return _ZERO
    part = value / bound
    square = part * part
    return value / np.sqrt(np.sqrt(_ONE + square * square))


@njit(inline="always")
def _ramp(value, start, end):  # type: ignore[no-untyped-def]
    part = min(max((value - start) / (end - start), _ZERO), _ONE)
    return part * part * (F(3) - F(2) * part)


@njit(cache=True, nogil=True)
def restrain(light, apron, fine, broad, low, high, amount, lean, halo, noise, out):  # type: ignore[no-untyped-def]
    """The change of L* at every place: light (H + 2·apron, …), the others (H, W).

    Detail of the size of the noise is cored; deep shadows are held back; overshoot beside an
    edge is bounded by `halo`, and by three quarters of what is left to black and white.
    """
    floor = (amount * noise) * (amount * noise)
    floor *= floor
    for y in range(out.shape[0]):
        row = light[y + apron, apron : apron + out.shape[1]]
        for x in range(out.shape[1]):
            here = row[x]
            change = amount * (here - ((_ONE - lean) * fine[y, x] + lean * broad[y, x]))
            power = change * change
            power *= power
            change *= power / (power + floor)
            change *= F(0.2) + F(0.8) * _ramp(here, F(8), F(16))
            if change > _ZERO:
                over = here + change - high[y, x]
                if over > _ZERO:
                    change = high[y, x] - here + _bounded(over, halo)
                change = _bounded(change, F(0.75) * (F(100) - here))
            elif change < _ZERO:
                under = low[y, x] - here - change
                if under > _ZERO:
                    change = low[y, x] - here - _bounded(under, halo)
                change = -_bounded(-change, F(0.75) * here)
            out[y, x] = change


@njit(inline="always")
def _cubed(value):  # type: ignore[no-untyped-def]
    cube = value * value * value
    straight = _SLOPE * (value - _OFFSET)
    return cube if value > _LOW else straight


@njit(cache=True, nogil=True)
def move(planes, change, decode, encode, to_xyz, from_xyz, cube):  # type: ignore[no-untyped-def]
    """Move L* by `change` (H, W) at unchanged a* and b*: planes (C, H, W), in place.

    XYZ are relative to white, so that moving L* is the same step in all three cube roots.
    The pixels of a row that move are brought together first, so that all can go in step.
    """
    channels = planes.shape[0]
    width = change.shape[1]
    where = np.empty(width, np.int32)
    step = np.empty(width, np.float32)
    light = np.empty((3, width), np.float32)
    roots = np.empty((3, width), np.float32)
    for y in range(change.shape[0]):
        row = change[y]
        count = 0
        for x in range(width):
            if abs(row[x]) > F(2e-5):
                where[count] = x
                step[count] = row[x] / F(116)
                count += 1
        for channel in range(channels):
            line = planes[channel, y]
            goal = light[channel]
            table = decode[channel]
            for n in range(count):
                goal[n] = line[np.uintp(where[n])]
            for n in range(count):
                goal[n] = _look(table, goal[n])
        for channel in range(channels):
            goal = roots[channel]
            if channels == 1:
                goal[:count] = light[0, :count]
            else:
                wr, wg, wb = to_xyz[channel, 0], to_xyz[channel, 1], to_xyz[channel, 2]
                red, green, blue = light[0], light[1], light[2]
                for n in range(count):
                    goal[n] = wr * red[n] + wg * green[n] + wb * blue[n]
            for n in range(count):
                goal[n] = _look(cube, np.sqrt(max(goal[n], _ZERO))) + step[n]
            for n in range(count):
                goal[n] = _cubed(goal[n])
        for channel in range(channels):
            goal = light[channel]
            table = encode[channel]
            if channels == 1:
                goal[:count] = roots[0, :count]
            else:
                wr, wg, wb = from_xyz[channel, 0], from_xyz[channel, 1], from_xyz[channel, 2]
                red, green, blue = roots[0], roots[1], roots[2]
                for n in range(count):
                    goal[n] = wr * red[n] + wg * green[n] + wb * blue[n]
            for n in range(count):
                goal[n] = _look(table, _root(min(goal[n], _ONE)))
            line = planes[channel, y]
            for n in range(count):
                line[np.uintp(where[n])] = goal[n]


@njit(inline="always")
def _noise(x, y, channel):  # type: ignore[no-untyped-def]
    """An even hash of a place, in −0.5 … 0.5."""
    # products of 32-bit numbers are 64 bits wide here, so each is cut back
    mixed = (
        np.uint64(x) * _MIX[0] ^ np.uint64(y) * _MIX[1] ^ np.uint64(channel + 1) * _MIX[2]
    ) & _LOW32
    mixed = ((mixed ^ (mixed >> np.uint64(15))) * _MIX[3]) & _LOW32
    mixed = ((mixed ^ (mixed >> np.uint64(12))) * _MIX[4]) & _LOW32
    mixed ^= mixed >> np.uint64(15)
    return F(mixed >> np.uint64(8)) / F(16777216) - _HALF


@njit(cache=True, nogil=True)
def pack(planes, final, left, top, most, out):  # type: ignore[no-untyped-def]
    """Round encoded planes (C, H, W) to codes out (H, W, C), dithered when they are 8-bit.

    `final` is an empty (C, 0) array, or tables from working to stored values.
    """
    dither = F(0.98) if most == 255 else _ZERO
    tabled = final.shape[1] > 0
    for y in range(out.shape[0]):
        for x in range(out.shape[1]):
            for channel in range(planes.shape[0]):
                value = planes[channel, y, x]
                if tabled:
                    value = _look(final[channel], value)
                value = value * F(most) + _HALF
                if dither > _ZERO:
                    value += dither * _noise(left + x, top + y, channel)
                out[y, x, channel] = np.int32(min(max(value, _ZERO), F(most)))


@njit(cache=True, nogil=True)
def to_screen(codes, decode, matrix, encode, out):  # type: ignore[no-untyped-def]
    """Show codes (H, W, C) as sRGB: out (H, W, 4) uint8, blue first, as screens have it."""
    grey = codes.shape[2] == 1
    for y in range(codes.shape[0]):
        for x in range(codes.shape[1]):
            r = decode[0, codes[y, x, 0]]
            g = r
            b = r
            if not grey:
                g = decode[1, codes[y, x, 1]]
                b = decode[2, codes[y, x, 2]]
            for channel in range(3):
                value = matrix[channel, 0] * r + matrix[channel, 1] * g + matrix[channel, 2] * b
                shown = _look(encode, _root(min(value, _ONE))) * F(255) + _HALF
                out[y, x, 2 - channel] = np.uint8(shown)
            out[y, x, 3] = 255
