"""What the pixels told of a photo, and from where on it matters."""

from __future__ import annotations

from zinc_margin.docket.docket import Docket
from zinc_margin.facts.facts import Facts
from zinc_margin.facts.measured import Measured
from zinc_margin.plan.model import Plan

BLOCKS_FROM = 0.18
"""In L*; JPEG of quality 85 and more stays below in quiet pictures, of 70 and less above."""


HALO_FROM = 0.15


SOFT_FROM = 1.2
"""In px; a camera's file reduced to half lies at 0.4 to 0.6, straight from the sensor under 1."""


NOISE_FROM = 0.8


ENLARGED_UNDER = 0.95


def measured_of(facts: Facts, plan: Plan) -> Measured | None:
    """Return what holds of a plan's photo: the docket's own figures for it, else the facts'."""
    return measured_in(facts, plan.docket)


def measured_in(facts: Facts, docket: Docket) -> Measured | None:
    """Return what holds of a photo: the docket's own figures for it, else the facts'."""
    kept = docket.photo
    of_this = facts.digest in (None, kept.digest) and kept.page in (None, facts.page)
    if kept.measured is not None and of_this:
        return kept.measured
    return facts.measured
