"""Printing notes: the printer settings that keep the size exact."""

from __future__ import annotations

from zinc_margin.measure import words
from zinc_margin.plan.finish.page import Page
from zinc_margin.plan.model import PrintPlan
from zinc_margin.plan.text.notes import sides_words

SLIP_TITLE = "Printing notes"
"""The title that identifies printing notes as ours."""


def slip(plan: PrintPlan, name: str, units: str = "cm") -> list[tuple[str, str]]:
    """Return a plan's printing notes: settings and values.

    Parameters
    ----------
    name : str
        The file's name.
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    page = _page(plan)
    maker = plan.maker
    rows = [
        ("File", name),
        ("Made for", maker.name),
        ("Picture", words.pair(plan.size.width_mm, plan.size.height_mm, units) + ", exactly"),
        ("Paper size", words.pair(page.width_mm, page.height_mm, units)),
        ("Orientation", "across" if page.width_mm > page.height_mm else "upright"),
    ]
    if plan.sharpen is not None and plan.sharpen.process != "screen":
        rows.append(("Paper", f"{plan.sharpen.paper}, for which it was sharpened"))
    rows.append(("Scale", "100 %; no fitting, shrinking or enlarging to the page"))
    spill = plan.overspill_mm
    if spill:
        made_up = "; the file includes extra picture for that" if plan.made_up else ""
        rows.append(("Borderless", f"on, past each edge by {words.small(spill, units)}{made_up}"))
    elif plan.sheet is None or not plan.sheet.side_mm:
        rows.append(("Borderless", "off"))
    rows += [("Driver", line) for line in maker.setting]
    sheet = plan.sheet
    if sheet is not None and any(sheet.lost_mm):
        lost = sides_words(sheet.lost_mm, units)
        rows.append(("Lost", f"{lost}: the device cannot print there"))
    if plan.pieces is not None:
        count = len(plan.pieces.each)
        rows.append(("Pieces", f"{count}, in the order of their numbers; see the map"))
    ruler = words.pair(plan.size.width_mm, plan.size.height_mm, units)
    rows.append(("Check", f"measure the printed picture: it must be {ruler}"))
    return rows


def slip_text(plan: PrintPlan, name: str, units: str = "cm") -> str:
    """Return the printing notes as plain text.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    rows = slip(plan, name, units)
    wide = max(len(label) for label, _ in rows)
    lines = [SLIP_TITLE, ""]
    lines += [f"{label:<{wide}}  {value}" for label, value in rows]
    return "\n".join(lines) + "\n"


def _page(plan: PrintPlan) -> Page:
    return plan.whole if plan.pieces is None else plan.pieces.each[0].page
