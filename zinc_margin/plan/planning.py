"""``plan(facts, docket) -> Plan``: pure, instant, and the only source of numbers."""

from __future__ import annotations

import math
from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.crop import Frame
from zinc_margin.docket.docket import Docket
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.resolution import HIGHEST_PPI, LOWEST_PPI, round_half_up, tag_for
from zinc_margin.measure.sizes import PrintSize, catalogue
from zinc_margin.measure.ways import IN_PIXELS
from zinc_margin.measure.words import pair
from zinc_margin.plan.amounts import file_parts, grain, sharpening
from zinc_margin.plan.geometry import Turned, whole_pixels, whole_scale
from zinc_margin.plan.mending import mending_of
from zinc_margin.plan.methods import LEARNED, doublings_for, method_for, share_for
from zinc_margin.plan.model import Pixels, Plan, Sides
from zinc_margin.plan.notes import notes_for
from zinc_margin.plan.pieces import pieces_of
from zinc_margin.plan.reach import (
    default_choice,
    floor_of,
    grade_for,
    lies_upright,
    maker_of,
    needed_ppi,
    reach,
    sharp_from,
    target_of,
    usual_distance,
)
from zinc_margin.plan.sheets import room_for, sheet_for
from zinc_margin.plan.surround import border_of, mat_parts, unseen
from zinc_margin.plan.tells import measured_in
from zinc_margin.plan.wishes import wished

MOST_PIXELS = 2**31
"""Pixels along neither side nor in all may pass what the open formats can count."""


def turned_picture(facts: Facts, docket: Docket) -> Turned:
    """Return the upright picture, mirrored and turned as the docket says."""
    return Turned(facts.width, facts.height, docket.crop.turn, docket.crop.mirror)


def place_for(facts: Facts, docket: Docket, turned: Turned) -> tuple[Fraction, Fraction]:
    """Return where the largest frame sits in its free room.

    With a point of interest it sits so that the point keeps its relative place: its share of the
    frame is its share of the picture.
    """
    half = Fraction(1, 2)
    x, y = (half, half) if facts.interest is None else turned.set_share(facts.interest)
    line = docket.crop
    return (
        x if line.place_x is None else line.place_x,
        y if line.place_y is None else line.place_y,
    )


def frame_for(facts: Facts, turned: Turned, docket: Docket, ratio: Fraction) -> Frame:
    """Return the frame of a shape: the docket's own where it has that shape, else the largest.

    A frame of the user's own is kept whole by area's sake: its width governs, its centre stays.
    """
    own = docket.crop.frame
    if own is None:
        width, height = turned.largest(ratio)
        return turned.placed(width, height, *place_for(facts, docket, turned))
    if own.width / own.height >= ratio:
        width, height = own.height * ratio, own.height
    else:
        width, height = own.width, own.width / ratio
    centred = Frame(
        own.left + (own.width - width) / 2, own.top + (own.height - height) / 2, width, height
    )
    return turned.brought_inside(centred)


def print_size(facts: Facts, docket: Docket) -> PrintSize:
    """Return the print's size, lying as it will be printed."""
    turned = turned_picture(facts, docket)
    own = docket.crop.frame
    shape = (turned.set_width, turned.set_height)
    if own is not None and docket.crop.fit == "trim":
        shape = int(own.width * 1000), int(own.height * 1000)
    room = room_for(docket, *shape)
    if room is not None:
        return room
    if docket.size.way is not None:
        shown = (own.width, own.height) if own is not None else turned.largest_whole
        ppi = target_of(docket.size)
        size = wished(docket.size.way, *shown, ppi, docket.size.lie != "as-given")
        return size.swapped() if docket.size.lie == "across" else size
    if docket.size.size is None and own is not None and docket.crop.fit == "trim":
        # no size is asked for, so the frame is: it gives the print its shape and its size
        ppi = target_of(docket.size)
        sides = (own.width / ppi * MM_PER_INCH, own.height / ppi * MM_PER_INCH)
        return PrintSize(pair(*sides, "cm"), *sides)
    asked = docket.size.size or suggested_size(facts, docket)
    return lies_upright(*shape, asked, docket.size.lie)


def suggested_size(facts: Facts, docket: Docket) -> PrintSize:
    """Return the largest size of the catalogue that the photo fills at the target, little trimmed.

    Where none does, its reach at the target is taken, to the millimetre below.
    """
    turned = turned_picture(facts, docket)
    width, height = turned.set_width, turned.set_height
    target = target_of(docket.size)
    most_w, most_h = reach(width, height, target)
    best: PrintSize | None = None
    for size in catalogue():
        lying = size.lying(height > width)
        ratio = lying.width_mm / lying.height_mm * height / width
        trimmed = 1 - min(ratio, 1 / ratio)
        fills = lying.width_mm <= most_w and lying.height_mm <= most_h
        if trimmed <= Fraction(1, 50) and fills and (best is None or area(lying) > area(best)):
            best = lying
    if best is not None:
        return best
    width_mm, height_mm = (
        max(Fraction(1), Fraction(side.__floor__())) for side in (most_w, most_h)
    )
    label = f"{float(width_mm) / 10:g} × {float(height_mm) / 10:g} cm"
    return PrintSize(label, width_mm, height_mm)


def area(size: PrintSize) -> Fraction:
    """Return a size's area in square mm."""
    return size.width_mm * size.height_mm


