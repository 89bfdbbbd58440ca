"""The loops that work on tones, compiled: lightness, sharpening, and codes for file and screen."""

from __future__ import annotations

import numpy as np
from numba import njit

from zinc_margin.pixels.lookup import ONE, ZERO, F, look, look_inside, put, root

_HALF = F(0.5)
_LOUDER = F(1.3)
_TINY = F(1e-6)
_STILL = F(1e-3)
"""Moves of L* smaller than this are under one step of 16 bits, and are not made."""
_LOW = F(6 / 29)
_SLOPE = F(3 * (6 / 29) ** 2)
_OFFSET = F(4 / 29)
_KINK = F((6 / 29) ** 3)
_LOW32 = np.uint64(0xFFFFFFFF)
_MIX = np.array([0x9E3779B1, 0x85EBCA77, 0xC2B2AE3D, 0x2C1B3C6D, 0x297A2D39], np.uint64)


@njit(inline="always", error_model="numpy")
def _compressed(line, bits, thirds, guess, width):  # type: ignore[no-untyped-def]
    """CIE's f of linear values, in place: a cube root, straight near black.

    The root begins with a third of the number's exponent (its bits as a whole number) and is made
    exact by two of Halley's steps; the same operations for every place, and no table.
    `bits` and `thirds` are whole-number views of a scratch row and of `guess`.
    """
    scratch = bits.view(np.float32)
    for x in range(width):
        scratch[x] = max(line[x], F(1e-9))
    for x in range(width):
        thirds[x] = bits[x] // np.int32(3) + np.int32(709921077)
    for x in range(width):
        value, near = scratch[x], guess[x]
        cube = near * near * near
        near = near * (cube + value + value) / (cube + cube + value)
        cube = near * near * near
        near = near * (cube + value + value) / (cube + cube + value)
        low = value / _SLOPE + _OFFSET
        line[x] = near if value > _KINK else low


@njit(cache=True, nogil=True, error_model="numpy")
def lightness(planes, apron, decode, luminance, out, linear):  # type: ignore[no-untyped-def]
    """L* (0–100) of encoded planes (C, H, W) → out (H, W).

    What was decoded on the way is left in linear (C, H − 2·apron, W − 2·apron), for `move`.

    Parameters
    ----------
    planes : ndarray (C, H, W), float32
        Working values, 0 to 1.
    apron : int
        How far beyond the wanted part the working values reach, in pixels.
    decode : ndarray (C, N), float32
        Encoded values to linear ones, on an even grid.
    luminance : ndarray (C,), float32
        Linear channels to Y.
    out : ndarray, float32
        Where the result goes.
    linear : ndarray (C, H − 2·apron, W − 2·apron), float32
    """
    width = out.shape[1]
    values = np.empty(width, np.float32)
    bits = values.view(np.int32)
    guess = np.empty(width, np.float32)
    thirds = guess.view(np.int32)
    for y in range(out.shape[0]):
        line = out[y]
        line[:] = ZERO
        for channel in range(planes.shape[0]):
            table = decode[channel]
            row = planes[channel, y]
            weight = luminance[channel]
            for x in range(width):
                values[x] = look_inside(table, row[x])
            for x in range(width):
                line[x] += weight * values[x]
            if apron <= y < out.shape[0] - apron:
                put(linear[channel, y - apron, :], values[apron : width - apron])
        _compressed(line, bits, thirds, guess, width)
        for x in range(width):
            line[x] = F(116) * line[x] - F(16)


@njit(inline="always", error_model="numpy")
def _pair(line, weight, before, behind, width):  # type: ignore[no-untyped-def]
    for x in range(width):
        line[x] += weight * (before[x] + behind[x])


@njit(inline="always", error_model="numpy")
def _two_pairs(line, weight, before, behind, other, sooner, later, width):  # type: ignore[no-untyped-def]
    """Two pairs of neighbours in one go: the sum is fetched and put back half as often."""
    for x in range(width):
        line[x] += weight * (before[x] + behind[x]) + other * (sooner[x] + later[x])


