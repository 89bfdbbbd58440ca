"""Notes on the sheet."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.plan.finish.pieces import edges_for
from zinc_margin.plan.finish.sides import side_mm
from zinc_margin.plan.finish.unprintable import unprintable
from zinc_margin.plan.model import Note, Plan, Remedy
from zinc_margin.plan.size.destination import CANVAS

_MARK_ROOM_MM = Fraction(6)  # enough for a 4-mm mark and its gap


def finish_notes(plan: Plan) -> Iterator[Note]:
    """Yield the notes of the Finish line."""
    yield from _edges(plan)
    docket, line, sheet = plan.docket, plan.settled.finish, plan.sheet
    fold = side_mm(line)
    if fold and line.wrap_own and sheet is not None:
        result = Remedy("sides-from-edge", with_finish(docket, wrap_own=False))
        yield Note("own-edge", "finish", {"side_mm": fold, "face_mm": sheet.face_mm}, (result,))
    yield from _off_canvas(plan, fold)
    if plan.pieces is not None and len(plan.pieces.each) > 1:
        bare = sum(not piece.words for piece in plan.pieces.each)
        if bare:
            room = max(edges_for(line, plan.maker)) + _MARK_ROOM_MM
            roomy = with_finish(docket, edge_mm=room)
            values = {"bare": bare, "count": len(plan.pieces.each)}
            left = Remedy("room-for-marks", roomy, {"room_mm": _MARK_ROOM_MM})
            yield Note("no-room-for-marks", "finish", values, (left,))


def _off_canvas(plan: Plan, fold: Fraction) -> Iterator[Note]:
    """Report that canvas sides are incompatible with the chosen paper or maker."""
    docket, sharpen = plan.docket, plan.sharpen
    paper = CANVAS if sharpen is None or docket.sharpen.sigma_mm is not None else sharpen.paper
    if not fold or (paper == CANVAS and CANVAS in plan.maker.papers):
        return
    where = docket.size if CANVAS in plan.maker.papers else replace(docket.size, maker=None)
    canvas = replace(docket, size=where, sharpen=replace(docket.sharpen, paper=None))
    values = {"paper": paper, "maker": plan.maker.name}
    yield Note("off-canvas", "finish", values, (Remedy("on-canvas", canvas),), grave=True)


def _edges(plan: Plan) -> Iterator[Note]:
    """Report the part lost to the unprintable edge; offer the largest picture that prints whole."""
    taken = unprintable(plan)
    if taken is None:
        return
    remedies: tuple[Remedy, ...] = ()
    if taken.paper is not None:
        scaled = with_finish(
            plan.docket, sheet=taken.paper, scales=True, margins=taken.edges, make_up=False
        )
        remedies = (Remedy("survives-whole", scaled, {"size_mm": taken.kept_mm}),)
    maker = plan.maker
    values = {"maker": maker.name, "told_by": maker.edges_by, "lost_mm": taken.lost_mm}
    yield Note("unprintable-edge", "finish", values, remedies, grave=True)


def with_finish(docket: Docket, **fields: object) -> Docket:
    """Return the docket with changed fields of its Finish line."""
    return replace(docket, finish=replace(docket.finish, **fields))  # type: ignore[arg-type]
