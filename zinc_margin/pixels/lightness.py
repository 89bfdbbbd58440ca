"""Compiled loops from working values to lightness, and back."""

from __future__ import annotations

import numpy as np
from numba import njit

from zinc_margin.pixels.lookup import ONE, ZERO, F, apply_curve

_ROOM = 1024
"""Pixels processed together, so they stay in the fastest cache."""
_LOW = F(6 / 29)
_SLOPE = F(3 * (6 / 29) ** 2)
_RISE = F(1 / (3 * (6 / 29) ** 2))
_OFFSET = F(4 / 29)
_KINK = F((6 / 29) ** 0.75)
"""Fourth root of the value at which CIE's f becomes a cube root."""


@njit(inline="always", error_model="numpy")
def _cie_f(value):  # type: ignore[no-untyped-def]
    """Return CIE's f of a linear value: a cube root, linear near black.

    The root is a polynomial of the fourth root, fitted over the range of f; its error is at most
    3e-7.
    """
    quarter = np.sqrt(np.sqrt(max(value, ZERO)))
    s = quarter - F(0.65)
    near = F(0.0634069772) + s * (F(-0.0524039753) + s * (F(0.0679129435) + s * F(-0.0668831375)))
    near = F(1.15498525) + s * (F(0.296188809) + s * (F(-0.101252358) + s * near))
    near = F(0.563055241) + s * near
    low = value * _RISE + _OFFSET
    return near if quarter > _KINK else low


@njit(inline="always", error_model="numpy")
def _cube(value):  # type: ignore[no-untyped-def]
    cube = value * value * value
    straight = _SLOPE * (value - _OFFSET)
    return cube if value > _LOW else straight


@njit(cache=True, nogil=True, error_model="numpy")
def lightness(planes, part, decode, luminance, out):  # type: ignore[no-untyped-def]
    """Compute L* (0–100) of encoded planes (C, N) → out (N,).

    Parameters
    ----------
    planes : ndarray (C, N), float32
        Working values, 0 to 1.
    part : (int, int)
        First to compute, and one past the last.
    decode : (ndarray, ndarray)
        Encoded to linear, per channel: bend and table (see `apply_curve`).
    luminance : ndarray (C,), float32
        Linear channels to Y.
    out : ndarray (N,), float32
        The result.
    """
    bends, tables = decode
    values = np.empty(_ROOM, np.float32)
    for start in range(part[0], part[1], _ROOM):
        stop = min(start + _ROOM, part[1])
        line = out[start:stop]
        line[:] = ZERO
        for channel in range(planes.shape[0]):
            apply_curve(planes[channel, start:stop], bends[channel], tables[channel], values)
            weight = luminance[channel]
            for n in range(line.shape[0]):
                line[n] += weight * values[n]
        for n in range(line.shape[0]):
            line[n] = F(116) * _cie_f(line[n]) - F(16)


@njit(inline="always", error_model="numpy")
def _room(moved, before):  # type: ignore[no-untyped-def]
    """Return the share of a change that is possible without clipping, 0 to 1 and beyond."""
    end = ONE if moved > ZERO else ZERO
    return max((end - before) / (moved if abs(moved) > F(1e-9) else F(1e-9)) * F(0.96), ZERO)


@njit(cache=True, nogil=True, error_model="numpy")
def _step(linear, tone, step, to_xyz, from_xyz):  # type: ignore[no-untyped-def]
    """Change the L* of linear values (3, N) by a step, in place, and leave their fourth roots.

    A change that would clip a channel is limited to the available range.
    """
    red, green, blue = linear[0], linear[1], linear[2]
    a, b, c = to_xyz[0, 0], to_xyz[0, 1], to_xyz[0, 2]
    d, e, f = to_xyz[2, 0], to_xyz[2, 1], to_xyz[2, 2]
    rx, ry, rz = from_xyz[0, 0], from_xyz[0, 1], from_xyz[0, 2]
    gx, gy, gz = from_xyz[1, 0], from_xyz[1, 1], from_xyz[1, 2]
    bx, by, bz = from_xyz[2, 0], from_xyz[2, 1], from_xyz[2, 2]
    for n in range(step.shape[0]):
        r, g, b_ = red[n], green[n], blue[n]
        shift = step[n] * F(1 / 116)
        x = _cube(_cie_f(a * r + b * g + c * b_) + shift)
        y = _cube((tone[n] + F(16)) * F(1 / 116) + shift)
        z = _cube(_cie_f(d * r + e * g + f * b_) + shift)
        to_r = rx * x + ry * y + rz * z - r
        to_g = gx * x + gy * y + gz * z - g
        to_b = bx * x + by * y + bz * z - b_
        share = min(min(_room(to_r, r), _room(to_g, g)), min(_room(to_b, b_), ONE))
        red[n] = np.sqrt(np.sqrt(max(r + share * to_r, ZERO)))
        green[n] = np.sqrt(np.sqrt(max(g + share * to_g, ZERO)))
        blue[n] = np.sqrt(np.sqrt(max(b_ + share * to_b, ZERO)))


@njit(cache=True, nogil=True, error_model="numpy")
def _step_grey(linear, tone, step):  # type: ignore[no-untyped-def]
    """Do the same for grey, linear (1, N), whose cube root is lightness itself."""
    grey = linear[0]
    for n in range(step.shape[0]):
        before = grey[n]
        moved = _cube((tone[n] + step[n] + F(16)) * F(1 / 116)) - before
        moved = before + min(_room(moved, before), ONE) * moved
        grey[n] = np.sqrt(np.sqrt(max(moved, ZERO)))


@njit(cache=True, nogil=True, error_model="numpy")
def move(planes, moves, count, decode, encode, to_xyz, from_xyz):  # type: ignore[no-untyped-def]
    """Change L* of some places at constant a* and b*, in place.

    XYZ are relative to white, so a change of L* is the same step in all three cube roots.

    Parameters
    ----------
    planes : ndarray (C, N), float32
        Working values, 0 to 1.
    moves : (ndarray, ndarray, ndarray), int32, float32, float32
        The places, their lightness, and its change.
    count : int
        Number of changed places.
    decode, encode : (ndarray, ndarray)
        Encoded to linear, and fourth roots of linear to encoded, per channel: bend and table (see
        `apply_curve`).
    to_xyz : ndarray (3, C), float32
        Linear channels to XYZ relative to D50.
    from_xyz : ndarray (C, 3), float32
        XYZ relative to D50 to linear channels.
    """
    channels = planes.shape[0]
    values = np.empty((channels, _ROOM), np.float32)
    linear = np.empty((channels, _ROOM), np.float32)
    for start in range(0, count, _ROOM):
        stop = min(start + _ROOM, count)
        where, tones, steps = moves[0][start:stop], moves[1][start:stop], moves[2][start:stop]
        for channel in range(channels):
            plane, goal = planes[channel], values[channel]
            for n in range(where.shape[0]):
                goal[n] = plane[np.uintp(where[n])]
            part = goal[: where.shape[0]]
            apply_curve(part, decode[0][channel], decode[1][channel], linear[channel])
        if channels == 1:
            _step_grey(linear, tones, steps)
        else:
            _step(linear, tones, steps, to_xyz, from_xyz)
        for channel in range(channels):
            plane, goal = planes[channel], values[channel]
            part = linear[channel, : where.shape[0]]
            apply_curve(part, encode[0][channel], encode[1][channel], goal)
            for n in range(where.shape[0]):
                plane[np.uintp(where[n])] = goal[n]
