"""Several photos at one size: which of them carry it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from zinc_margin.docket.applied import applied
from zinc_margin.docket.docket import Docket
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
    photos: Iterable[tuple[Facts, Docket]], source: Docket, machine: Machine = ABLE
) -> tuple[Carried, ...]:
    """Give several photos the size of one; each turns as it lies, and keeps all else.

    Parameters
    ----------
    source : Docket
        That has the size.
    machine : Machine
        What this machine can do.
    """
    rows = []
    for facts, docket in photos:
        laid = applied(docket, source)
        rows.append(Carried(facts, laid, plan(facts, laid, machine)))
    return tuple(rows)
