"""New detail: the difference between AI and classical enlarging."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TypeVar

import numpy as np

from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.render import Renderer
from zinc_margin.pixels.tiles import LUMA
from zinc_margin.plan.model import PrintPlan

AnyPlan = TypeVar("AnyPlan", bound=PrintPlan)

SEEN_FROM = 4.0
"""Per cent of white by which a pixel must change to count as new detail."""

_BLOCK = 24  # px; about the height of small lettering
_FINE_CONTRAST = 25.0  # per cent of white; lettering and faces exceed it


@dataclass(frozen=True, eq=False)
class Invention:
    """The new detail of a region.

    Attributes
    ----------
    moved : ndarray (H, W), float32
        Absolute change of lightness, per cent of white.
    share : float
        Share of the region that changed by more than `SEEN_FROM`.
    fine : bool
        Whether much of that is in fine, contrasty structure, as in lettering and faces.
    """

    moved: np.ndarray
    share: float
    fine: bool


def classical(plan: AnyPlan) -> AnyPlan:
    """Return the same plan with a classical kernel instead of AI."""
    pixels = replace(plan.pixels, doublings=0, network=None, method="lanczos")
    return replace(plan, pixels=pixels)


def invention(
    photo: Photo, plan: PrintPlan, box: tuple[int, int, int, int], job: Job = IDLE
) -> Invention:
    """Compare a region of an AI enlargement with the classical one.

    Parameters
    ----------
    box : (int, int, int, int)
        Left, top, width and height in the file.
    """
    bare = replace(plan, sharpen=None)
    learned = lightness_of(Renderer(photo, bare).region(*box, job))
    plain = lightness_of(Renderer(photo, classical(bare)).region(*box, job))
    return compare(learned, plain)


def compare(learned: np.ndarray, plain: np.ndarray) -> Invention:
    """Compare two enlargements of one region, (H, W), in per cent of white.

    Parameters
    ----------
    learned, plain : ndarray
        (H, W), L*.
    """
    from scipy import ndimage

    moved = np.abs(learned - plain)
    high = ndimage.maximum_filter(plain, _BLOCK)
    low = ndimage.minimum_filter(plain, _BLOCK)
    busy = ndimage.uniform_filter(np.abs(ndimage.laplace(plain)), _BLOCK)
    mean = ndimage.uniform_filter(moved, _BLOCK)
    fine = (high - low > _FINE_CONTRAST) & (mean > SEEN_FROM / 2) & (busy > 1.0)
    return Invention(
        moved.astype(np.float32), float((moved > SEEN_FROM).mean()), bool(fine.mean() > 0.02)
    )


def lightness_of(codes: Codes) -> np.ndarray:
    """Return the luma of samples (H, W, C), in per cent of white.

    Parameters
    ----------
    codes : ndarray
        (H, W, C), uint8 or uint16.
    """
    most = np.iinfo(codes.dtype).max
    weights = LUMA if codes.shape[2] == 3 else np.ones(1, np.float32)
    return np.asarray(codes.astype(np.float32) @ (weights * np.float32(100 / most)))


_UNBOUND = 1e6  # an overshoot limit without effect


def acting(
    photo: Photo, plan: PrintPlan, box: tuple[int, int, int, int], job: Job = IDLE
) -> tuple[np.ndarray, np.ndarray]:
    """Return how much sharpening changes each place, and how much more it would without limits.

    Parameters
    ----------
    box : (int, int, int, int)
        Left, top, width and height in the file.

    Returns
    -------
    acts, held : ndarray (H, W)
        Absolute values, per cent of white.
    """
    _, _, width, height = box
    if plan.sharpen is None:
        nothing = np.zeros((height, width), np.float32)
        return nothing, nothing
    free = replace(plan.sharpen, halo=_UNBOUND, noise=1e-6, shadows=0.0, highlights=0.0)
    bare, done, unbound = (
        lightness_of(
            Renderer(photo, replace(plan, sharpen=how, grain=None), bits=16).region(*box, job)
        )
        for how in (None, plan.sharpen, free)
    )
    acts = np.abs(done - bare)
    return acts, np.maximum(np.abs(unbound - bare) - acts, 0)