def pixels_for(size: PrintSize, ppi: Fraction) -> tuple[int, int]:
    """Return the pixels of a print at a resolution, each side rounded half up, at least 1."""
    return (
        max(1, round_half_up(size.width_mm / MM_PER_INCH * ppi)),
        max(1, round_half_up(size.height_mm / MM_PER_INCH * ppi)),
    )


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


def _whole_frame(turned: Turned) -> Frame:
    """Return the frame that shows all of the picture (or, turned, all without empty corners)."""
    width, height = turned.largest_whole
    return turned.placed(width, height, Fraction(1, 2), Fraction(1, 2))


LEAST_FACTOR, MOST_FACTOR = Fraction(1, 100), 32


def resample_ppi(docket: Docket, size: PrintSize, effective: Fraction) -> Fraction:
    """Return the resolution of a resampled file: what is asked, or what its own target comes to.

    Raises
    ------
    BadRequest
        When the target is a factor under 0.01 or over 32, or comes to no ppi from 1 to 10000.
    """
    target = docket.pixels.target
    if target is None:
        return target_of(docket.size)
    (value,) = target.values
    wide, high = size.width_mm / MM_PER_INCH, size.height_mm / MM_PER_INCH
    if target.kind == "scale":
        if not LEAST_FACTOR <= value <= MOST_FACTOR:
            raise BadRequest("Pixels are resampled by a factor from 0.01 to 32.")
        ppi = effective * value
    elif target.kind == "megapixels":
        across = math.isqrt((value * 1_000_000 * wide / high).__floor__())
        ppi = max(1, across) / wide
    elif target.kind == "long-edge-px":
        ppi = value / max(wide, high)
    else:
        ppi = value
    if not LOWEST_PPI <= ppi <= HIGHEST_PPI:
        raise BadRequest(f"That comes to {float(ppi):.3g} ppi; a resolution runs from 1 to 10000.")
    return ppi


def _choice(docket: Docket, effective: Fraction, target: Fraction, needed: float) -> str:
    """Return what happens to the pixels; `target` is the resolution of a resampled file."""
    line = docket.pixels
    if line.choice == "keep":
        return "keep"
    way = docket.size.way
    if line.target is None and way is not None and way.kind in IN_PIXELS:
        return "enlarge" if effective < target else "reduce"
    if line.choice == "resample" or line.target is not None:
        return "enlarge" if effective < target else "reduce" if effective > target else "keep"
    if maker_of(docket.size).untouched:
        return "keep"
    return default_choice(effective, target, needed)


_Made = tuple[Frame, tuple[int, int, int, int], tuple[int, int], Fraction, str]


def _kept(turned: Turned, frame: Frame, size: PrintSize, whole: bool, border: Fraction) -> _Made:
    """Keep every pixel: a box of whole pixels, the tag makes the size exact.

    A picture turned by other than quarters keeps its scale, though not its pixels.
    """
    ratio = size.width_mm / size.height_mm
    choice = "keep" if turned.square else "turn"
    if not whole:
        crop = (whole_pixels if turned.square else whole_scale)(turned, frame, ratio)
        file_size = (int(crop.width), int(crop.height))
        return crop, (0, 0, *file_size), file_size, Fraction(1), choice
    if not turned.square:
        frame = whole_scale(turned, frame, frame.width / frame.height)
    width, height = int(frame.width), int(frame.height)
    file_size = (
        max(width, round_half_up(height * ratio)),
        max(height, round_half_up(width / ratio)),
    )
    if border:
        per_mm = max(width / (size.width_mm - 2 * border), height / (size.height_mm - 2 * border))
        file_size = (round_half_up(size.width_mm * per_mm), round_half_up(size.height_mm * per_mm))
    picture = ((file_size[0] - width) // 2, (file_size[1] - height) // 2, width, height)
    return frame, picture, file_size, Fraction(1), choice


def _resampled(
    turned: Turned, frame: Frame, size: PrintSize, whole: bool, border: Fraction, ppi: Fraction,
    choice: str, docket: Docket, own_place: tuple[Fraction, Fraction],
) -> _Made:  # fmt: skip
    """Resample: the box has exactly the output pixels' ratio, so one scale serves both ways."""
    file_size = pixels_for(size, ppi)
    if not whole:
        picture = (0, 0, *file_size)
    else:
        edge = round_half_up(border / MM_PER_INCH * ppi)
        room = max(1, file_size[0] - 2 * edge), max(1, file_size[1] - 2 * edge)
        scale = min(room[0] / frame.width, room[1] / frame.height)
        width = min(room[0], max(1, round_half_up(frame.width * scale)))
        height = min(room[1], max(1, round_half_up(frame.height * scale)))
        picture = ((file_size[0] - width) // 2, (file_size[1] - height) // 2, width, height)
    ratio = Fraction(picture[2], picture[3])
    if whole or docket.crop.frame is None:
        width_px, height_px = turned.largest(ratio)
        place = (Fraction(1, 2), Fraction(1, 2)) if whole else turned.place_of(frame)
        if not whole and turned.square:
            place = own_place
        crop = turned.placed(width_px, height_px, *place)
    else:
        width_px = min(frame.width, frame.height * ratio)
        crop = Frame(
            frame.left + (frame.width - width_px) / 2,
            frame.top + (frame.height - width_px / ratio) / 2,
            width_px,
            width_px / ratio,
        )
    scale = picture[2] / crop.width
    if scale == 1 and turned.square and crop.left % 1 == 0 and crop.top % 1 == 0:
        return crop, picture, file_size, scale, "keep"
    return crop, picture, file_size, scale, choice