@njit(cache=True, nogil=True, error_model="numpy")
def blur(plane, apron, weights, out, scratch):  # type: ignore[no-untyped-def]
    """Gaussian blur: plane (H + 2·apron, W + 2·apron) → out (H, W).

    weights are those from the centre outwards, at most apron + 1; scratch is like plane.

    Parameters
    ----------
    plane : ndarray (H, W), float32
    apron : int
        How far beyond the wanted part the working values reach, in pixels.
    weights : ndarray (N, taps), float32
        Of each output.
    out : ndarray, float32
        Where the result goes.
    scratch : ndarray, float32
        Room to work in.
    """
    reach = weights.shape[0] - 1
    height, width = out.shape
    for y in range(apron - reach, height + apron + reach):
        row = plane[y]
        line = scratch[y, apron : apron + width]
        here = row[apron : apron + width]
        for x in range(width):
            line[x] = weights[0] * here[x]
        for k in range(1, reach, 2):
            _two_pairs(
                line, weights[k], row[apron - k :], row[apron + k :],
                weights[k + 1], row[apron - k - 1 :], row[apron + k + 1 :], width,
            )  # fmt: skip
        if reach % 2:
            _pair(line, weights[reach], row[apron - reach :], row[apron + reach :], width)
    for y in range(height):
        line = out[y]
        here = scratch[y + apron, apron : apron + width]
        for x in range(width):
            line[x] = weights[0] * here[x]
        at = y + apron
        for k in range(1, reach, 2):
            _two_pairs(
                line, weights[k], scratch[at - k, apron:], scratch[at + k, apron:],
                weights[k + 1], scratch[at - k - 1, apron:], scratch[at + k + 1, apron:], width,
            )  # fmt: skip
        if reach % 2:
            _pair(line, weights[reach], scratch[at - reach, apron:], scratch[at + reach, apron:],
                  width)  # fmt: skip


@njit(cache=True, nogil=True, error_model="numpy")
def _lesser(out, one, other, width):  # type: ignore[no-untyped-def]
    for x in range(width):
        out[x] = min(one[x], other[x])


@njit(cache=True, nogil=True, error_model="numpy")
def _greater(out, one, other, width):  # type: ignore[no-untyped-def]
    for x in range(width):
        out[x] = max(one[x], other[x])


@njit(cache=True, nogil=True, error_model="numpy")
def extremes(plane, apron, reach, low, high, scratch_low, scratch_high):  # type: ignore[no-untyped-def]
    """Least and most within `reach` of each place: plane (H + 2·apron, …) → (H, W) each.

    A window of any width is two of a power of two laid over each other, and those double.

    Parameters
    ----------
    plane : ndarray (H, W), float32
    apron : int
        How far beyond the wanted part the working values reach, in pixels.
    reach : int
    low : ndarray, float32
        The lowest neighbour of each place.
    high : ndarray, float32
        The highest neighbour of each place.
    scratch_low, scratch_high : ndarray, float32
        Room to work in.
    """
    height, width = low.shape
    window = 2 * reach + 1
    first = apron - reach
    length = width + 2 * reach
    # two pairs of rows, in turn: a row that is laid over itself does not go in step
    spare = np.empty((4, length), np.float32)
    for y in range(first, height + apron + reach):
        row = plane[y, first : first + length]
        _lesser(spare[0], row, row[1:], length - 1)
        _greater(spare[1], row, row[1:], length - 1)
        step, at = 2, 0
        while 2 * step <= window:
            count = length - 2 * step + 1
            _lesser(spare[2 - at], spare[at], spare[at, step:], count)
            _greater(spare[3 - at], spare[at + 1], spare[at + 1, step:], count)
            step, at = 2 * step, 2 - at
        _lesser(scratch_low[y], spare[at], spare[at, window - step :], width)
        _greater(scratch_high[y], spare[at + 1], spare[at + 1, window - step :], width)
    step = 1
    while 2 * step <= window:
        for y in range(first, height + apron + reach - step):
            _lesser(scratch_low[y], scratch_low[y], scratch_low[y + step], width)
            _greater(scratch_high[y], scratch_high[y], scratch_high[y + step], width)
        step *= 2
    for y in range(height):
        last = y + first + window - step
        _lesser(low[y], scratch_low[y + first], scratch_low[last], width)
        _greater(high[y], scratch_high[y + first], scratch_high[last], width)


@njit(inline="always", error_model="numpy")
def _bounded(value, bound):  # type: ignore[no-untyped-def]
    """Hold a value ≥ 0 under a bound; nearly unchanged up to half of it."""
    part = value / (bound + _TINY)
    square = part * part
    return value / np.sqrt(np.sqrt(ONE + square * square))


