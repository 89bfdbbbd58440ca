"""Several photos at one size: which of them carry it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.size import SizeLine
from zinc_margin.facts.facts import Facts
from zinc_margin.plan.build import ABLE, plan
from zinc_margin.plan.model import Machine, Plan


@dataclass(frozen=True)
class Carried:
    """One photo at the common size.

    Attributes
    ----------
    docket : Docket
        The photo's own, with the size laid on it and the largest frame.
    """

    facts: Facts
    docket: Docket
    plan: Plan


def compare(
    photos: Iterable[tuple[Facts, Docket]], line: SizeLine, machine: Machine = ABLE
) -> tuple[Carried, ...]:
    """Lay one Size line on several photos; each turns as it lies, and keeps its other lines.

    Parameters
    ----------
    photos : iterable of (Facts, Docket)
    line : SizeLine
    machine : Machine
        What this machine can do.
    """
    rows = []
    for facts, docket in photos:
        laid = replace(docket, size=line, crop=replace(docket.crop, frame=None))
        rows.append(Carried(facts, laid, plan(facts, laid, machine)))
    return tuple(rows)
