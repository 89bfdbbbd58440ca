"""Findings in the pixels as sentences, with their effect on the print."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from zinc_margin.measure import words
from zinc_margin.plan.model import Plan
from zinc_margin.plan.photo.findings import Finding, findings

Values = Mapping[str, Any]


@dataclass(frozen=True)
class FindingWords:
    """A finding as text.

    Attributes
    ----------
    finding : Finding
    figure : str
        The measurement with its unit.
    text : str
        A plain sentence.
    change : str
        Its effect on the print, or empty.
    """

    finding: Finding
    figure: str
    text: str
    change: str


def finding_words(plan: Plan, units: str = "cm") -> tuple[FindingWords, ...]:
    """Return all findings of a plan's photo as text; empty if it is not measured yet.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    return tuple(words_of(one, units) for one in findings(plan))


def words_of(finding: Finding, units: str = "cm") -> FindingWords:
    """Return one finding as text.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    figure, text, change = _TOLD[finding.code](finding.values, units)
    return FindingWords(finding, figure, text, change)


def _pair(sides_mm: tuple[Fraction, Fraction], units: str) -> str:
    return words.pair(sides_mm[0], sides_mm[1], units)


def _repair_words(values: Values) -> str:
    return f"Repaired first, at {values['repaired']:.0f} %." if values["repaired"] else ""


def _left(values: Values) -> str:
    return f"Sharpening ignores differences of less than {values['coring']:.1f} L*."


def _blocks(values: Values, units: str) -> tuple[str, str, str]:
    if not values["seen"]:
        quality = values["quality"]
        came = "as a JPEG" if quality is None else f"as a JPEG of quality {quality}"
        return (
            f"{values['blocks']:.2f} L*",
            f"It was saved {came}: artefacts are hardly visible here, but would be in a large "
            "print.",
            _repair_words(values),
        )
    return (
        f"{values['blocks']:.2f} L*",
        f"JPEG artefacts: the steps between its 8-pixel squares are {values['blocks']:.2f} L* "
        "larger than the rest. Enlarging and sharpening would make them visible.",
        _repair_words(values) or _left(values),
    )


def _halo(values: Values, units: str) -> tuple[str, str, str]:
    share = words.share(values["halo"])
    return (
        share,
        f"Existing halos: edges already overshoot on both sides, by {share} of their step. "
        "The photo was sharpened before; sharpening it again would draw outlines.",
        f"{_repair_words(values)} New overshoot is limited to {values['limit']:.1f} L* instead of "
        f"{values['usual']:g}.".strip(),
    )


def _edge(values: Values, units: str) -> tuple[str, str, str]:
    edge = values["edge_px"]
    return (
        "too few edges" if edge is None else f"{edge:.1f} px",
        f"Soft: even its sharpest edges are {words.trimmed_zeros(edge or 0, 1)} px wide. The "
        "file has no finer detail.",
        f"Sharpening favours broad edges: {values['lean']:.2f} instead of {values['usual']:g}.",
    )


def _origin(values: Values, units: str) -> tuple[str, str, str]:
    share, own = values["true_share"], values["own_px"]
    return (
        words.share(share),
        f"As if enlarged before, {words.trimmed_zeros(1 / share, 2)} ×: its real detail is about "
        f"{own[0]} × {own[1]} px. At {words.resolution(values['target_ppi'], units)} that "
        f"prints {_pair(values['reach_mm'], units)}.",
        "Sharpening uses its real pixels.",
    )


def _noise(values: Values, units: str) -> tuple[str, str, str]:
    return (
        f"{values['noise']:.2f} L*",
        f"Noise of {values['noise']:.1f} L* in its smoothest places.",
        _repair_words(values) or _left(values),
    )


_TOLD: Mapping[str, Callable[[Values, str], tuple[str, str, str]]] = {
    "blocks": _blocks,
    "halo": _halo,
    "edge": _edge,
    "origin": _origin,
    "noise": _noise,
}