@njit(inline="always", error_model="numpy")
def _ramp(value, start, end):  # type: ignore[no-untyped-def]
    part = min(max((value - start) * F(ONE / (end - start)), ZERO), ONE)
    return part * part * (F(3) - F(2) * part)


@njit(cache=True, nogil=True, error_model="numpy")
def restrain(light, apron, fine, broad, low, high, amount, breadth, halo, noise, ends, out):  # type: ignore[no-untyped-def]
    """The change of L* at every place: light (H + 2·apron, …), the others (H, W).

    Detail of the size of the noise is cored; deep shadows and what is nearly white are held back
    by the shares `ends`; overshoot beside an
    edge is bounded by `halo`, and by three quarters of what is left to black and white.

    Parameters
    ----------
    light : ndarray (H, W), float32
        Lightness, L*, with its apron.
    apron : int
        How far beyond the wanted part the working values reach, in pixels.
    fine : ndarray (H, W), float32
        Lightness blurred by the finer scale, L*.
    broad : ndarray (H, W), float32
        Lightness blurred by the broader scale, L*.
    low : ndarray, float32
        The lowest neighbour of each place.
    high : ndarray, float32
        The highest neighbour of each place.
    amount : float32
        Of sharpening, 0 to 3.
    breadth : float32
        From fine edges (0) to broad ones (1).
    halo : float32
    noise : float32
        Differences of this size, L*, are left alone.
    ends : (float32, float32)
    out : ndarray, float32
        Where the result goes.
    """
    floor = (amount * noise) * (amount * noise)
    floor = floor * floor + F(1e-30)
    shadows, highlights = ends
    width = out.shape[1]
    for y in range(out.shape[0]):
        row = light[y + apron, apron : apron + width]
        near, far, line = fine[y], broad[y], out[y]
        least, most = low[y], high[y]
        for x in range(width):
            line[x] = amount * (row[x] - ((ONE - breadth) * near[x] + breadth * far[x]))
        # without a branch, so that a row goes in step
        for x in range(width):
            change, here = line[x], row[x]
            power = change * change
            power *= power
            # noise of the same light is higher in L* where it is dark
            louder = ONE + _LOUDER * (ONE - _ramp(here, F(12), F(50)))
            louder *= louder
            change *= power / (power + floor * louder * louder)
            change *= ONE - shadows * (ONE - _ramp(here, F(8), F(16)))
            change *= ONE - highlights * _ramp(here, F(90), F(98))
            rises = change > ZERO
            much = abs(change)
            room = most[x] - here if rises else here - least[x]
            end = F(100) - here if rises else here
            over = max(much - room, ZERO)
            much = _bounded(much - over + _bounded(over, halo), F(0.75) * max(end, ZERO))
            line[x] = much if rises else -much


@njit(inline="always", error_model="numpy")
def _cubed(value):  # type: ignore[no-untyped-def]
    cube = value * value * value
    straight = _SLOPE * (value - _OFFSET)
    return cube if value > _LOW else straight


@njit(inline="always", error_model="numpy")
def _mixed(weights, planes, count, goal):  # type: ignore[no-untyped-def]
    first, second, third = weights[0], weights[1], weights[2]
    red, green, blue = planes[0], planes[1], planes[2]
    for n in range(count):
        goal[n] = first * red[n] + second * green[n] + third * blue[n]


