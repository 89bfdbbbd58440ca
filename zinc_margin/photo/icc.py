"""Matrix and grey ICC profiles: read their curves and primaries, and build our own.

References
----------
ICC.1:2001-04 (version 2) and ICC.1:2022 (version 4): header, tag table, `curv`, `para`, `XYZ `.
"""

from __future__ import annotations

import struct
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from zinc_margin.measure.errors import CannotDo

STEPS = 65536
D50 = np.array([0.9642, 1.0, 0.8249])
_BRADFORD_D65_TO_D50 = np.array(
    [[1.0478112, 0.0228866, -0.0501270], [0.0295424, 0.9904844, -0.0170491],
     [-0.0092345, 0.0150436, 0.7521316]]
)  # fmt: skip


@dataclass(frozen=True)
class Profile:
    """A parsed profile.

    Attributes
    ----------
    space : str
        ``RGB``, ``GRAY``, ``CMYK`` …, from the header.
    name : str
        The profile's description.
    curves : tuple of ndarray, or None
        `STEPS` + 1 linear values (0–1) per channel, on an even grid of encoded values; None for
        lookup tables.
    matrix : ndarray (3, C), or None
        Linear channels to XYZ relative to D50.
    """

    space: str
    name: str
    curves: tuple[np.ndarray, ...] | None
    matrix: np.ndarray | None


_DAMAGE = (struct.error, IndexError, ValueError, KeyError, ArithmeticError)
"""What reading a damaged profile raises; decoding errors are ValueErrors."""
_MOST_SKEW = 1e3
"""The largest condition number of primaries; those of real spaces have at most 20."""
_OFF_WHITE = 0.005
"""How far the primaries' sum may be from D50 for us to correct it; beyond it, lcms2 converts."""
_LONGEST_FLAT = 0.25
"""The longest flat part of a curve, as a share: a longer one cannot be inverted."""
_DIP = 1 / 255
"""How far a curve may fall, as rounded tables do."""


class _Flat(ValueError):
    """A curve that cannot be inverted; Little CMS can still read it."""


def parse(icc: bytes) -> Profile:
    """Parse a matrix or grey profile.

    Raises
    ------
    CannotDo
        If it is damaged: unreadable, or not finite, invertible and monotone.
    """
    try:
        return _parse(icc)
    except _DAMAGE as why:
        raise CannotDo("its colour profile is damaged") from why


@lru_cache(maxsize=8)
def _parse(icc: bytes) -> Profile:
    if len(icc) < 132 or icc[36:40] != b"acsp":
        raise ValueError("no profile")
    space = icc[16:20].decode("ascii").strip()
    tags: dict[bytes, bytes] = {}
    (count,) = struct.unpack(">I", icc[128:132])
    if count > 200:
        raise ValueError("too many tags")
    for index in range(count):
        sign, start, size = struct.unpack_from(">4sII", icc, 132 + 12 * index)
        if start + size > len(icc):
            raise ValueError("a tag beyond the end")
        tags[sign] = icc[start : start + size]
    name = _description(tags.get(b"desc", b""))
    if space == "GRAY":
        curve = _curve(tags[b"kTRC"])
        if icc[20:24] == b"Lab ":  # the curve then gives L*
            curve = np.where(curve > 0.08, ((100 * curve + 16) / 116) ** 3, 100 * curve / 903.3)
        return Profile(space, name, (curve,), D50.reshape(3, 1).copy())
    if space == "RGB" and b"A2B0" not in tags and b"rXYZ" in tags:
        try:
            curves = tuple(_curve(tags[sign]) for sign in (b"rTRC", b"gTRC", b"bTRC"))
        except _Flat:
            return Profile(space, name, None, None)
        columns = [_xyz(tags[sign]) for sign in (b"rXYZ", b"gXYZ", b"bXYZ")]
        matrix = np.array(columns).T
        if not np.linalg.cond(matrix) < _MOST_SKEW:
            raise ValueError("primaries on one line")
        if np.max(np.abs(matrix.sum(axis=1) - D50)) > _OFF_WHITE:
            return Profile(space, name, None, None)
        # Primaries are stored in steps of 1/65536; correct a white that is one step off.
        matrix *= (D50 / matrix.sum(axis=1))[:, None]
        return Profile(space, name, curves, matrix)
    return Profile(space, name, None, None)


def _xyz(tag: bytes) -> list[float]:
    if tag[:4] != b"XYZ ":
        raise ValueError("no XYZ")
    return [part / 65536 for part in struct.unpack_from(">3i", tag, 8)]


_BEYOND = 1 / 4096


def _curve(tag: bytes) -> np.ndarray:
    """Return a sound curve on the grid; raise ValueError or ArithmeticError for another.

    Raises
    ------
    _Flat
        If it is finite and monotone, but cannot be inverted.
    """
    with np.errstate(all="ignore"):  # infinite values are refused below
        values = _curve_values(tag)
    if not np.all(np.isfinite(values)):
        raise ValueError("a curve that is not finite")
    beyond = max(np.max(values) - 1, -np.min(values))
    values = np.clip(values, 0.0, 1.0)
    risen = np.maximum.accumulate(values)
    if np.max(risen - values) > _DIP:
        raise ValueError("a curve that falls")
    at = np.flatnonzero(np.diff(risen) > 0)
    if len(at) == 0:
        raise ValueError("a curve that is constant")
    # Little CMS keeps values beyond white through its matrix, which a table of 0 to 1 cannot.
    if beyond > _BEYOND or max(np.diff(at, prepend=0, append=STEPS)) > _LONGEST_FLAT * STEPS:
        raise _Flat
    return risen


