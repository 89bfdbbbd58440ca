"""Where sharpening acts on a print, and where it is held back."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.invention import lightness_of
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.model import PrintPlan

_UNBOUND = 1e6


def acting(
    photo: Photo, plan: PrintPlan, box: tuple[int, int, int, int], job: Job = IDLE
) -> tuple[np.ndarray, np.ndarray]:
    """Return by how much sharpening moves each place, and how much more it would without restraint.

    Parameters
    ----------
    box : (int, int, int, int)
        Left, top, width and height in the file.

    Returns
    -------
    acts, held : ndarray (H, W)
        Per cent of white, without sign.
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
