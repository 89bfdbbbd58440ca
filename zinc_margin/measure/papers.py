"""Papers and printing processes, and how much each blurs."""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction
from functools import cache

from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import plain_text
from zinc_margin.measure.tables import table


@dataclass(frozen=True)
class Paper:
    """A paper and the sigma, in mm, of its Gaussian point spread."""

    name: str
    sigma_mm: Fraction


@cache
def papers() -> tuple[Paper, ...]:
    """Return the shipped papers, in display order."""
    return tuple(
        Paper(entry["name"], Fraction(entry["sigma_mm"])) for entry in table("papers")["papers"]
    )


def usual_paper() -> str:
    """Return the name of the default paper."""
    return str(table("papers")["usual"])


SCREEN = "screen"
"""Stands in for a paper when the file is shown on a screen or projected: there, pixels blur."""


@dataclass(frozen=True)
class Process:
    """A printing process.

    Attributes
    ----------
    factor : Fraction
        Factor on the paper's blur.
    lines_per_inch : Fraction or None
        Lines per inch of a press's screen.
    """

    key: str
    name: str
    factor: Fraction
    lines_per_inch: Fraction | None


@cache
def processes() -> tuple[Process, ...]:
    """Return the printing processes, in display order; the first is the default."""
    return tuple(
        Process(
            entry["key"],
            entry["name"],
            Fraction(entry["factor"]),
            Fraction(entry["lines_per_inch"]) if "lines_per_inch" in entry else None,
        )
        for entry in table("processes")["processes"]
    )


def find_process(name: str) -> Process:
    """Return the process with this key or name."""
    wanted = plain_text(name)
    for process in processes():
        if wanted in (process.key, process.name):
            return process
    names = ", ".join(process.key for process in processes())
    raise BadRequest(f"Unknown printing process “{name}”. Choose one of: {names}.")


def printed_sigma(paper_mm: Fraction, process: Process) -> float:
    """Return the sigma, in mm, of the blur of a paper and a process together.

    A press's screen spreads every point over its cell; the deviation of that box is its side over
    √12.

    Parameters
    ----------
    paper_mm : Fraction
        Sigma of the paper's blur, in mm.
    """
    sigma = float(paper_mm * process.factor)
    if process.lines_per_inch is None:
        return sigma
    return math.hypot(sigma, 25.4 / float(process.lines_per_inch) / math.sqrt(12))


def find_paper(name: str) -> Paper:
    """Return the paper called `name`, or the only one whose name begins with it.

    Raises
    ------
    BadRequest
        If it is unknown; the sentence lists the names.
    """
    wanted = plain_text(name).replace("-", " ")
    for paper in papers():
        if paper.name == wanted:
            return paper
    near = [paper for paper in papers() if wanted and paper.name.startswith(wanted)]
    if len(near) == 1:
        return near[0]
    names = ", ".join(paper.name for paper in papers())
    raise BadRequest(f"Unknown paper “{name}”. Choose one of: {names}.")
