"""Contact prints: small pictures of planned prints, for reports."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image, ImageDraw

from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.display import Screen
from zinc_margin.pixels.sheets import page_of
from zinc_margin.plan.crop.places import on_print
from zinc_margin.plan.model import PrintPlan

_SIDE = 220
_RING = 7
"""Radius of the ring around the subject point, in pixels."""


def contact_print(photo: Photo, plan: PrintPlan) -> bytes:
    """Return a small sRGB JPEG of a planned print (or its sheet)."""
    page = page_of(photo, plan.small(_SIDE))
    height, width, _ = page.shape
    codes = page.region(0, 0, width, height)
    shown = Screen(photo.colour, codes.dtype).show(codes)
    picture = Image.fromarray(np.ascontiguousarray(shown[..., 2::-1]))
    _mark_subject(picture, plan)
    held = io.BytesIO()
    picture.save(held, "JPEG", quality=82)
    return held.getvalue()


def _mark_subject(picture: Image.Image, plan: PrintPlan) -> None:
    """Draw a small ring at the subject's place on the print."""
    if plan.facts.subject is None:
        return
    x, y = plan.facts.subject
    place = on_print(plan, float(x * plan.facts.width), float(y * plan.facts.height))
    if place is None:
        return
    sheet, page = plan.sheet, plan.page
    left, top = (sheet.left, sheet.top) if sheet is not None else (0, 0)
    at = (
        (left + place[0] * plan.pixels.width) / page.width * picture.width,
        (top + place[1] * plan.pixels.height) / page.height * picture.height,
    )
    draw = ImageDraw.Draw(picture)
    for radius, tone in ((_RING + 1, "white"), (_RING, "#8E3B2E")):
        draw.ellipse((at[0] - radius, at[1] - radius, at[0] + radius, at[1] + radius), outline=tone)
