"""The edges that a printer of this system told of, instead of a device's usual ones."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.finish import FinishLine
from zinc_margin.measure.makers import Maker
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.plan.finish.room import paper_for
from zinc_margin.plan.model import Machine


def as_told(
    line: FinishLine, maker: Maker, machine: Machine, size: PrintSize, picture: tuple[int, int]
) -> Maker:
    """Return the maker with a printer's own edges, for the paper that is printed on.

    A page that is as large as none of its papers lies in the middle of a larger one and loses
    nothing. A printer that was not asked on this machine leaves the device's usual edges.

    Parameters
    ----------
    machine : Machine
        Which printers were asked.
    size : PrintSize
        The print's own.
    picture : (int, int)
        Its shape, in pixels.
    """
    told = next((one for one in machine.printers if one.name == line.printer), None)
    if told is None:
        return maker
    paper = line.pieces or paper_for(line, *picture) or size
    edges = told.edges_on(paper.width_mm, paper.height_mm) or (Fraction(0),) * 4
    return replace(maker, edges=edges, edges_by=told.title)
