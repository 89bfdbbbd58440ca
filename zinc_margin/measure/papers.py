"""Papers: how far each spreads what is printed on it."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import cache

from .errors import BadRequest
from .lengths import plain_text
from .tables import table


@dataclass(frozen=True)
class Paper:
    """A paper and the sigma, in mm, of its Gaussian point spread."""

    name: str
    sigma_mm: Fraction


@cache
def papers() -> tuple[Paper, ...]:
    """Return the shipped papers, in their order."""
    return tuple(
        Paper(entry["name"], Fraction(entry["sigma_mm"])) for entry in table("papers")["papers"]
    )


def usual_paper() -> str:
    """Return the name of the paper that is taken when nobody says."""
    return str(table("papers")["usual"])


def find_paper(name: str) -> Paper:
    """Return the paper called `name`, or the only one whose name begins so.

    Raises
    ------
    BadRequest
        When there is none; the sentence lists the names.
    """
    wanted = plain_text(name).replace("-", " ")
    for paper in papers():
        if paper.name == wanted:
            return paper
    near = [paper for paper in papers() if wanted and paper.name.startswith(wanted)]
    if len(near) == 1:
        return near[0]
    names = ", ".join(paper.name for paper in papers())
    raise BadRequest(f"“{name}” is not a paper that I know; there are {names}.")
