"""The paper and process that a print is sharpened for, and their blur."""

from __future__ import annotations

import math
from dataclasses import dataclass

from zinc_margin.docket.sharpen import SharpenLine
from zinc_margin.measure.papers import SCREEN, find_paper, find_process, printed_sigma, usual_paper
from zinc_margin.plan.parts import SizePart


@dataclass(frozen=True)
class Blur:
    """The blur of a print.

    Attributes
    ----------
    paper, process : str
        Their names; both ``screen`` for a screen.
    sigma_mm : float
        Sigma of their combined blur.
    near_mm, far_mm : float
    """

    paper: str
    process: str
    sigma_mm: float
    near_mm: float
    far_mm: float


def blur_of(line: SharpenLine, sized: SizePart, output_ppi: float) -> Blur:
    """Return paper, process and their combined blur.

    Parameters
    ----------
    output_ppi : float
        Value for the file.

    Raises
    ------
    BadRequest
        If the paper is unknown and no blur is given.
    """
    name = line.paper or usual_paper()
    near, far = sized.near_mm, sized.far_mm
    if name == SCREEN:
        # A screen's pixel is a box. Its print size is only nominal, so without a typed distance,
        # the viewing distance is its diagonal, however small.
        if not sized.distance_said:
            near = far = math.hypot(float(sized.size.width_mm), float(sized.size.height_mm))
        return Blur(SCREEN, SCREEN, 25.4 / output_ppi / math.sqrt(12), near, far)
    process = find_process(line.process or sized.maker.process)
    if line.sigma_mm is not None:
        return Blur(name, process.name, printed_sigma(line.sigma_mm, process), near, far)
    paper = find_paper(name)
    return Blur(paper.name, process.name, printed_sigma(paper.sigma_mm, process), near, far)