@njit(cache=True, nogil=True, error_model="numpy")
def move(  # type: ignore[no-untyped-def]
    planes, light, apron, change, encode, to_xyz, from_xyz, out
):
    """Move L* by `change` (H, W) at unchanged a* and b*: planes (C, H + 2·apron, …) → out.

    `out` (C, H, W) comes with the linear values that `lightness` left.

    XYZ are relative to white, so that moving L* is the same step in all three cube roots.
    The pixels of a row that move are brought together first, so that all can go in step.

    Parameters
    ----------
    planes : ndarray (C, H, W), float32
        Working values, 0 to 1.
    light : ndarray (H, W), float32
        Lightness, L*, with its apron; the middle one of the cube roots.
    apron : int
        How far beyond the wanted part the working values reach, in pixels.
    change : ndarray (H, W), float32
    encode : ndarray (C, N, 2), float32
        Linear values to encoded ones.
    to_xyz : ndarray (3, C), float32
        Linear channels to XYZ relative to D50.
    from_xyz : ndarray (C, 3), float32
        XYZ relative to D50 to linear channels.
    out : ndarray, float32
        Where the result goes.
    """
    channels = planes.shape[0]
    width = change.shape[1]
    where = np.empty(width, np.int32)
    step = np.empty(width, np.float32)
    linear = np.empty((3, width), np.float32)
    roots = np.empty((3, width), np.float32)
    fresh = np.empty((3, width), np.float32)
    share = np.empty(width, np.float32)
    values = np.empty(width, np.float32)
    bits = values.view(np.int32)
    guess = np.empty(width, np.float32)
    thirds = guess.view(np.int32)
    for y in range(change.shape[0]):
        row = change[y]
        count = 0
        for x in range(width):
            if abs(row[x]) > _STILL:
                where[count] = x
                step[count] = row[x] / F(116)
                count += 1
        # where most move, all are worked out as they lie, and those that stand still put back
        whole = 2 * count > width
        if whole:
            count = width
            for x in range(width):
                step[x] = row[x] / F(116)
        for channel in range(channels):
            line = out[channel, y]
            goal = linear[channel]
            if whole:
                put(goal, line)
            else:
                for n in range(count):
                    goal[n] = line[np.uintp(where[n])]
            put(line, planes[channel, y + apron, apron : apron + width])
        tone = light[y + apron, apron : apron + width]
        for channel in range(channels):
            goal = roots[channel]
            if channels == 1 or channel == 1:
                if whole:
                    put(goal, tone)
                else:
                    for n in range(count):
                        goal[n] = tone[np.uintp(where[n])]
                for n in range(count):
                    goal[n] = (goal[n] + F(16)) / F(116)
            else:
                _mixed(to_xyz[channel], linear, count, goal)
                _compressed(goal, bits, thirds, guess, count)
            for n in range(count):
                goal[n] = _cubed(goal[n] + step[n])
        # a move that would carry a channel past its end goes only as far as that end is left free
        share[:count] = ONE
        for channel in range(channels):
            goal = fresh[channel]
            if channels == 1:
                put(goal[:count], roots[0, :count])
            else:
                _mixed(from_xyz[channel], roots, count, goal)
            before = linear[channel]
            for n in range(count):
                moved = goal[n] - before[n]
                end = ONE if moved > ZERO else ZERO
                room = (end - before[n]) / (moved if abs(moved) > F(1e-9) else F(1e-9))
                share[n] = min(share[n], max(room * F(0.96), ZERO))
        for channel in range(channels):
            goal = fresh[channel]
            before = linear[channel]
            table = encode[channel]
            # roots by themselves, in step; a look into a table lets nothing go in step
            for n in range(count):
                goal[n] = root(before[n] + share[n] * (goal[n] - before[n]))
            for n in range(count):
                goal[n] = look(table, goal[n])
            line = out[channel, y]
            if whole:
                for x in range(width):
                    line[x] = goal[x] if abs(row[x]) > _STILL else line[x]
            else:
                for n in range(count):
                    line[np.uintp(where[n])] = goal[n]


@njit(inline="always", error_model="numpy")
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


@njit(inline="always", error_model="numpy")
def _dither(values, left, y, channel):  # type: ignore[no-untyped-def]
    """Add nearly a step of noise to a row that begins at (left, y): that of `_noise`, in step."""
    fixed = (np.uint64(y) * _MIX[1] ^ np.uint64(channel + 1) * _MIX[2]) & _LOW32
    for x in range(values.shape[0]):
        mixed = (np.uint64(left + x) * _MIX[0] & _LOW32) ^ fixed
        mixed = ((mixed ^ (mixed >> np.uint64(15))) * _MIX[3]) & _LOW32
        mixed = ((mixed ^ (mixed >> np.uint64(12))) * _MIX[4]) & _LOW32
        mixed ^= mixed >> np.uint64(15)
        even = F(np.int32(mixed >> np.uint64(8))) / F(16777216)
        values[x] += F(0.98) * (even - _HALF)


@njit(inline="always", error_model="numpy")
def _knot(i, j, layer):  # type: ignore[no-untyped-def]
    """About a normal deviate for a knot of the grain's lattice: the sum of three even ones."""
    total = _noise(i, j, layer) + _noise(i, j, layer + 1) + _noise(i, j, layer + 2)
    return total * F(2)


