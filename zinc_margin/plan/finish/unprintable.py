"""The part of a print lost to the printer's unprintable edge."""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction

from zinc_margin.docket.finish import FinishLine, Margins
from zinc_margin.measure.makers import Maker
from zinc_margin.measure.sizes import PrintSize, catalogue
from zinc_margin.plan.finish.room import paper_for
from zinc_margin.plan.model import Machine, Plan

_PAPERS = ("paper", "paper inch")
Four = tuple[Fraction, Fraction, Fraction, Fraction]
"""Top, right, bottom, left, in mm."""


@dataclass(frozen=True)
class Taken:
    """The lost part, and the largest picture that loses nothing.

    Attributes
    ----------
    lost_mm : tuple of four Fraction
        Lost part of the picture: top, right, bottom, left.
    kept_mm : (Fraction, Fraction)
        Width and height of the largest picture without loss.
    edges : Margins
        The device's unprintable edges.
    paper : PrintSize or None
        The paper for that; None if unknown.
    """

    lost_mm: Four
    kept_mm: tuple[Fraction, Fraction]
    edges: Margins
    paper: PrintSize | None


def unprintable(plan: Plan) -> Taken | None:
    """Return the part of a print lost to the device's edges, or None."""
    edges, sheet = plan.maker.edges, plan.sheet
    if edges is None or plan.pieces is not None:
        return None
    paper, width, height = plan.docket.finish.sheet, plan.whole.width_mm, plan.whole.height_mm
    stored: tuple[Fraction, Fraction] | None
    if sheet is not None:
        lost, stored = sheet.lost_mm, sheet.kept_mm
    elif is_paper(plan.size) and not plan.overspill_mm:
        lost, stored = edges, (width - edges[1] - edges[3], height - edges[0] - edges[2])
        paper = plan.size
    else:
        return None
    if not any(lost) or stored is None:
        return None
    return Taken(lost, stored, Margins(*edges), paper)


def is_paper(size: PrintSize) -> bool:
    """Return whether a print has the size of a paper on sale."""
    sides = sorted((size.width_mm, size.height_mm))
    return any(
        sides == sorted((paper.width_mm, paper.height_mm))
        for paper in catalogue()
        if paper.family in _PAPERS
    )


def printer_edges(
    line: FinishLine, maker: Maker, machine: Machine, size: PrintSize, picture: tuple[int, int]
) -> Maker:
    """Return the maker with a printer's reported edges for the paper in use.

    A page that matches none of its papers is centred on a larger one and loses nothing. A printer
    that has reported nothing on this machine keeps the device's usual edges.

    Parameters
    ----------
    machine : Machine
        Provides the reported printers.
    size : PrintSize
        The print's size.
    picture : (int, int)
        The picture's shape, in pixels.
    """
    told = next((one for one in machine.printers if one.name == line.printer), None)
    if told is None:
        return maker
    paper = line.pieces or paper_for(line, *picture) or size
    edges = told.edges_on(paper.width_mm, paper.height_mm) or (Fraction(0),) * 4
    return replace(maker, edges=edges, edges_by=told.title)
