"""Contact prints: small pictures of what a plan makes, for reports."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image

from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.display import Screen
from zinc_margin.pixels.sheets import page_of
from zinc_margin.plan.finish.small import small_plan
from zinc_margin.plan.model import Plan

_SIDE = 220


def contact_print(photo: Photo, plan: Plan) -> bytes:
    """Return a small sRGB JPEG of the print (or the sheet) that a plan makes.

    Parameters
    ----------
    photo : Photo
    plan : Plan
    """
    page = page_of(photo, small_plan(plan, _SIDE))
    height, width, _ = page.shape
    codes = page.region(0, 0, width, height)
    shown = Screen(photo.colour, codes.dtype).show(codes)
    held = io.BytesIO()
    Image.fromarray(np.ascontiguousarray(shown[..., 2::-1])).save(held, "JPEG", quality=82)
    return held.getvalue()
