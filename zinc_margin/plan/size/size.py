"""The Size line of a plan: how large, at which resolution, seen from where."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from zinc_margin.docket.size import SizeLine
from zinc_margin.measure.makers import Maker
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.ways import IN_PIXELS
from zinc_margin.plan.model import Mat, Sides
from zinc_margin.plan.size.distance import near_of, needed_ppi, usual_distance
from zinc_margin.plan.size.mat import mat_of
from zinc_margin.plan.size.printed import print_size
from zinc_margin.plan.size.target import floor_of, maker_of, target_of
from zinc_margin.plan.size.ties import Ties
from zinc_margin.plan.size.unseen import overspill_of, unseen


@dataclass(frozen=True)
class SizePart:
    """What later lines need of the size.

    Attributes
    ----------
    size : PrintSize
        Lying as it will be printed.
    maker : Maker
    target, floor : Fraction
        In ppi.
    distance_mm, needed_ppi : float
        From where it is seen, at the far end, and what the eye can use from there.
    near_ppi : float
        What the eye can use from the near end.
    distance_said : bool
    in_pixels : bool
        Whether a number of pixels was asked for, not a length.
    for_screen : bool
        Whether it is looked at on a screen.
    overspill_mm : Fraction
    unseen_mm : Sides
    mat : Mat or None
    """

    size: PrintSize
    maker: Maker
    target: Fraction
    floor: Fraction
    distance_mm: float
    needed_ppi: float
    near_ppi: float
    distance_said: bool
    in_pixels: bool
    for_screen: bool
    overspill_mm: Fraction
    unseen_mm: Sides
    mat: Mat | None


def size_part(line: SizeLine, tied: Ties) -> SizePart:
    """Return the Size line's part of a plan.

    Parameters
    ----------
    line : SizeLine
    tied : Ties
        What the lines below have to say before.

    Raises
    ------
    BadRequest
    """
    size = print_size(line, tied)
    distance = float(line.distance_mm or 0) or usual_distance(size)
    kind = line.way.kind if line.way is not None else ""
    return SizePart(
        size=size,
        maker=maker_of(line),
        target=target_of(line),
        floor=floor_of(line),
        distance_mm=distance,
        needed_ppi=needed_ppi(distance),
        near_ppi=needed_ppi(distance if line.distance_mm is not None else near_of(distance)),
        distance_said=line.distance_mm is not None,
        in_pixels=kind in IN_PIXELS,
        for_screen=kind in ("screen", "within-px"),
        overspill_mm=overspill_of(line, size),
        unseen_mm=unseen(line, size, tied.made_up),
        mat=mat_of(line, size),
    )
