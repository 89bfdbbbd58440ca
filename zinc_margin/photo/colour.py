"""A photo's colour space: stored values, linear light and lightness."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cache, cached_property, lru_cache

import imagecodecs
import numpy as np
from numpy.typing import NDArray

from zinc_margin.measure.errors import CannotDo
from zinc_margin.measure.tones import parts_of
from zinc_margin.photo import icc as icc_profiles
from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.icc import STEPS

SRGB = ((0.64, 0.33), (0.30, 0.60), (0.15, 0.06))
BT2020 = ((0.708, 0.292), (0.170, 0.797), (0.131, 0.046))


@dataclass(frozen=True, eq=False)
class Colour:
    """The colour space of a photo's pixels.

    Attributes
    ----------
    icc : bytes
        The profile to embed.
    name : str
    curves : tuple of ndarray (STEPS + 1,)
        Encoded (even grid over 0–1) to linear, one per channel.
    matrix : ndarray (3, C)
        Linear channels to XYZ relative to D50.
    """

    icc: bytes = field(repr=False)
    name: str
    curves: tuple[np.ndarray, ...] = field(repr=False)
    matrix: np.ndarray = field(repr=False)

    @property
    def grey(self) -> bool:
        """Whether there is one channel."""
        return len(self.curves) == 1

    @property
    def profiled(self) -> tuple[bytes, str]:
        """The ICC profile and its colour space."""
        return self.icc, "GRAY" if self.grey else "RGB"

    @cached_property
    def decode(self) -> NDArray[np.float32]:
        """Table from encoded to linear values on an even grid: (C, STEPS + 1) float32."""
        return np.array(self.curves, np.float32)

    @cached_property
    def perceptual(self) -> bool:
        """Whether equal steps of the stored values look about equal (gamma 1.5 to 3)."""
        middle = float(np.mean([curve[STEPS // 2] for curve in self.curves]))
        return 0.5**3 <= middle <= 0.5**1.5


@cache
def srgb() -> Colour:
    """Return sRGB."""
    curve = icc_profiles.srgb_curve(np.linspace(0, 1, 1024))
    return from_icc(icc_profiles.make("sRGB", curve, icc_profiles.primaries(SRGB)))


@cache
def plain_grey() -> Colour:
    """Return grey with the tone curve of sRGB."""
    curve = icc_profiles.srgb_curve(np.linspace(0, 1, 1024))
    return from_icc(icc_profiles.make("Grey with the sRGB tone curve", curve, None))


@cache
def wide_rgb() -> Colour:
    """Return our wide working space: BT.2020 primaries, gamma 2.2."""
    return from_icc(icc_profiles.make("Wide RGB", 2.2, icc_profiles.primaries(BT2020)))


def from_icc(icc: bytes) -> Colour:
    """Return the colour space of a matrix or grey profile.

    Raises
    ------
    CannotDo
        If the profile is damaged or uses lookup tables.
    """
    profile = icc_profiles.parse(icc)
    if profile.curves is None or profile.matrix is None:
        raise CannotDo("its colour profile uses lookup tables")
    return Colour(icc, profile.name or "unnamed profile", profile.curves, profile.matrix)


def codes_of(tone: str, colour: Colour) -> np.ndarray:
    """Return a plain colour, encoded for a colour space.

    Parameters
    ----------
    tone : str
        ``#rrggbb``, in sRGB.
    colour : Colour
        The samples' colour space.

    Returns
    -------
    ndarray (C,)
        0 to 1; out-of-gamut values are clipped.
    """
    even = np.linspace(0, 1, STEPS + 1)
    linear = [
        np.interp(part, even, curve)
        for part, curve in zip(parts_of(tone), srgb().curves, strict=True)
    ]
    xyz = srgb().matrix @ linear
    if colour.grey:
        own = np.array([xyz[1]])
    else:
        own = np.linalg.solve(colour.matrix, xyz)
    return np.array(
        [
            np.interp(np.clip(value, 0, 1), curve + np.arange(len(curve)) * 1e-15, even)
            for value, curve in zip(own, colour.curves, strict=True)
        ]
    )


_EXACT = 0x0100
"""Little CMS flag: don't replace the transform by a coarse table, which is fast for 16 bits but
wrong by up to a tenth near the ends.
"""

SPACES = {"RGB": "rgb", "GRAY": "gray", "CMYK": "cmyk", "Lab": "lab"}
"""Colour spaces that can be converted: the profile's name and the library's name."""

PERCEPTUAL, RELATIVE, SATURATION, ABSOLUTE = range(4)
Profiled = tuple[bytes, str]
"""An ICC profile and its space, a key of `SPACES`."""


def transform(
    codes: Codes,
    own: Profiled,
    goal: Profiled,
    intent: int = RELATIVE,
    black_point: bool = False,
    depth: str = "uint16",
) -> np.ndarray:
    """Convert samples (H, W, C) from one profile to another with Little CMS; return (H, W, K).

    Parameters
    ----------
    intent : int
        One of the four ICC intents.
    black_point : bool
        Whether to use black point compensation.
    depth : str
        Data type of the result.

    Raises
    ------
    CannotDo
        If a profile cannot be used.
    """
    flat = as_sixteen(codes)
    flags = _EXACT | (imagecodecs.CMS.FLAGS.BLACKPOINTCOMPENSATION if black_point else 0)
    try:
        result = imagecodecs.cms_transform(
            np.ascontiguousarray(flat if flat.shape[2] > 1 else flat[..., 0]),
            own[0],
            goal[0],
            colorspace=SPACES[own[1]],
            outcolorspace=SPACES[goal[1]],
            outdtype=depth,
            intent=intent,
            flags=flags,
        )
    except (RuntimeError, ValueError, TypeError) as why:
        raise CannotDo("The colour profile could not be used. Choose another one.") from why
    return np.asarray(result).reshape(*codes.shape[:2], -1)


def as_sixteen(codes: Codes) -> Codes:
    """Return samples as 16 bits.

    Parameters
    ----------
    codes : ndarray
        (H, W, C), uint8 or uint16.
    """
    return codes.astype(np.uint16) * np.uint16(257) if codes.dtype == np.uint8 else codes


@cache
def _lab() -> bytes:
    return bytes(imagecodecs.cms_profile("lab4"))


def lab_of(codes: Codes, own: Profiled) -> NDArray[np.float32]:
    """Return samples (H, W, C) as CIELAB, (H, W, 3) float32.

    Parameters
    ----------
    codes : ndarray
        (H, W, C), uint8 or uint16.
    own : Profiled
        The samples' profile and space.
    """
    return transform(codes, own, (_lab(), "Lab"), depth="float32")


def through_tables(codes: Codes, icc: bytes, space: str) -> NDArray[np.uint16]:
    """Convert pixels of a lookup-table or CMYK profile to `wide_rgb`, 16 bits.

    Parameters
    ----------
    codes : ndarray (H, W, C), uint8 or uint16
    space : str
        ``RGB`` or ``CMYK``.

    Returns
    -------
    ndarray (H, W, 3), uint16
    """
    out = np.empty((*codes.shape[:2], 3), np.uint16)
    # Convert in strips: the library wraps whole arrays, and copying a large one costs memory.
    rows = max(1, 4_000_000 // codes.shape[1])
    try:
        for top in range(0, codes.shape[0], rows):
            part = codes[top : top + rows]
            out[top : top + rows] = transform(part, (icc, space), wide_rgb().profiled)
    except CannotDo as why:
        raise CannotDo("its colour profile could not be used") from why
    return out


def profile_use(icc: bytes | None, kind: str) -> tuple[str | None, str]:
    """Return the profile's name and its use.

    sRGB (or its curve, for grey) replaces a missing profile, a damaged one, or one that does not
    match the kind of photo.

    Parameters
    ----------
    kind : str
        ``RGB``, ``grey`` or ``CMYK``.

    Returns
    -------
    (str or None, str)
        Name and use; the use is ``own``, ``assumed``, ``damaged`` or ``converted``.
    """
    if icc is None:
        return None, "assumed"
    try:
        profile = icc_profiles.parse(icc)
    except CannotDo:
        return None, "damaged"
    name = profile.name or "unnamed profile"
    fitting = {"RGB": "RGB", "grey": "GRAY", "CMYK": "CMYK"}[kind]
    if profile.space != fitting:
        return None, "damaged"
    if profile.curves is not None:
        return name, "own"
    return (name, "converted") if _converts(icc, profile.space) else (None, "damaged")


@lru_cache(maxsize=8)
def _converts(icc: bytes, space: str) -> bool:
    """Return whether Little CMS can use a profile, and tells dark from light by it."""
    try:
        ends = np.array([[[0] * len(space), [255] * len(space)]], np.uint8)
        return bool(np.ptp(through_tables(ends, icc, space)))
    except CannotDo:
        return False
