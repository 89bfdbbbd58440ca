"""The Sharpen line as text: the print's crispness, and the limits of sharpening."""

from __future__ import annotations

from zinc_margin.measure import words
from zinc_margin.measure.papers import SCREEN
from zinc_margin.plan.model import Plan
from zinc_margin.plan.parts import Sharpening
from zinc_margin.plan.sharpen.photograph import NEARLY

_TOUCH, _CLEARLY = 1.06, 1.15
"""Crispness from which a print is slightly crisper than the photo, and from which clearly."""


def sharpen_rows(plan: Plan, units: str) -> tuple[str, str]:
    """Return the decision and the consequence of the Sharpen line.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    result = plan.sharpen
    if result is None and plan.docket.sharpen.on is None:
        return "Not sharpened", f"A {plan.maker.name} sharpens for its own enlargement."
    if result is None:
        return "Not sharpened", "The print will be as soft as paper and pixels make it."
    on_screen = result.paper == SCREEN
    seen = f", seen from {words.span(plan.near_mm, plan.far_mm, units)}"
    if on_screen and plan.docket.size.distance is None:
        seen = ""
    decision = f"For {'the screen' if on_screen else result.paper}{seen}"
    if plan.docket.sharpen.strength == 0:
        return decision, "Strength 0: no sharpening."
    return decision, paper_takes(plan, units)


def paper_takes(plan: Plan, units: str) -> str:
    """Return how much sharpness the paper takes, and what sharpening brings back."""
    result = plan.sharpen
    if result is None or plan.docket.sharpen.strength == 0:
        return ""
    on_screen = result.paper == SCREEN
    before, after, _, far = _crispness(result)
    taken = f"{'Its pixels take' if on_screen else 'Paper takes'} {words.share(max(0, 1 - before))}"
    where = "" if on_screen else f" from {words.length(plan.near_mm, units)}"
    told = f"{taken}; {_comparison(after)}{where}."
    if not on_screen and plan.far_mm > plan.near_mm and far > _TOUCH and after <= _TOUCH:
        crisper = "crisper" if far > _CLEARLY else "slightly crisper"
        told = told[:-1] + f", {crisper} from {words.length(plan.far_mm, units)}."
    return told


def _crispness(result: Sharpening) -> tuple[float, float, float, float]:
    """Return crispness near and far, before and after: from the spectrum, else from edges."""
    if result.crispness is not None:
        return result.crispness
    edges = result.acutance_before, result.acutance_after
    return (*edges, *edges)


def _comparison(crispness: float) -> str:
    if crispness > _CLEARLY:
        return "crisper than the photo"
    if crispness > _TOUCH:
        return "slightly crisper than the photo"
    if crispness >= NEARLY:
        return "as sharp as the photo"
    return f"{words.share(crispness)} as sharp as the photo"


def radius_and_amount(sharpening: Sharpening) -> str:
    """Return the radius and amount of sharpening as text."""
    radius = f"{sharpening.sigma_px:.1f} px"
    if sharpening.paper != SCREEN:
        radius = f"{sharpening.sigma_mm:.2f} mm ({radius})"
    return f"Radius {radius}, amount {sharpening.amount:.2f}."


def sharpening_reason(plan: Plan, units: str = "cm") -> str:
    """Return the purpose of sharpening, and its limit, as text.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    result = plan.sharpen
    if result is None:
        return "Nothing compensates for the loss to paper and distance."
    seen = words.length(plan.near_mm, units)
    took = "the loss to its pixels"
    if result.paper != SCREEN:
        took = f"the loss to {result.paper} ({result.process}) seen from {seen}"
    before, *_ = _crispness(result)
    if plan.docket.sharpen.strength != 100:
        much = words.trimmed_zeros(plan.docket.sharpen.strength, 0)
        text = f"Compensates {much} % of {took}."
    elif result.bound == "detail" and plan.pixels.choice != "enlarge":
        text = f"Compensates part of {took}; more would draw outlines."
    elif result.bound == "detail":
        text = "The file has no finer detail; more sharpening would draw outlines."
    elif result.bound == "far":
        text = f"More would look too crisp from {words.length(plan.far_mm, units)}."
    elif result.bound == "amount":
        text = f"Compensates part of {took}; more would turn edges into outlines."
    elif before > 0.995:
        text = f"No sharpening needed: {took} is invisible."
    else:
        text = f"Compensates {took}."
    return f"{text} {radius_and_amount(result)}"
