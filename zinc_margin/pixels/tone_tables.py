"""Tables between stored samples, working values, linear light and lightness."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from zinc_margin.photo.colour import Colour
from zinc_margin.photo.icc import D50
from zinc_margin.pixels import bends

STEPS = 1024
"""Even steps of every lookup table; values in between are interpolated."""


@dataclass(frozen=True, eq=False)
class Tables:
    """The lookup tables for one photo.

    Working values are the photo's own encoding if its steps look about equal; otherwise (for
    example a linear photo) square roots of linear light.

    Attributes
    ----------
    work : ndarray (C, codes), float32
        Stored to working value.
    linear : ndarray (C, codes), float32
        Stored value to linear light.
    decode, encode : ndarray (C, STEPS + 1, 2), float32
        Working value to linear; fourth root of linear to working value; per step the offset and
        slope of a line.
    final : ndarray (C, STEPS + 1, 2) or (C, 0, 2), float32
        Working to stored value; empty if they are the same.
    to_xyz, from_xyz : ndarray (3, C) and (C, 3), float32
        Relative to white, which is (1, 1, 1).
    curves : tuple of ndarray
        Working to linear values on an even grid, per channel.
    """

    work: np.ndarray
    linear: np.ndarray
    decode: np.ndarray
    encode: np.ndarray
    final: np.ndarray
    to_xyz: np.ndarray
    from_xyz: np.ndarray
    curves: tuple[np.ndarray, ...]

    @cached_property
    def decoding(self) -> tuple[np.ndarray, np.ndarray]:
        """The bends (C, NUMBERS) from working to linear values, and their tables."""
        return self._bent(bends.decoding), self.decode

    @cached_property
    def encoding(self) -> tuple[np.ndarray, np.ndarray]:
        """The bends from fourth roots of linear values to working ones, and their tables."""
        return self._bent(bends.encoding), self.encode

    def _bent(self, bend: Callable[[np.ndarray], np.ndarray]) -> np.ndarray:
        """Return all channels' bends, or an empty array if one does not match its curve."""
        keys = [curve.tobytes() for curve in self.curves]  # channels usually share a curve
        known = {
            key: bend(curve) for key, curve in dict(zip(keys, self.curves, strict=True)).items()
        }
        rows = [known[key] for key in keys]
        if not all(len(row) for row in rows):
            rows = [row[:0] for row in rows]
        return np.array(rows, np.float32)


@lru_cache(maxsize=12)
def make_tables(colour: Colour, dtype: np.dtype) -> Tables:
    """Build the tables of a photo with samples of type `dtype`.

    Parameters
    ----------
    colour : Colour
        The samples' colour space.
    dtype : dtype
        uint8 or uint16.
    """
    codes = np.arange(int(np.iinfo(dtype).max) + 1) / np.iinfo(dtype).max
    grid = np.linspace(0.0, 1.0, STEPS + 1)
    fine = np.linspace(0.0, 1.0, len(colour.curves[0]))
    linear = np.array([np.interp(codes, fine, curve) for curve in colour.curves])
    channels = len(colour.curves)
    if colour.perceptual:
        work = np.repeat(codes[None], channels, axis=0)
        decode = np.array([np.interp(grid, fine, curve) for curve in colour.curves])
        encode = np.array([_inverse(curve, grid**4) for curve in colour.curves])
        final = np.empty((channels, 0, 2))
        curves = colour.curves
    else:
        work = np.sqrt(linear)
        decode = np.repeat((grid**2)[None], channels, axis=0)
        encode = decode  # the square of the fourth root is the square root
        final = np.array([_inverse(curve, grid**2) for curve in colour.curves])
        curves = (grid**2,) * channels
    relative = colour.matrix / D50[:, None]
    inverse = np.linalg.inv(relative) if channels == 3 else np.ones((1, 3)) / 3
    return Tables(
        work=work.astype(np.float32),
        linear=linear.astype(np.float32),
        decode=_lines(decode),
        encode=_lines(encode),
        final=_lines(final) if final.size else final.astype(np.float32),
        # rows one behind the other: otherwise every loop is compiled a second time
        to_xyz=relative.astype(np.float32, order="C"),
        from_xyz=inverse.astype(np.float32, order="C"),
        curves=curves,
    )


def _lines(tables: np.ndarray) -> np.ndarray:
    """Convert values (C, STEPS + 1) to the lines between them; the last, for 1, is flat."""
    rise = np.diff(tables, axis=1, append=tables[:, -1:])
    return np.stack([tables - np.arange(STEPS + 1) * rise, rise], axis=2).astype(np.float32)


def _inverse(curve: np.ndarray, linear: np.ndarray) -> np.ndarray:
    """Return encoded values for linear ones."""
    return np.interp(linear, bends.rising(curve), np.linspace(0.0, 1.0, len(curve)))
