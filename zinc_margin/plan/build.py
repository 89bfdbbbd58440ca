"""``plan(facts, docket, machine) -> Plan``: pure, instant, and the only source of numbers.

It goes down the lines once. Each room gets the docket's own line and what the lines before it
made, and gives its part, finished; what the job itself ties both ways is one step, `ties`.
"""

from __future__ import annotations

from dataclasses import replace

from zinc_margin.docket.docket import Docket
from zinc_margin.facts.facts import Facts
from zinc_margin.plan.crop.crop import CropPart, crop_part
from zinc_margin.plan.crop.crop_notes import crop_notes
from zinc_margin.plan.file.file import file_part
from zinc_margin.plan.file.file_notes import file_notes
from zinc_margin.plan.finish.finish import finish_part
from zinc_margin.plan.finish.finish_notes import finish_notes
from zinc_margin.plan.finish.told_edges import as_told
from zinc_margin.plan.model import Machine, Plan
from zinc_margin.plan.photo.photo import photo_part
from zinc_margin.plan.photo.photo_notes import photo_notes
from zinc_margin.plan.pixels.pixels import PixelsPart, pixels_part
from zinc_margin.plan.pixels.pixels_notes import pixels_notes
from zinc_margin.plan.sharpen.sharpen import sharpen_part
from zinc_margin.plan.sharpen.sharpen_notes import sharpen_notes
from zinc_margin.plan.size.destination import settled
from zinc_margin.plan.size.distance import sharp_from
from zinc_margin.plan.size.grade import grade_for, grade_on_screen
from zinc_margin.plan.size.size import SizePart, size_part
from zinc_margin.plan.size.size_notes import size_notes
from zinc_margin.plan.size.ties import ties

_NOTES = (
    photo_notes,
    size_notes,
    crop_notes,
    pixels_notes,
    sharpen_notes,
    finish_notes,
    file_notes,
)

ABLE = Machine()
"""A machine that can do all that is planned for."""


def plan(facts: Facts, docket: Docket, machine: Machine = ABLE) -> Plan:
    """Work out every number of a print.

    Parameters
    ----------
    facts : Facts
        Their measured part may be absent; sharpening then takes the photo for clean.
    machine : Machine
        What this machine can do.

    Raises
    ------
    BadRequest
        When the docket asks for what cannot be: a frame outside the picture, pixels beyond count.
    """
    whole = settled(facts, docket)
    photo = photo_part(facts, whole.photo)
    tied = ties(facts, whole)
    sized = size_part(whole.size, tied)
    cropped = crop_part(whole.crop, tied, sized, facts.subject)
    resampled = pixels_part(whole.pixels, facts, photo, sized, cropped, machine)
    picture = resampled.pixels.width, resampled.pixels.height
    maker = as_told(whole.finish, sized.maker, machine, sized.size, picture)
    sized = replace(sized, maker=maker)
    sharpen, grain = sharpen_part(whole.sharpen, photo, sized, resampled)
    sheet, pieces = finish_part(whole.finish, facts, sized, resampled, tied.watermark)
    file = file_part(whole.file, facts, photo, resampled, sharpen, sheet, pieces)
    judged = _judged(cropped, resampled)
    result = Plan(
        facts=facts,
        docket=docket,
        settled=whole,
        machine=machine,
        matte=photo.matte,
        measured=photo.measured,
        maker=sized.maker,
        overspill_mm=sized.overspill_mm,
        size=sized.size,
        turned=cropped.turned,
        frame=cropped.frame,
        crop=resampled.crop,
        trimmed_share=resampled.trimmed_share,
        trimmed_mm=resampled.trimmed_mm,
        bands_mm=resampled.bands_mm,
        picture=resampled.picture,
        pixels=resampled.pixels,
        target_ppi=sized.target,
        floor_ppi=sized.floor,
        near_ppi=sized.near_ppi,
        far_ppi=sized.far_ppi,
        effective_ppi=resampled.effective_ppi,
        true_ppi=resampled.true_ppi,
        judged_ppi=judged,
        grade=_grade(judged, sized),
        sharp_from_mm=sharp_from(float(resampled.effective_ppi)),
        near_mm=sized.near_mm,
        far_mm=sized.far_mm,
        sharpen=sharpen,
        grain=grain,
        file=file,
        unseen_mm=sized.unseen_mm,
        mat=sized.mat,
        sheet=sheet,
        pieces=pieces,
    )
    # notes look at the finished print
    return replace(result, notes=tuple(note for room in _NOTES for note in room(result)))


def _judged(cropped: CropPart, resampled: PixelsPart) -> float:
    """Return the ppi that a print is judged by: the photo's own, or the file's where it has fewer.

    By the exact shape: whole pixels may miss it by half of one, which nobody sees.
    """
    own = float(cropped.effective_ppi)
    return min(own, float(resampled.goal_ppi)) if resampled.pixels.choice == "reduce" else own


def _grade(judged: float, sized: SizePart) -> str:
    if sized.maker.for_screen:
        return grade_on_screen(judged / float(sized.target))
    return grade_for(judged, float(sized.target), float(sized.floor), sized.far_ppi)
