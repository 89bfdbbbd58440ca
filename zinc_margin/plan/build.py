"""``plan(facts, docket) -> Plan``: pure, instant, and the only source of numbers."""

from __future__ import annotations

from dataclasses import replace

from zinc_margin.docket.docket import Docket
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.resolution import tag_for
from zinc_margin.plan.crop.border import border_of
from zinc_margin.plan.crop.frame import _whole_frame, frame_for, place_for, turned_picture
from zinc_margin.plan.file.bytes import file_parts
from zinc_margin.plan.finish.pieces import pieces_of
from zinc_margin.plan.finish.sheet import sheet_for
from zinc_margin.plan.model import Pixels, Plan, Sides
from zinc_margin.plan.photo.findings import measured_in
from zinc_margin.plan.pixels.boxes import MOST_PIXELS, _kept, _resampled
from zinc_margin.plan.pixels.choice import _choice, resample_ppi
from zinc_margin.plan.pixels.methods import LEARNED, doublings_for, method_for, share_for
from zinc_margin.plan.pixels.repair import mending_of
from zinc_margin.plan.sharpen.amount import sharpening
from zinc_margin.plan.sharpen.grain import grain
from zinc_margin.plan.size.distance import needed_ppi, sharp_from, usual_distance
from zinc_margin.plan.size.grade import grade_for
from zinc_margin.plan.size.mat import mat_parts
from zinc_margin.plan.size.printed import print_size
from zinc_margin.plan.size.target import floor_of, target_of
from zinc_margin.plan.size.unseen import unseen
from zinc_margin.plan.text.notes import notes_for


def plan(facts: Facts, docket: Docket) -> Plan:
    """Work out every number of a print.

    Parameters
    ----------
    facts : Facts
        Their measured part may be absent; sharpening then takes the photo for clean.
    docket : Docket

    Raises
    ------
    BadRequest
        When the docket asks for what cannot be: a frame outside the picture, pixels beyond count.
    """
    turned = turned_picture(facts, docket)
    own = docket.crop.frame
    if own is not None and not turned.holds(own):
        box = turned.box
        raise BadRequest(
            f"The crop frame reaches outside the picture, which is {float(box[0]):.6g} × "
            f"{float(box[1]):.6g} px as it is turned."
        )
    size = print_size(facts, docket)
    ratio = size.width_mm / size.height_mm
    whole = docket.crop.fit != "trim"
    border = border_of(docket, size)
    target, floor = target_of(docket.size), floor_of(docket.size)
    distance = float(docket.size.distance_mm or 0) or usual_distance(size)
    needed = needed_ppi(distance)

    if whole:
        frame = _whole_frame(turned)
        room = size.width_mm - 2 * border, size.height_mm - 2 * border
        effective = max(frame.width / room[0], frame.height / room[1]) * MM_PER_INCH
    else:
        frame = frame_for(facts, turned, docket, ratio)
        effective = min(frame.width / size.width_mm, frame.height / size.height_mm) * MM_PER_INCH

    # judged by its exact shape: whole pixels may miss it by half of one, which nobody sees
    judged = float(effective)
    goal_ppi = resample_ppi(docket, size, effective)
    choice = _choice(docket, effective, goal_ppi, needed)
    if choice == "keep":
        made = _kept(turned, frame, size, whole, border)
    else:
        place = place_for(facts, docket, turned)
        made = _resampled(turned, frame, size, whole, border, goal_ppi, choice, docket, place)
    crop, picture, file_size, scale, choice = made
    if max(file_size) > MOST_PIXELS or file_size[0] * file_size[1] > 2**36:
        raise BadRequest(
            f"{size.label} at {float(target):g} ppi is {file_size[0]} × {file_size[1]} px, more "
            "than any file can hold; ask for fewer ppi."
        )
    if not whole:
        effective = min(crop.width / size.width_mm, crop.height / size.height_mm) * MM_PER_INCH
    measured = measured_in(facts, docket)
    method = None if choice == "keep" else method_for(docket, choice, scale, measured)
    learned = method in LEARNED
    pixels = Pixels(
        choice, method, *file_size,
        tag_for(file_size[0], size.width_mm), tag_for(file_size[1], size.height_mm), scale,
        doublings_for(scale) if learned else 0,
        ("photo" if docket.pixels.kind == "photo" else "lettering") if learned else None,
        share_for(docket, measured),
        mending_of(docket, facts, measured, turned, choice == "enlarge"),
    )  # fmt: skip
    box = turned.box
    per_px = size.width_mm / file_size[0], size.height_mm / file_size[1]
    on_print = per_px[0] * scale, per_px[1] * scale
    total = float(turned.width * turned.height)
    result = Plan(
        docket=docket,
        size=size,
        turned=turned,
        frame=frame,
        crop=crop,
        trimmed_share=max(0.0, 1 - float(crop.width * crop.height) / total),
        trimmed_mm=Sides(
            crop.left * on_print[0],
            crop.top * on_print[1],
            (box[0] - crop.left - crop.width) * on_print[0],
            (box[1] - crop.top - crop.height) * on_print[1],
        ),
        bands_mm=Sides(
            picture[0] * per_px[0],
            picture[1] * per_px[1],
            (file_size[0] - picture[0] - picture[2]) * per_px[0],
            (file_size[1] - picture[1] - picture[3]) * per_px[1],
        ),
        picture=picture,
        pixels=pixels,
        target_ppi=target,
        floor_ppi=floor,
        needed_ppi=needed,
        effective_ppi=effective,
        true_ppi=float(effective),
        grade=grade_for(judged, float(target), float(floor), needed),
        sharp_from_mm=sharp_from(float(effective)),
        distance_mm=distance,
        sharpen=None,
        file=file_parts(facts, docket, file_size),
    )
    result = replace(
        result,
        true_ppi=float(effective) * (measured.true_share if measured else 1.0),
        provisional=measured is None,
        said=facts.said,
        unseen_mm=unseen(docket, size),
        mat=mat_parts(docket, size),
    )
    if docket.sharpen.on:
        result = replace(result, sharpen=sharpening(facts, docket, result))
    result = replace(result, grain=grain(docket, result), sheet=sheet_for(facts, result, goal_ppi))
    result = replace(result, pieces=pieces_of(docket, result.whole, facts.path.stem))
    if result.sheet is not None or result.pieces is not None:
        result = replace(result, file=file_parts(facts, docket, _file_pixels(result)))
    return replace(result, notes=notes_for(facts, result))


def _file_pixels(plan: Plan) -> tuple[int, int]:
    """Return the pixels that are written in all, as one box."""
    if plan.pieces is None:
        return plan.whole.width, plan.whole.height
    total = sum(piece.leaf.width * piece.leaf.height for piece in plan.pieces.each)
    return plan.whole.width, -(-total // plan.whole.width)
