"""Whether a photo suits a shared docket: enough pixels, not too much trimmed."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any, Protocol

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.transfer import with_parts
from zinc_margin.facts.facts import Facts
from zinc_margin.plan.build import ABLE, plan
from zinc_margin.plan.model import Machine, Plan
from zinc_margin.plan.size.grade import FEW


@dataclass(frozen=True)
class Skipped:
    """The reason for skipping a photo.

    Attributes
    ----------
    code : str
        ``trimmed`` or ``too-small``.
    values : Mapping
    """

    code: str
    values: Mapping[str, Any]


class Terms(Protocol):
    """The conditions for accepting a photo; presets contain them."""

    @property
    def too_small(self) -> str:
        """The treatment of a photo below the minimum: ``skip``, ``make`` or ``enlarge``."""

    @property
    def most_trimmed(self) -> Fraction | None:
        """The trimmed share above which a photo is skipped."""


def judge(
    facts: Facts, docket: Docket, preset: Terms | None, machine: Machine = ABLE
) -> tuple[Plan, Skipped | None]:
    """Return a photo's plan under a preset, and the reason for skipping it, if any.

    Parameters
    ----------
    docket : Docket
        The docket with the preset applied.
    preset : Terms or None
        The treatment of unsuitable photos, or None.
    """
    planned_print = plan(facts, docket, machine)
    if preset is None:
        return planned_print, None
    most = preset.most_trimmed
    # A photo that loses exactly the limit must not fail by rounding.
    if most is not None and planned_print.trimmed_share > float(most) + 1e-9:
        return planned_print, Skipped(
            "trimmed", {"share": planned_print.trimmed_share, "most": float(most)}
        )
    if _too_small(planned_print):
        if preset.too_small == "skip":
            return planned_print, Skipped("too-small", _how_small(planned_print))
        if preset.too_small == "enlarge":
            pixels = replace(docket.pixels, choice="resample")
            planned_print = plan(facts, replace(docket, pixels=pixels), machine)
    return planned_print, None


def _too_small(plan: Plan) -> bool:
    """Return whether a photo is below its minimum; on a screen the grade decides, not ppi."""
    if plan.maker.for_screen:
        return plan.grade == FEW
    return plan.effective_ppi < plan.floor_ppi


def _how_small(plan: Plan) -> dict[str, Any]:
    if plan.maker.for_screen:
        return {"share": float(plan.effective_ppi / plan.target_ppi)}
    return {"ppi": plan.effective_ppi}


@dataclass(frozen=True)
class Carried:
    """One photo at the shared size.

    Attributes
    ----------
    docket : Docket
        The photo's docket with the shared size and its largest frame.
    """

    facts: Facts
    docket: Docket
    plan: Plan


def with_decided_size(plan: Plan) -> Docket:
    """Return a plan's docket with its automatic size as a decision, for other photos."""
    docket = plan.docket
    if docket.size.size is not None or docket.size.way is not None:
        return docket
    return replace(docket, size=replace(docket.size, size=plan.size))


def compare(
    photos: Iterable[tuple[Facts, Docket]], source: Docket, machine: Machine = ABLE
) -> tuple[Carried, ...]:
    """Return the plans of several photos at one photo's size; each keeps its other decisions.

    Parameters
    ----------
    source : Docket
        The docket with the size.
    machine : Machine
        What this machine can do.
    """
    rows = []
    for facts, docket in photos:
        laid = with_parts(docket, source)
        rows.append(Carried(facts, laid, plan(facts, laid, machine)))
    return tuple(rows)
