"""The ladder: every print size for one photo, with its grade."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.lengths import UNITS
from zinc_margin.measure.sizes import PrintSize, catalogue
from zinc_margin.measure.ways import ON_SCREEN, Way, named_ways
from zinc_margin.plan.crop.crop import effective_ppi
from zinc_margin.plan.crop.frame import least_border
from zinc_margin.plan.model import Plan
from zinc_margin.plan.size.dependencies import turned_picture
from zinc_margin.plan.size.destination import maker_of
from zinc_margin.plan.size.distance import needed_ppi, sharp_from, usual_distance
from zinc_margin.plan.size.grade import grade_for, grade_on_screen, least_ppi
from zinc_margin.plan.size.orientation import lies_upright
from zinc_margin.plan.size.wishes import size_for


@dataclass(frozen=True)
class Rung:
    """One size for one photo.

    Attributes
    ----------
    size : PrintSize
        The size, oriented as the photo.
    trimmed_share : float
        0–1; 0 if the whole picture is shown.
    effective_ppi, enlargement, sharp_from_mm : float
        `enlargement` to the target; 1 or less if the pixels are not enlarged.
    judged_ppi : float
        The ppi that decides the grade: the file's, if an enlargement was requested before the size.
    grade : str
    way : Way or None
        The way, for a size that follows the photo: a roll, a mat, a screen.
    """

    size: PrintSize
    trimmed_share: float
    effective_ppi: float
    enlargement: float
    sharp_from_mm: float
    grade: str
    judged_ppi: float
    way: Way | None = None

    @property
    def on_screen(self) -> bool:
        """Whether the size is in a screen's pixels."""
        return self.way is not None and self.way.kind in ON_SCREEN


def enlarged_first(docket: Docket) -> Fraction | None:
    """Return the enlargement requested before sizing; None if the size decides."""
    target = docket.pixels.target
    if target is None or target.kind != "scale" or target.values[0] <= 1:
        return None
    return target.values[0]


def ladder(
    facts: Facts, docket: Docket, plan: Plan, own: Sequence[PrintSize | Way] = ()
) -> tuple[Rung, ...]:
    """Return every catalogue size and the user's own, by area, at one viewing distance.

    These are the formulas of `plan` in floating point, for the largest frame.

    Parameters
    ----------
    own : sequence of PrintSize or Way
        The user's sizes.
    """
    judge = Judge(facts, docket, plan)
    rungs = [judge.fixed(size) for size in catalogue()]
    rungs += [judge.following(way) for way in named_ways()]
    rungs += [
        judge.fixed(one) if isinstance(one, PrintSize) else judge.following(one) for one in own
    ]
    areas = {id(rung): float(rung.size.width_mm) * float(rung.size.height_mm) for rung in rungs}
    rungs.sort(key=lambda rung: (areas[id(rung)], rung.size.label))
    return tuple(rungs)


_LONG_EDGES: dict[str, tuple[int, ...]] = {
    "cm": (15, 20, 30, 40, 50, 60, 80, 100, 150),
    "in": (6, 8, 12, 16, 20, 24, 32, 40, 60),
}
"""Long edges to offer for a photo whose shape no size on sale has."""


def sizes_of_shape(facts: Facts, docket: Docket, plan: Plan, unit: str) -> tuple[Rung, ...]:
    """Return sizes with a photo's own shape and round long edges, for when none is on sale.

    Parameters
    ----------
    unit : str
        ``cm`` or ``in``.
    """
    judge = Judge(facts, docket, plan)
    edges = (edge * UNITS[unit] for edge in _LONG_EDGES[unit])
    return tuple(judge.following(Way("long-edge", (edge,))) for edge in edges)


class Judge:
    """Grades sizes for one photo with its docket; each takes microseconds."""

    def __init__(self, facts: Facts, docket: Docket, plan: Plan) -> None:
        self._turned = turned_picture(facts, docket)
        self._docket, self._plan = docket, plan
        self._shown = self._turned.largest_whole
        self._target, self._floor = float(plan.target_ppi), float(plan.floor_ppi)
        self._lies = docket.size.lie != "as-given"
        self._enlarged = float(enlarged_first(docket) or 1)

    def fixed(self, size: PrintSize) -> Rung:
        """Grade a size, oriented as the photo."""
        turned, lie = self._turned, self._docket.size.lie
        return self.as_given(lies_upright(turned.set_width, turned.set_height, size, lie))

    def _enlarges(self, effective: float, target: float) -> bool:
        """Return whether the pixels are enlarged for a size, as the Pixels line decides it."""
        line, plan = self._docket.pixels, self._plan
        effective *= 1 + 1e-9  # exactly the least must not be enlarged by rounding
        if line.choice == "keep" or (line.choice == "auto" and plan.maker.untouched):
            return False
        if line.choice == "resample" or line.target is not None or plan.maker.for_screen:
            return effective < target
        enough = plan.distance_said and effective >= plan.near_ppi
        return effective < least_ppi(self._floor, target) and not enough

    def _needed(self, size: PrintSize) -> float:
        """Return the resolvable ppi at the viewing distance, by default the size's diagonal."""
        if self._docket.size.distance is not None:
            return self._plan.far_ppi
        return needed_ppi(usual_distance(size))

    def following(self, way: Way) -> Rung:
        """Grade a size that follows the photo."""
        line = replace(self._docket.size, size=None, way=way)
        target = line.ppi or maker_of(line, self._docket.finish).asks
        size = size_for(way, *self._shown, target, self._lies)
        if line.lie == "across":
            size = size.swapped()
        return self.as_given(replace(size, family=way.family), way, float(target))

    def as_given(
        self, size: PrintSize, way: Way | None = None, target: float | None = None
    ) -> Rung:
        """Grade a size in its given orientation.

        Parameters
        ----------
        way : Way or None
            The way, for a size that follows the photo.
        target : float or None
            Its target in ppi; None: the plan's.
        """
        turned = self._turned
        width, height = turned.set_width, turned.set_height
        target, floor = target or self._target, self._floor
        wide, high = float(size.width_mm), float(size.height_mm)
        if turned.square:
            crop_w = min(float(width), height * wide / high)
            crop_h = crop_w * high / wide
        else:
            frame_w, frame_h = turned.largest(size.width_mm / size.height_mm)
            crop_w, crop_h = float(frame_w), float(frame_h)
        trimmed = max(0.0, 1 - crop_w * crop_h / (width * height))
        fills, border = self._docket.crop.fit == "trim", 0.0
        if not fills:
            border, trimmed = float(least_border(self._docket.crop, size)), 0.0
            crop_w, crop_h = float(width), float(height)
        effective = effective_ppi((crop_w, crop_h), (wide, high), border, fills)
        on_screen = way is not None and way.kind in ON_SCREEN
        judged = effective * self._enlarged
        grade = (
            grade_on_screen(judged / target)
            if on_screen
            else grade_for(judged, target, floor, self._needed(size))
        )
        return Rung(
            size,
            0.0 if trimmed < 1e-9 else trimmed,
            effective,
            target / judged if self._enlarges(effective, target) else 1.0,
            sharp_from(judged),
            grade,
            judged,
            way,
        )
