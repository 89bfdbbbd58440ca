"""Convert finished bands to another colour space with Little CMS, in 16 bits."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import numpy as np

from zinc_margin.docket.file import GoalProfile
from zinc_margin.gate.files import read_bytes
from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.measure.errors import BadRequest
from zinc_margin.photo import icc as profiles
from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.colour import (
    ABSOLUTE,
    PERCEPTUAL,
    RELATIVE,
    SATURATION,
    Colour,
    Profiled,
    lab_of,
    plain_grey,
    srgb,
    transform,
    wide_rgb,
)
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.sheets import page_of
from zinc_margin.plan.model import PrintPlan
from zinc_margin.plan.parts import FileParts

INTENTS = {
    "perceptual": PERCEPTUAL,
    "relative": RELATIVE,
    "saturation": SATURATION,
    "absolute": ABSOLUTE,
}
_WRITTEN = ("RGB", "GRAY", "CMYK")
_LARGEST_PROFILE = 30_000_000
_FAR = 3.0
"""A colour that changes by more than this, in ΔE*ab (1976), is out of gamut."""


def read_profile(path: str | Path) -> GoalProfile:
    """Read an ICC file's name and colour space.

    Raises
    ------
    BadRequest
        If it is not an RGB, grey or CMYK profile.
    """
    path = Path(path).absolute()
    icc = _bytes_of(path)
    space = icc[16:20].decode("ascii", "replace").strip()
    if space not in _WRITTEN or icc[12:16] == b"link":
        raise BadRequest(f"{path.name} is not an RGB, grey or CMYK profile ({space or 'none'}).")
    return GoalProfile(str(path), profiles.name_of(icc) or path.stem, space)


def _bytes_of(path: Path) -> bytes:
    icc = read_bytes(path, "colour profile", _LARGEST_PROFILE)
    if len(icc) < 132 or icc[36:40] != b"acsp":
        raise BadRequest(f"{path.name} is not an ICC profile.")
    return icc


def goal_of(plan: PrintPlan, own: Colour) -> Profiled:
    """Return the profile of a plan's file, and its colour space.

    Parameters
    ----------
    own : Colour
        The photo's colour space.

    Raises
    ------
    BadRequest
        If the user's ICC file is unreadable.
    """
    colour = plan.file.colour
    if colour == "own":
        return own.profiled
    if colour == "icc":
        profile = plan.file.profile
        assert profile is not None
        return _bytes_of(Path(profile.path)), profile.space
    return {"srgb": srgb, "wide": wide_rgb, "grey": plain_grey}[colour]().profiled


def file_bands(photo: Photo, plan: PrintPlan, job: Job = IDLE) -> tuple[Iterator[Codes], bytes]:
    """Return a plan's finished bands in the file's colours, and the profile to embed."""
    own = plan.file.colour == "own"
    bands = page_of(photo, plan, bits=None if own else 16).bands(job)
    if own:
        return bands, photo.colour.icc
    goal = goal_of(plan, photo.colour)
    return _convert(bands, photo.colour.profiled, goal, plan.file), goal[0]


def _convert(
    bands: Iterator[Codes], own: Profiled, goal: Profiled, file: FileParts
) -> Iterator[Codes]:
    top = 0
    for band in bands:
        out = transform(band, own, goal, INTENTS[file.intent], file.black_point)
        yield eight_bits(out, top) if file.bits == 8 else out
        top += len(band)


def eight_bits(codes: Codes, top: int) -> np.ndarray:
    """Round 16-bit samples to 8 bits, with half a step of dither that depends on position alone.

    Parameters
    ----------
    codes : ndarray
        (H, W, C), uint8 or uint16.
    """
    from zinc_margin.pixels.coding import pack

    out = np.empty(codes.shape, np.uint8)
    planes = np.ascontiguousarray(np.moveaxis(codes, 2, 0), np.float32) / np.float32(65535)
    untabled = np.empty((codes.shape[2], 0, 2), np.float32)
    pack(planes, 0, untabled, 0, top, 255, out)
    return out


def out_of_gamut(codes: Codes, own: Colour, goal: Profiled) -> np.ndarray:
    """Return where colours are out of gamut: (H, W) bool.

    Colours are converted there and back, relative colorimetric, and compared in CIELAB; a change of
    more than 3 ΔE*ab is out of gamut.

    Parameters
    ----------
    codes : ndarray
        (H, W, C), uint8 or uint16.
    own : Colour
        The photo's colour space.
    """
    there = transform(codes, own.profiled, goal)
    apart = lab_of(codes, own.profiled) - lab_of(there, goal)
    return np.asarray(np.sqrt((apart**2).sum(axis=2)) > _FAR)


def soft_proof(
    codes: Codes, own: Colour, goal: Profiled, intent: str, black_point: bool
) -> np.ndarray:
    """Return a picture's appearance in the target colour space, in sRGB: (H, W, 3) uint8.

    Parameters
    ----------
    codes : ndarray
        (H, W, C), uint8 or uint16.
    own : Colour
        The photo's colour space.
    intent : str
        ``relative``, ``perceptual``, ``saturation`` or ``absolute``.
    black_point : bool
        Whether to use black point compensation.
    """
    there = transform(codes, own.profiled, goal, INTENTS[intent], black_point)
    return transform(there, goal, srgb().profiled, depth="uint8")
