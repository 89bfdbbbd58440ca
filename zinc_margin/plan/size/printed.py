"""The print's size: as asked, as the frame gives it, or as the photo goes."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.sizes import PrintSize, catalogue
from zinc_margin.measure.words import pair
from zinc_margin.plan.crop.frame import turned_picture
from zinc_margin.plan.finish.sheet import room_for
from zinc_margin.plan.size.asked import wished
from zinc_margin.plan.size.lying import lies_upright
from zinc_margin.plan.size.reach import reach
from zinc_margin.plan.size.target import target_of


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