def _curve_values(tag: bytes) -> np.ndarray:
    grid = np.linspace(0.0, 1.0, STEPS + 1)
    kind = tag[:4]
    if kind == b"curv":
        (count,) = struct.unpack_from(">I", tag, 8)
        if count == 0:
            return grid
        if count == 1:
            return grid ** (struct.unpack_from(">H", tag, 12)[0] / 256)
        points = np.frombuffer(tag, ">u2", count, 12) / 65535
        return np.asarray(np.interp(grid, np.linspace(0, 1, count), points))
    if kind != b"para":
        raise ValueError("an unknown curve")
    (which,) = struct.unpack_from(">H", tag, 8)
    counts = (1, 3, 4, 5, 7)
    value = struct.unpack_from(f">{counts[which]}i", tag, 12)
    g, a, b, c, d, e, f = [part / 65536 for part in value] + [0.0] * (7 - counts[which])
    if which == 0:
        return grid**g
    powered = np.maximum(a * grid + b, 0.0) ** g
    if a == 0:
        raise ValueError("a curve without a slope")
    if which == 1:
        values = np.where(grid >= -b / a, powered, 0.0)
    elif which == 2:
        values = np.where(grid >= -b / a, powered + c, c)
    elif which == 3:
        values = np.where(grid >= d, powered, c * grid)
    else:
        values = np.where(grid >= d, powered + e, c * grid + f)
    return values


def name_of(icc: bytes) -> str:
    """Return a profile's name; empty if it has none or it is unreadable."""
    try:
        return _parse(icc).name
    except _DAMAGE:
        return ""


def _description(tag: bytes) -> str:
    if tag[:4] == b"desc":
        (size,) = struct.unpack_from(">I", tag, 8)
        return tag[12 : 12 + size].split(b"\0")[0].decode("latin-1").strip()
    if tag[:4] == b"mluc":
        size, start = struct.unpack_from(">II", tag, 20)
        return tag[start : start + size].decode("utf-16-be").strip("\0 ")
    return ""


def _s15(value: float) -> bytes:
    return struct.pack(">i", round(value * 65536))


def make(name: str, curve: float | np.ndarray, matrix: np.ndarray | None) -> bytes:
    """Build a version 2 display profile; the same arguments give the same bytes.

    Parameters
    ----------
    name : str
        ASCII description.
    curve : float or ndarray
        A gamma (rounded to 1/256), or linear values (0–1) on an even grid.
    matrix : ndarray (3, 3), or None
        Linear RGB to XYZ relative to D50; None makes a grey profile.
    """
    if isinstance(curve, float):
        tone = b"curv" + bytes(4) + struct.pack(">IH", 1, round(curve * 256))
    else:
        points = np.round(np.clip(curve, 0, 1) * 65535).astype(">u2")
        tone = b"curv" + bytes(4) + struct.pack(">I", len(points)) + points.tobytes()
    text = name.encode("ascii") + b"\0"
    described = b"desc" + bytes(4) + struct.pack(">I", len(text)) + text + bytes(78)
    entries: list[tuple[bytes, bytes]] = [
        (b"desc", described),
        (b"cprt", b"text" + bytes(4) + b"No copyright; use freely.\0"),
        (b"wtpt", b"XYZ " + bytes(4) + b"".join(_s15(part) for part in D50)),
    ]
    if matrix is None:
        entries.append((b"kTRC", tone))
    else:
        for index, letter in enumerate((b"r", b"g", b"b")):
            column = b"".join(_s15(part) for part in matrix[:, index])
            entries.append((letter + b"XYZ", b"XYZ " + bytes(4) + column))
            entries.append((letter + b"TRC", tone))
    table = struct.pack(">I", len(entries))
    body = b""
    start = 128 + 4 + 12 * len(entries)
    places: dict[bytes, int] = {}
    for sign, data in entries:
        if data not in places:
            places[data] = start + len(body)
            body += data + bytes(-len(data) % 4)
        table += sign + struct.pack(">II", places[data], len(data))
    header = bytearray(128)
    header[0:4] = struct.pack(">I", start + len(body))
    header[8:12] = bytes((2, 0x40, 0, 0))
    header[12:24] = b"mntr" + (b"GRAY" if matrix is None else b"RGB ") + b"XYZ "
    header[24:36] = struct.pack(">6H", 2026, 1, 1, 0, 0, 0)
    header[36:40] = b"acsp"
    header[68:80] = b"".join(_s15(part) for part in D50)
    return bytes(header) + table + body


def primaries(points: tuple[tuple[float, float], ...]) -> np.ndarray:
    """Return linear RGB (white D65) to XYZ relative to D50, from three xy chromaticities.

    Parameters
    ----------
    points : tuple[(float, float), ...]
        x and y of red, green and blue.
    """
    columns = np.array([[x / y, 1.0, (1 - x - y) / y] for x, y in points]).T
    white = np.array([0.3127 / 0.3290, 1.0, (1 - 0.3127 - 0.3290) / 0.3290])
    to_xyz = columns * np.linalg.solve(columns, white)
    adapted = _BRADFORD_D65_TO_D50 @ to_xyz
    return np.asarray(adapted * (D50 / adapted.sum(axis=1))[:, None])


def srgb_curve(grid: np.ndarray) -> np.ndarray:
    """Return linear values for sRGB-encoded ones (IEC 61966-2-1).

    Parameters
    ----------
    grid : ndarray
        Encoded values, 0 to 1.
    """
    return np.where(grid <= 0.04045, grid / 12.92, ((grid + 0.055) / 1.055) ** 2.4)
