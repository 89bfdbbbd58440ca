"""The test strip: parts of a print, sharpened in several ways, on one small sheet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.papers import SCREEN, find_paper
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.plan.crop.places import on_print
from zinc_margin.plan.model import Plan

STRENGTHS = tuple(Fraction(percent) for percent in (50, 75, 100, 125, 150))


MOST_PLACES = 3  # more would make the patches too small to judge


_RIM_MM, _GAP_MM, _TITLE_MM, _LABEL_MM, _RULER_MM = 8.0, 2.5, 9.0, 5.0, 9.0


_LEAST_MM = 12.0  # a smaller patch cannot be judged


@dataclass(frozen=True)
class Patch:
    """One patch on the sheet.

    Attributes
    ----------
    variant : int
        Index of the plan.
    left, top : int
        Position on the sheet, in pixels.
    from_left, from_top : int
        Position in the print's file.
    """

    variant: int
    left: int
    top: int
    from_left: int
    from_top: int


@dataclass(frozen=True)
class Strip:
    """The layout of a test strip, at the print's own resolution.

    Attributes
    ----------
    width, height : int
        Size of the sheet, in pixels.
    px_per_mm : float
    side : (int, int)
        Width and height of a patch.
    plans : tuple of Plan
        One per column.
    labels : tuple of str
    patches : tuple of Patch
    title, foot : str
    rim, label, ruler_top : int
        In pixels: margin, height of a label, top of the ruler.
    """

    width: int
    height: int
    px_per_mm: float
    side: tuple[int, int]
    plans: tuple[Plan, ...]
    labels: tuple[str, ...]
    patches: tuple[Patch, ...]
    title: str
    foot: str
    rim: int
    label: int
    ruler_top: int


def usual_places(plan: Plan) -> tuple[tuple[float, float], ...]:
    """Return up to three places worth testing: the strongest edge, texture, the deepest shadow."""
    result = plan.measured
    places = []
    for wanted in ("contrast", "texture", "shadow"):
        for name, x, y in result.places if result is not None else ():
            place = on_print(plan, x, y) if name == wanted else None
            if place is not None:
                places.append(place)
    return tuple(places[:MOST_PLACES]) or ((0.5, 0.5),)


def places_to_test(
    plan: Plan, marked: Sequence[tuple[float, float]], most: int | None = None
) -> tuple[tuple[float, float], ...]:
    """Return the places of a strip: first the marked ones, then the usual ones.

    Parameters
    ----------
    marked : sequence of (float, float)
        0 to 1 of the print each way.
    most : int, optional
        Number of places; None: the marked ones, or the usual ones.
    """
    usual = usual_places(plan)
    if most is None:
        return tuple(marked) or usual
    return (*marked, *(place for place in usual if place not in marked))[:most]


def apply_column(plan: Plan, strength: Fraction) -> Docket:
    """Return the docket for the strip's column that looked right.

    The paper becomes a paper of the user, so it can be saved with that strength.

    Parameters
    ----------
    plan : Plan
        Sharpened.
    strength : Fraction
        Strength of the column, percent.
    """
    line, result = plan.docket.sharpen, plan.sharpen
    assert result is not None
    sigma, name = line.sigma_mm, line.paper
    if sigma is None:
        name = f"{result.paper}, my strength"
        sigma = None if result.paper == SCREEN else find_paper(result.paper).sigma_mm
    return replace(
        plan.docket, sharpen=replace(line, strength=strength, sigma_mm=sigma, paper=name)
    )


def lay_out(
    plan: Plan,
    sheet: PrintSize,
    places: Sequence[tuple[float, float]],
    strengths: Sequence[Fraction] = (),
    papers: Sequence[str] = (),
) -> Strip:
    """Lay a test strip out.

    Parameters
    ----------
    plan : Plan
        The print's plan.
    sheet : PrintSize
        The strip's paper, used in landscape orientation.
    places : sequence of (float, float)
        One to three, 0 to 1 of the print each way.
    strengths, papers : sequences
        The columns' strengths in percent, or papers; only one of the two.

    Raises
    ------
    BadRequest
        If the sheet has too many columns.
    """
    variants = _variants(plan.docket, strengths, papers)
    plans = tuple(plan.again(varied) for varied, _ in variants)
    first = plans[0]
    tag = first.pixels.tag_x
    per_mm = tag[0] / tag[1] / 25.4
    width_mm = float(max(sheet.width_mm, sheet.height_mm))
    height_mm = float(min(sheet.width_mm, sheet.height_mm))
    places = places[:MOST_PLACES] or ((0.5, 0.5),)
    across = (width_mm - 2 * _RIM_MM - _GAP_MM * (len(plans) - 1)) / len(plans)
    fixed = 2 * _RIM_MM + _TITLE_MM + _LABEL_MM + _RULER_MM
    down = (height_mm - fixed - _GAP_MM * (len(places) - 1)) / len(places)
    if min(across, down) < _LEAST_MM:
        raise BadRequest(f"The strip does not fit on {sheet.label}. Use fewer columns or places.")
    side = (
        min(first.pixels.width, int(across * per_mm)),
        min(first.pixels.height, int(down * per_mm)),
    )
    patches = []
    for row, (x, y) in enumerate(places):
        left = round(x * first.pixels.width - side[0] / 2)
        top = round(y * first.pixels.height - side[1] / 2)
        left = max(0, min(first.pixels.width - side[0], left))
        top = max(0, min(first.pixels.height - side[1], top))
        for column in range(len(plans)):
            patches.append(
                Patch(
                    column,
                    round((_RIM_MM + column * (across + _GAP_MM)) * per_mm),
                    round((_RIM_MM + _TITLE_MM + _LABEL_MM + row * (down + _GAP_MM)) * per_mm),
                    left,
                    top,
                )
            )
    seen = words.span(first.near_mm, first.far_mm, "cm")
    sharp = first.sharpen
    paper = f"{sharp.paper}, {sharp.process}" if sharp is not None else "not sharpened"
    return Strip(
        width=round(width_mm * per_mm),
        height=round(height_mm * per_mm),
        px_per_mm=per_mm,
        side=side,
        plans=plans,
        labels=tuple(label for _, label in variants),
        patches=tuple(patches),
        title=f"{plan.facts.path.stem}: {first.size.label}, {paper}, seen from {seen}",
        foot="Print without scaling; check with the ruler.",
        rim=round(_RIM_MM * per_mm),
        label=round(_LABEL_MM * per_mm),
        ruler_top=round((height_mm - _RIM_MM - _RULER_MM * 0.62) * per_mm),
    )


def _variants(
    docket: Docket, strengths: Sequence[Fraction], papers: Sequence[str]
) -> list[tuple[Docket, str]]:
    line = replace(docket.sharpen, on=True)
    if papers:
        return [
            (replace(docket, sharpen=replace(line, paper=name, sigma_mm=None)), name)
            for name in papers
        ]
    return [
        (
            replace(docket, sharpen=replace(line, strength=Fraction(strength))),
            f"{number}:  {float(strength):g} %",
        )
        for number, strength in enumerate(strengths or STRENGTHS, 1)
    ]
