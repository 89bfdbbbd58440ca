"""``plan(facts, docket, machine) -> Plan``: pure, instant, and the only source of numbers.

It goes through the lines once. Each line gets its docket line and the parts of the lines before it,
and returns its finished part. `ties` handles the few dependencies that go the other way.
"""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.document import to_json
from zinc_margin.docket.version_names import settings_name
from zinc_margin.facts.facts import Facts
from zinc_margin.plan.crop.crop import crop_part
from zinc_margin.plan.crop.crop_notes import crop_notes
from zinc_margin.plan.file.byte_limit import fit_to_limit
from zinc_margin.plan.file.file import docket_with_fewer_pixels, file_part
from zinc_margin.plan.file.file_notes import file_notes
from zinc_margin.plan.finish.finish import finish_part
from zinc_margin.plan.finish.finish_notes import finish_notes
from zinc_margin.plan.finish.preview import small_docket
from zinc_margin.plan.finish.unprintable import printer_edges
from zinc_margin.plan.model import Machine, Note, Plan, Record
from zinc_margin.plan.parts import CropPart, PixelsPart, SizePart
from zinc_margin.plan.photo.photo import photo_part
from zinc_margin.plan.photo.photo_notes import photo_notes
from zinc_margin.plan.pixels.pixels import pixels_part
from zinc_margin.plan.pixels.pixels_notes import pixels_notes
from zinc_margin.plan.sharpen.sharpen import sharpen_part
from zinc_margin.plan.sharpen.sharpen_notes import sharpen_notes
from zinc_margin.plan.size.dependencies import ties
from zinc_margin.plan.size.destination import settle
from zinc_margin.plan.size.distance import sharp_from
from zinc_margin.plan.size.grade import grade_for, grade_on_screen
from zinc_margin.plan.size.size import size_part
from zinc_margin.plan.size.size_notes import size_notes

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
"""A machine without limitations."""


def plan(facts: Facts, docket: Docket, machine: Machine = ABLE) -> Plan:
    """Return every number of a print, within its byte limit.

    Parameters
    ----------
    facts : Facts
        Facts; without measurements, sharpening assumes a clean photo.
    machine : Machine
        What this machine can do.

    Raises
    ------
    BadRequest
        If the docket is impossible: a frame outside the picture, too many pixels.
    """
    free = _without_limit(facts, docket, machine)
    fitted = fit_to_limit(free)
    return free if fitted is free else _with_notes(fitted)


def _without_limit(facts: Facts, docket: Docket, machine: Machine) -> Plan:
    """Return every number of a print, as if its file had no limit."""
    whole = settle(facts, docket)
    photo = photo_part(facts, whole.photo)
    tied = ties(facts, whole)
    sized = size_part(whole.size, tied)
    cropped = crop_part(whole.crop, tied, sized, facts.subject)
    resampled, true_size = pixels_part(whole.pixels, facts, photo, sized, cropped, machine)
    sized = replace(sized, size=true_size)
    picture = resampled.pixels.width, resampled.pixels.height
    maker = printer_edges(whole.finish, sized.maker, machine, sized.size, picture)
    sized = replace(sized, maker=maker)
    sharpen = sharpen_part(whole.sharpen, photo, sized, resampled)
    sheet, pieces = finish_part(whole.finish, facts, sized, resampled, tied.watermark)
    file = file_part(whole.file, facts, photo, resampled, sharpen, sheet, pieces)
    judged = _graded_ppi(cropped, resampled)
    result = Plan(
        # Parts are computed line by line; each name occurs in one part only.
        **vars(sized) | vars(cropped) | vars(resampled) | vars(photo),
        facts=facts,
        docket=docket,
        settled=whole,
        machine=machine,
        judged_ppi=judged,
        grade=_grade(judged, sized),
        sharp_from_mm=sharp_from(float(resampled.effective_ppi)),
        sharpen=sharpen,
        file=file,
        sheet=sheet,
        pieces=pieces,
        record=_record(docket, whole),
        build=plan,
        annotate=_notes,
        small=_refuse_early,
        fewer_pixels=_refuse_early,
    )
    return _complete(result)


def _complete(made: Plan) -> Plan:
    """Add what needs a finished print: its notes, and ways to plan it again."""
    return _with_notes(
        replace(made, small=partial(_small, made), fewer_pixels=partial(_fewer_pixels, made))
    )


def _with_notes(made: Plan) -> Plan:
    return replace(made, notes=_notes(made))


def _notes(made: Plan) -> tuple[Note, ...]:
    return tuple(note for room in _NOTES for note in room(made))


def _record(docket: Docket, settled: Docket) -> Record:
    paper = settled.sharpen.paper or ""
    strength = float(docket.sharpen.strength)
    name = docket.version or settings_name(docket)
    is_typed = bool(docket.version)
    return Record(paper, strength, docket.renderer, name, is_typed, partial(to_json, docket))


def _refuse_early(size: float) -> Plan:
    raise RuntimeError("a plan can be replanned only once it is complete")


def _small(made: Plan, longest: int) -> Plan:
    return made.again(small_docket(made, longest))


def _fewer_pixels(made: Plan, times: float) -> Plan | None:
    """Return the same print, decided and graded as before, with other pixels."""
    if times == 1:
        return _complete(made)
    docket = docket_with_fewer_pixels(made, times)
    if docket is None:
        return None
    fewer = _without_limit(made.facts, docket, made.machine)
    judged = min(made.judged_ppi, float(fewer.goal_ppi))
    return replace(
        fewer,
        docket=made.docket,
        settled=made.settled,
        record=made.record,
        target_ppi=made.target_ppi,
        judged_ppi=judged,
        grade=_grade(judged, made),
        sharp_from_mm=sharp_from(min(float(made.effective_ppi), float(fewer.goal_ppi))),
        small=partial(_small, made),
        fewer_pixels=partial(_fewer_pixels, made),
    )


def _graded_ppi(cropped: CropPart, resampled: PixelsPart) -> float:
    """Return the ppi that decides the grade: the photo's, or the file's if that is lower.

    Use the exact shape: rounding to whole pixels may change it by half a pixel, which is invisible.
    """
    own = float(cropped.exact_ppi)
    return min(own, float(resampled.goal_ppi)) if resampled.pixels.choice == "reduce" else own


def _grade(judged: float, sized: SizePart) -> str:
    if sized.maker.for_screen:
        return grade_on_screen(judged / float(sized.target_ppi))
    return grade_for(judged, float(sized.target_ppi), float(sized.floor_ppi), sized.far_ppi)
