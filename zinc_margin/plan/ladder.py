"""The ladder: every print size for one photo, by reach."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..docket.docket import Docket
from ..measure.lengths import MM_PER_INCH
from ..measure.sizes import PrintSize, catalogue
from ..measure.ways import Way, named_ways
from ..photo.facts import Facts
from . import reach as reaching
from .model import Plan
from .planning import turned_picture
from .wishes import wished

_INCH = float(MM_PER_INCH)


@dataclass(frozen=True)
class Rung:
    """One size for one photo.

    Attributes
    ----------
    size : PrintSize
        Lying as the photo lies.
    trimmed_share : float
        0–1; 0 where the whole picture is shown.
    effective_ppi, enlargement, sharp_from_mm : float
        `enlargement` to the target; 1 or less where none is needed.
    grade : str
    way : Way or None
        For a size that follows the photo: a roll, a mat, a screen.
    """

    size: PrintSize
    trimmed_share: float
    effective_ppi: float
    enlargement: float
    sharp_from_mm: float
    grade: str
    way: Way | None = None


def ladder(facts: Facts, docket: Docket, plan: Plan) -> tuple[Rung, ...]:
    """Judge every size of the catalogue, by its area, at the docket's one distance.

    The sums are those of `planning.plan` in plain floating point, for the largest frame.
    """
    turned = turned_picture(facts, docket)
    width, height = turned.set_width, turned.set_height
    whole = docket.crop.fit == "whole"
    target, floor = float(plan.target_ppi), float(plan.floor_ppi)
    box = turned.largest
    rungs = []
    shown = turned.largest_whole
    lies = docket.size.lie != "as-given"
    asked: list[tuple[PrintSize, Way | None]] = [
        (reaching.lies_upright(width, height, size, docket.size.lie), None) for size in catalogue()
    ]
    for way in named_ways():
        size = wished(way, *shown, plan.target_ppi, lies)
        if docket.size.lie == "across":
            size = size.swapped()
        asked.append((replace(size, family=way.family), way))
    for size, follows in asked:
        wide, high = float(size.width_mm), float(size.height_mm)
        if turned.square:
            crop_w = min(float(width), height * wide / high)
            crop_h = crop_w * high / wide
        else:
            frame_w, frame_h = box(size.width_mm / size.height_mm)
            crop_w, crop_h = float(frame_w), float(frame_h)
        trimmed = max(0.0, 1 - crop_w * crop_h / (width * height))
        if whole:
            effective = max(width / wide, height / high) * _INCH
            trimmed = 0.0
        else:
            effective = crop_w / wide * _INCH
        rungs.append(
            Rung(
                size,
                0.0 if trimmed < 1e-9 else trimmed,
                effective,
                target / effective,
                reaching.sharp_from(effective),
                reaching.grade(effective, target, floor, plan.needed_ppi),
                follows,
            )
        )
    areas = {id(rung): float(rung.size.width_mm) * float(rung.size.height_mm) for rung in rungs}
    rungs.sort(key=lambda rung: (areas[id(rung)], rung.size.label))
    return tuple(rungs)
