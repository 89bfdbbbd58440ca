"""Files in other colours than the photo's: converted by Little CMS, in 16 bits."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import lru_cache
from pathlib import Path
from threading import Event

import imagecodecs
import numpy as np
from numba import njit

from ..docket.docket import GoalProfile
from ..measure.errors import BadRequest, CannotDo
from ..photo import icc as profiles
from ..photo.colour import EXACT, Colour, plain_grey, srgb, wide_rgb
from ..photo.pixels import Photo
from ..pixels.sheets import page_of
from ..plan.model import Plan

INTENTS = {"perceptual": 0, "relative": 1, "saturation": 2, "absolute": 3}
_SPACES = {"RGB": "rgb", "GRAY": "gray", "CMYK": "cmyk"}
_LARGEST_PROFILE = 30_000_000
_FAR = 3.0
"""A colour that moves by more than this, in ΔE*ab of 1976, cannot be held."""


def read_profile(path: str | Path) -> GoalProfile:
    """Read what an ICC file is.

    Raises
    ------
    BadRequest
        When it is no profile of RGB, grey or CMYK.
    """
    path = Path(path).absolute()
    icc = _bytes_of(path)
    space = icc[16:20].decode("ascii", "replace").strip()
    if space not in _SPACES or icc[12:16] == b"link":
        raise BadRequest(f"{path.name} is a profile of {space or 'nothing'}; RGB, grey or CMYK are "
                         "written.")  # fmt: skip
    return GoalProfile(str(path), profiles.name_of(icc) or path.stem, space)


def _bytes_of(path: Path) -> bytes:
    try:
        if path.stat().st_size > _LARGEST_PROFILE:
            raise BadRequest(f"{path.name} is too large for a colour profile.")
        icc = path.read_bytes()
    except OSError as why:
        raise BadRequest(f"The profile {path} could not be read: {why.strerror}.") from None
    if len(icc) < 132 or icc[36:40] != b"acsp":
        raise BadRequest(f"{path.name} is no ICC profile.")
    return icc


def goal_of(plan: Plan, own: Colour) -> tuple[bytes, str]:
    """Return the profile that a plan's file carries, and its space.

    Raises
    ------
    BadRequest
        When an ICC file of one's own cannot be read.
    """
    colour = plan.file.colour
    if colour == "own":
        return own.icc, "GRAY" if own.grey else "RGB"
    if colour == "icc":
        profile = plan.docket.file.profile
        assert profile is not None
        return _bytes_of(Path(profile.path)), profile.space
    made = {"srgb": srgb, "wide": wide_rgb, "grey": plain_grey}[colour]()
    return made.icc, "GRAY" if made.grey else "RGB"


def converted(
    codes: np.ndarray, own: Colour, goal: tuple[bytes, str], intent: str, black_point: bool
) -> np.ndarray:
    """Convert codes (H, W, C) into another profile's, (H, W, K) uint16.

    Raises
    ------
    CannotDo
        When the profile cannot be used.
    """
    wide = codes.astype(np.uint16) * np.uint16(257) if codes.dtype == np.uint8 else codes
    flat = np.ascontiguousarray(wide if wide.shape[2] > 1 else wide[..., 0])
    flags = EXACT | (imagecodecs.CMS.FLAGS.BLACKPOINTCOMPENSATION if black_point else 0)
    icc, space = goal
    try:
        out = imagecodecs.cms_transform(
            flat, own.icc, icc, colorspace="gray" if own.grey else "rgb",
            outcolorspace=_SPACES[space], outdtype="uint16", intent=INTENTS[intent], flags=flags,
        )  # fmt: skip
    except (RuntimeError, ValueError, TypeError) as why:
        raise CannotDo("The colour profile could not be used; choose another.") from why
    return np.asarray(out).reshape(*codes.shape[:2], -1)


def file_bands(
    photo: Photo, plan: Plan, progress: Callable[[float], None] | None = None,
    cancel: Event | None = None,
) -> tuple[Iterator[np.ndarray], bytes]:  # fmt: skip
    """Return a plan's finished bands in the colours of its file, and the profile to embed."""
    if plan.file.colour == "own":
        return page_of(photo, plan).bands(progress, cancel), photo.colour.icc
    goal = goal_of(plan, photo.colour)
    return _converted_bands(photo, plan, goal, progress, cancel), goal[0]


