"""The Size line of a plan: print size, resolution and viewing distance."""

from __future__ import annotations

from zinc_margin.docket.size import SizeLine
from zinc_margin.measure.makers import find_maker, usual_maker
from zinc_margin.measure.units import unit_named
from zinc_margin.measure.ways import IN_PIXELS
from zinc_margin.plan.parts import SizePart
from zinc_margin.plan.size.dependencies import Ties
from zinc_margin.plan.size.distance import distances, needed_ppi
from zinc_margin.plan.size.grade import floor_of, target_of
from zinc_margin.plan.size.hidden_edges import overspill_of, unseen
from zinc_margin.plan.size.print_size import fixed_side, mat_of, print_size


def size_part(line: SizeLine, tied: Ties) -> SizePart:
    """Return the Size line's part of a plan.

    Parameters
    ----------
    tied : Ties
        Contributions of the later lines.
    """
    size = print_size(line, tied)
    maker = usual_maker() if line.maker is None else find_maker(line.maker)
    near, far = distances(size, line.distance)
    kind = line.way.kind if line.way is not None else ""
    return SizePart(
        size=size,
        units=unit_named(size.label) or line.units,
        fixed=fixed_side(line, tied, size),
        maker=maker,
        target_ppi=target_of(line),
        floor_ppi=floor_of(line),
        near_mm=near,
        far_mm=far,
        near_ppi=needed_ppi(near),
        far_ppi=needed_ppi(far),
        distance_said=line.distance is not None,
        in_pixels=kind in IN_PIXELS,
        overspill_mm=overspill_of(line, size),
        unseen_mm=unseen(line, size, tied.made_up),
        made_up=tied.made_up,
        mat=mat_of(line, size),
    )
