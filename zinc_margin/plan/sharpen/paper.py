"""Which paper and process a print is sharpened for, and how far they blur."""

from __future__ import annotations

from zinc_margin.docket.docket import Docket
from zinc_margin.measure.papers import SCREEN, find_paper, find_process, printed_sigma, usual_paper
from zinc_margin.plan.size.target import maker_of


def paper_of(docket: Docket) -> tuple[str, str, float | None]:
    """Return the paper, the process and the sigma by which they blur (None: by the file's pixels).

    Raises
    ------
    BadRequest
        When the paper is not known and has no figure of its own.
    """
    line, way = docket.sharpen, docket.size.way
    screen = way is not None and way.kind in ("screen", "within-px")
    name = line.paper or (SCREEN if screen else usual_paper())
    if name == SCREEN:
        return SCREEN, SCREEN, None
    process = find_process(line.process or maker_of(docket.size).process)
    if line.sigma_mm is not None:
        return name, process.name, printed_sigma(line.sigma_mm, process)
    paper = find_paper(name)
    return paper.name, process.name, printed_sigma(paper.sigma_mm, process)