@njit(inline="always", error_model="numpy")
def _lattice(x, y, spacing, layer):  # type: ignore[no-untyped-def]
    """Smooth noise at a place: a quadratic B-spline through the nine knots around it."""
    u, v = x / spacing, y / spacing
    i, j = np.floor(u + 0.5), np.floor(v + 0.5)
    s, t = F(u - i), F(v - j)
    left, right = _HALF * (_HALF - s) * (_HALF - s), _HALF * (_HALF + s) * (_HALF + s)
    above, below = _HALF * (_HALF - t) * (_HALF - t), _HALF * (_HALF + t) * (_HALF + t)
    across = (left, ONE - left - right, right)
    down = (above, ONE - above - below, below)
    total = ZERO
    for b in range(3):
        for a in range(3):
            knot = _knot(np.int64(i) + a + 4096, np.int64(j) + b + 4096, layer)
            total += down[b] * across[a] * knot
    return total


@njit(cache=True, nogil=True, error_model="numpy")
def grain(light, apron, left, top, size, deviation, out):  # type: ignore[no-untyped-def]
    """Add grain to the change of L*, out (H, W), strongest in mid-tones.

    It hangs on the place alone: (left, top) is where `out` lies in the file. `size` is that of a
    grain in pixels; grains finer than a pixel are seen as their mean, so fainter.

    Parameters
    ----------
    light : ndarray (H, W), float32
        Lightness, L*, with its apron.
    apron : int
        How far beyond the wanted part the working values reach, in pixels.
    left, top : int
        In pixels of the file.
    size : float
    deviation : float32
        Of lightness in mid-tones, L*.
    out : ndarray, float32
        Where the result goes.
    """
    spacing = max(size / 2.0, 0.5)
    faint = min(1.0, size / 1.0)
    # the spline smooths its knots to a deviation of about 0.55; two layers lie between each other
    scale = deviation * F(faint / (0.553 * 1.4142))
    for y in range(out.shape[0]):
        for x in range(out.shape[1]):
            tone = min(max(light[y + apron, x + apron] * F(0.01), ZERO), ONE)
            weight = F(4) * tone * (ONE - tone)
            u, v = left + x + 0.5, top + y + 0.5
            noise = _lattice(u, v, spacing, 11) + _lattice(
                u + spacing * 0.5, v + spacing * 0.5, spacing, 17
            )
            out[y, x] += weight * scale * noise


@njit(cache=True, nogil=True, error_model="numpy")
def pack(planes, final, left, top, most, out):  # type: ignore[no-untyped-def]
    """Round encoded planes (C, H, W) to codes out (H, W, C), dithered when they are 8-bit.

    `final` is an empty (C, 0) array, or tables from working to stored values.

    Parameters
    ----------
    planes : ndarray (C, H, W), float32
        Working values, 0 to 1.
    final : ndarray (C, N, 2), float32
    left, top : int
        In pixels of the file.
    most : ndarray, float32
        The most of the neighbours.
    out : ndarray, float32
        Where the result goes.
    """
    tabled, dithered = final.shape[1] > 0, most == 255
    channels, width, high = planes.shape[0], out.shape[1], F(most)
    values = np.empty(width, np.float32)
    rows = np.empty((channels, width), np.int32)
    for y in range(out.shape[0]):
        for channel in range(channels):
            row, line = planes[channel, y], rows[channel]
            if tabled:
                for x in range(width):
                    values[x] = look(final[channel], row[x]) * high + _HALF
            else:
                for x in range(width):
                    values[x] = row[x] * high + _HALF
            if dithered:
                _dither(values, left, top + y, channel)
            for x in range(width):
                line[x] = np.int32(min(max(values[x], ZERO), high))
        for channel in range(channels):
            line = rows[channel]
            for x in range(width):
                out[y, x, channel] = line[x]


@njit(cache=True, nogil=True, error_model="numpy")
def to_screen(codes, decode, matrix, encode, out):  # type: ignore[no-untyped-def]
    """Show codes (H, W, C) as sRGB: out (H, W, 4) uint8, blue first, as screens have it.

    Parameters
    ----------
    codes : ndarray (H, W, C), uint8 or uint16
    decode : ndarray (C, N), float32
        Encoded values to linear ones, on an even grid.
    matrix : ndarray (3, C), float32
        Linear channels to XYZ.
    encode : ndarray (C, N, 2), float32
        Linear values to encoded ones.
    out : ndarray, float32
        Where the result goes.
    """
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
                shown = look(encode, root(min(value, ONE))) * F(255) + _HALF
                out[y, x, 2 - channel] = np.uint8(shown)
            out[y, x, 3] = 255
