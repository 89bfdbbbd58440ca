"""The Pixels line of a plan: the printed box, the pixel count and the method."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.pixels import PixelsLine
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.resolution import tag_for
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.plan.model import Machine
from zinc_margin.plan.parts import CropPart, Grain, Pixels, PixelsPart, Sides, SizePart
from zinc_margin.plan.photo.photo import PhotoPart
from zinc_margin.plan.pixels.boxes import Cut, keep, resample
from zinc_margin.plan.pixels.choice import choice_for, goal_ppi
from zinc_margin.plan.pixels.repair import coding_of, repair_for
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
) -> tuple[PixelsPart, PrintSize]:
    """Return the Pixels line's part of a plan, and the print's true size.

    Where no side or only one is requested, the size follows the pixels by up to half a pixel, and
    both resolution tags are equal.

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
    cut = keep(cropped, size) if choice == "keep" else resample(cropped, sized, goal, choice)
    _check(cut, sized)
    size = _true_size(cut, sized, goal)
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
        float(line.hardness),
        repair_for(
            line, facts, measured, cropped.turned, float(cut.scale) if choice == "enlarge" else 0.0
        ),
    )
    part = PixelsPart(
        pixels=pixels,
        crop=cut.crop,
        picture=cut.picture,
        goal_ppi=goal,
        effective_ppi=effective,
        true_ppi=float(effective) * (measured.true_share if measured else 1.0),
        trimmed_share=_trimmed_share(cut, cropped),
        trimmed_mm=_trim(cut, cropped, size),
        bands_mm=_bands(cut, size),
        coding=coding_of(measured, facts.jpeg_quality, pixels.repair.clean),
        grain=_grain(line, pixels.lower_ppi),
    )
    return part, size


_GRAIN_FULL = 5.0
"""Standard deviation, in L*, of grain at 100 %."""


def _grain(line: PixelsLine, ppi: float) -> Grain | None:
    """Return the grain to add to a file of this resolution, or None."""
    if not line.grain:
        return None
    return Grain(float(line.grain) / 100 * _GRAIN_FULL, float(line.grain_mm) / 25.4 * ppi)


def _true_size(cut: Cut, sized: SizePart, goal: Fraction) -> PrintSize:
    """Return the size with the sides that follow from the pixels."""
    size, (width, height) = sized.size, cut.size
    if sized.fixed == "both" or sized.overspill_mm:
        return size
    if sized.fixed == "none":
        for ppi in (sized.target_ppi, goal):
            sides = width / ppi * MM_PER_INCH, height / ppi * MM_PER_INCH
            moved = max(abs(sides[0] - size.width_mm), abs(sides[1] - size.height_mm))
            if moved * ppi <= MM_PER_INCH:  # a pixel
                return replace(size, width_mm=sides[0], height_mm=sides[1])
    if sized.fixed == "height":
        return replace(size, width_mm=size.height_mm * width / height)
    return replace(size, height_mm=size.width_mm * height / width)


def _check(cut: Cut, sized: SizePart) -> None:
    width, height = cut.size
    if max(cut.size) > MOST_PIXELS or width * height > _MOST_IN_ALL:
        raise BadRequest(f"No file can hold {width} × {height} px. Choose a lower resolution.")


def _per_px(cut: Cut, size: PrintSize) -> tuple[Fraction, Fraction]:
    return size.width_mm / cut.size[0], size.height_mm / cut.size[1]


def _trimmed_share(cut: Cut, cropped: CropPart) -> float:
    total = float(cropped.turned.width * cropped.turned.height)
    return max(0.0, 1 - float(cut.crop.width * cut.crop.height) / total)


def _trim(cut: Cut, cropped: CropPart, size: PrintSize) -> Sides:
    box, crop = cropped.turned.box, cut.crop
    across, down = (mm * cut.scale for mm in _per_px(cut, size))
    return Sides(
        crop.left * across,
        crop.top * down,
        (box[0] - crop.left - crop.width) * across,
        (box[1] - crop.top - crop.height) * down,
    )


def _bands(cut: Cut, size: PrintSize) -> Sides:
    across, down = _per_px(cut, size)
    left, top, width, height = cut.picture
    return Sides(
        left * across,
        top * down,
        (cut.size[0] - left - width) * across,
        (cut.size[1] - top - height) * down,
    )
