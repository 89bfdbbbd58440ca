"""The Pixels line of a plan: the printed box, the pixel count and the method."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.docket.pixels import PixelsLine
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.resolution import tag_for
from zinc_margin.plan.model import Machine
from zinc_margin.plan.parts import CropPart, Pixels, PixelsPart, Sides, SizePart
from zinc_margin.plan.photo.photo import PhotoPart
from zinc_margin.plan.pixels.boxes import Cut, keep, resample
from zinc_margin.plan.pixels.choice import choice_for, goal_ppi
from zinc_margin.plan.pixels.repair import repair_for
from zinc_margin.plan.pixels.resampling import LEARNED, doublings_for, method_for, share_for

MOST_PIXELS = 2**31
"""Limit for either side and for all pixels, set by the counters of the open formats."""
_MOST_IN_ALL = 2**36  # pixels; far above any useful print


def pixels_part(
    line: PixelsLine,
    facts: Facts,
    photo: PhotoPart,
    sized: SizePart,
    cropped: CropPart,
    machine: Machine,
) -> PixelsPart:
    """Return the Pixels line's part of a plan.

    Parameters
    ----------
    photo, sized, cropped : PhotoPart, SizePart, CropPart
        Parts of the previous lines.

    Raises
    ------
    BadRequest
        If no file can hold this many pixels.
    """
    size, effective, measured = sized.size, cropped.exact_ppi, photo.measured
    goal = goal_ppi(line, sized, effective)
    choice, goal = choice_for(line, sized, effective, goal)
    cut = keep(cropped, size) if choice == "keep" else resample(cropped, size, goal, choice)
    _check(cut, sized)
    if not cropped.is_whole:
        crop = cut.crop
        effective = min(crop.width / size.width_mm, crop.height / size.height_mm) * MM_PER_INCH
    choice = cut.choice
    method = None
    if choice != "keep":
        method = method_for(line, choice, cut.scale, measured, machine)
    learned = method in LEARNED
    pixels = Pixels(
        choice,
        method,
        *cut.size,
        tag_for(cut.size[0], size.width_mm),
        tag_for(cut.size[1], size.height_mm),
        cut.scale,
        doublings_for(cut.scale) if learned else 0,
        ("photo" if line.kind == "photo" else "lettering") if learned else None,
        share_for(line, measured),
        float(line.crisp),
        repair_for(
            line, facts, measured, cropped.turned, float(cut.scale) if choice == "enlarge" else 0.0
        ),
    )
    return PixelsPart(
        pixels=pixels,
        crop=cut.crop,
        picture=cut.picture,
        goal_ppi=goal,
        effective_ppi=effective,
        true_ppi=float(effective) * (measured.true_share if measured else 1.0),
        trimmed_share=_trimmed_share(cut, cropped),
        trimmed_mm=_trim(cut, cropped, sized),
        bands_mm=_bands(cut, sized),
    )


def _check(cut: Cut, sized: SizePart) -> None:
    width, height = cut.size
    if max(cut.size) > MOST_PIXELS or width * height > _MOST_IN_ALL:
        raise BadRequest(f"No file can hold {width} × {height} px. Choose a lower resolution.")


def _per_px(cut: Cut, sized: SizePart) -> tuple[Fraction, Fraction]:
    return sized.size.width_mm / cut.size[0], sized.size.height_mm / cut.size[1]


def _trimmed_share(cut: Cut, cropped: CropPart) -> float:
    total = float(cropped.turned.width * cropped.turned.height)
    return max(0.0, 1 - float(cut.crop.width * cut.crop.height) / total)


def _trim(cut: Cut, cropped: CropPart, sized: SizePart) -> Sides:
    box, crop = cropped.turned.box, cut.crop
    across, down = (mm * cut.scale for mm in _per_px(cut, sized))
    return Sides(
        crop.left * across,
        crop.top * down,
        (box[0] - crop.left - crop.width) * across,
        (box[1] - crop.top - crop.height) * down,
    )


def _bands(cut: Cut, sized: SizePart) -> Sides:
    across, down = _per_px(cut, sized)
    left, top, width, height = cut.picture
    return Sides(
        left * across,
        top * down,
        (cut.size[0] - left - width) * across,
        (cut.size[1] - top - height) * down,
    )