def _converted_bands(
    photo: Photo, plan: Plan, goal: tuple[bytes, str],
    progress: Callable[[float], None] | None, cancel: Event | None,
) -> Iterator[np.ndarray]:  # fmt: skip
    line, top = plan.docket.file, 0
    for band in page_of(photo, plan, bits=16).bands(progress, cancel):
        out = converted(band, photo.colour, goal, line.intent, line.black_point)
        yield eight_bits(out, top) if plan.file.bits == 8 else out
        top += len(band)


def eight_bits(codes: np.ndarray, top: int) -> np.ndarray:
    """Round 16-bit codes to 8 bits, with half a step of dither that hangs on the place alone."""
    out = np.empty(codes.shape, np.uint8)
    _dithered(codes, top, out)
    return out


@njit(cache=True, nogil=True)
def _dithered(codes, top, out):  # type: ignore[no-untyped-def]
    for y in range(codes.shape[0]):
        for x in range(codes.shape[1]):
            for channel in range(codes.shape[2]):
                mixed = np.uint64(x * 73856093) ^ np.uint64((y + top) * 19349663)
                mixed ^= np.uint64(channel * 83492791 + 12345)
                mixed = (mixed * np.uint64(0x9E3779B97F4A7C15)) >> np.uint64(40)
                share = float(mixed) / 16777216.0
                value = codes[y, x, channel] / 257.0 + (share - 0.5) * 0.98 + 0.5
                out[y, x, channel] = np.uint8(min(max(value, 0.0), 255.0))


@lru_cache(maxsize=1)
def _lab() -> bytes:
    return bytes(imagecodecs.cms_profile("lab4"))


def _lab_of(codes: np.ndarray, icc: bytes, space: str, intent: int) -> np.ndarray:
    flat = np.ascontiguousarray(codes if codes.shape[2] > 1 else codes[..., 0])
    made = imagecodecs.cms_transform(
        flat, icc, _lab(), colorspace=_SPACES[space], outcolorspace="lab", outdtype="float32",
        intent=intent,
    )  # fmt: skip
    return np.asarray(made, np.float32)


def beyond(codes: np.ndarray, own: Colour, goal: tuple[bytes, str]) -> np.ndarray:
    """Return where colours cannot be held by a goal: (H, W) bool.

    They are converted there and back, relative colorimetric, and compared in CIELAB; what moves
    by more than 3 of ΔE*ab is beyond its gamut.
    """
    wide = codes.astype(np.uint16) * np.uint16(257) if codes.dtype == np.uint8 else codes
    there = converted(wide, own, goal, "relative", False)
    before = _lab_of(wide, own.icc, "GRAY" if own.grey else "RGB", 1)
    after = _lab_of(there, *goal, 1)
    return np.asarray(np.sqrt(((before - after) ** 2).sum(axis=2)) > _FAR)


def proofed(
    codes: np.ndarray, own: Colour, goal: tuple[bytes, str], intent: str, black_point: bool
) -> np.ndarray:
    """Return a picture as the goal will show it, in sRGB: (H, W, 3) uint8."""
    there = converted(codes, own, goal, intent, black_point)
    flat = np.ascontiguousarray(there if there.shape[2] > 1 else there[..., 0])
    shown = imagecodecs.cms_transform(
        flat, goal[0], srgb().icc, colorspace=_SPACES[goal[1]], outcolorspace="rgb",
        outdtype="uint8", intent=INTENTS["relative"],
    )  # fmt: skip
    return np.asarray(shown)
