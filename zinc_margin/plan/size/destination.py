"""The consequences of choosing a maker: paper, canvas sides, file.

Anything that the docket leaves open is filled in here, once, before the lines are planned.
"""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.finish import FinishLine
from zinc_margin.docket.size import SizeLine
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.makers import Maker, find_maker, usual_maker
from zinc_margin.measure.ways import ON_SCREEN
from zinc_margin.plan.file.colours import as_srgb

CANVAS = "canvas"
"""The key of the maker and the paper for prints with canvas sides."""
_SCREEN = "screen"
_NONE = Fraction(0)


def maker_of(size: SizeLine, finish: FinishLine) -> Maker:
    """Return the maker: the docket's, else one suited to the size and the sheet."""
    if size.maker is not None:
        return find_maker(size.maker)
    if size.way is not None and size.way.kind in ON_SCREEN:
        return find_maker(_SCREEN)
    return find_maker(CANVAS) if _asks_sides(finish) else usual_maker()


def _asks_sides(finish: FinishLine) -> bool:
    return bool(finish.wrap_mm or finish.tuck_mm)


def settle(facts: Facts, docket: Docket) -> Docket:
    """Return a docket whose open choices are filled in by its maker."""
    size, sharpen, finish, file = docket.size, docket.sharpen, docket.finish, docket.file
    maker = maker_of(size, finish)
    way = size.way
    if way is None and size.size is None and docket.crop.frame is None and not finish.scales:
        way = maker.size
    bars = finish.wrap_mm
    fold = finish.tuck_mm
    if bars is None and fold is None and _takes_sides(finish):
        bars, fold = maker.bars_mm, maker.fold_mm
    paper = CANVAS if _asks_sides(finish) else maker.papers[0]
    return replace(
        docket,
        size=replace(size, maker=maker.key, way=way),
        sharpen=replace(
            sharpen,
            paper=sharpen.paper or paper,
            # Such a lab enlarges and sharpens itself; it needs the photo's own pixels.
            on=not maker.untouched if sharpen.on is None else sharpen.on,
        ),
        finish=replace(finish, wrap_mm=bars or _NONE, tuck_mm=fold or _NONE),
        file=replace(
            file,
            format=file.format or maker.format,
            colour=file.colour or (as_srgb(facts) if maker.colour == "srgb" else maker.colour),
            max_bytes=file.max_bytes or maker.most_bytes,
        ),
    )


def _takes_sides(finish: FinishLine) -> bool:
    """Return whether canvas sides are compatible with the rest of the sheet."""
    return not (finish.sheet or finish.pieces or finish.roll_mm or finish.bleed_mm)
