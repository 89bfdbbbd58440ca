"""The Finish line as text: the sheet, and its effect on the print."""

from __future__ import annotations

from zinc_margin.docket.finish import FinishLine, Margins
from zinc_margin.measure import words
from zinc_margin.measure.tones import EDGE, tone_name
from zinc_margin.plan.finish.sides import side_mm
from zinc_margin.plan.model import Plan
from zinc_margin.plan.text.phrases import pieces_words


def finish_rows(plan: Plan, units: str = "cm") -> tuple[str, str]:
    """Return the decision and the consequence of the Finish line.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    line, sheet = plan.settled.finish, plan.sheet
    size = words.pair(plan.size.width_mm, plan.size.height_mm, units)
    if sheet is None:
        decision, consequence = "Plain sheet", f"No sheet: the file is the print, {size}."
        if plan.maker.for_screen:
            decision, consequence = "Nothing around it", "Only the picture, for a screen."
    else:
        decision = _decision(plan, units)
        whole = words.pair(sheet.page.width_mm, sheet.page.height_mm, units)
        if side_mm(line):
            face = words.pair(*sheet.face_mm, units)
            consequence = f"Face {face}, sides {_sides(line, units)}; {whole} in all."
        elif any(sheet.lost_mm):
            consequence = (
                f"The picture is {size}; part of it is lost at the printer's unprintable edge."
            )
        else:
            consequence = f"The picture is {size} of {whole}."
        if line.margins is not None and not _equal_margins(line.margins):
            consequence = f"{words.capital(_margin_words(line.margins, units))}. {consequence}"
    if plan.pieces is not None:
        laid, each = pieces_words(plan.pieces, plan.whole, units)
        decision = laid if sheet is None else f"{decision}, in pieces"
        joined = f"joined {size if sheet is None else whole}."
        consequence = f"{each}, {joined}" if sheet is None else f"{laid}, {joined}"
    return decision, consequence


def _decision(plan: Plan, units: str) -> str:
    line = plan.settled.finish
    parts = []
    if side_mm(line):
        depth = words.small(line.wrap_mm or 0, units)
        fold = f" + {words.small(line.tuck_mm, units)} fold" if line.tuck_mm else ""
        parts.append(f"Canvas, bars {depth}{fold}")
    elif line.make_up and plan.overspill_mm:
        parts.append("Overspill compensated")
    if line.sheet is not None:
        parts.append(f"On {line.sheet.label}" if not parts else f"on {line.sheet.label}")
    if line.margins is not None:
        even = _equal_margins(line.margins)
        parts.append(_margin_words(line.margins, units) if even else "with a border")
    if line.bleed_mm:
        parts.append(f"bleed {words.small(line.bleed_mm, units)}")
    if line.marks:
        parts.append("crop marks")
    if line.caption or line.footer:
        parts.append("captioned")
    if line.line_mm:
        parts.append("key-line")
    return words.capital(", ".join(parts) or "Sheet")


def _equal_margins(margins: Margins) -> bool:
    return margins.top == margins.right == margins.bottom == margins.left


def _margin_words(margins: Margins, units: str) -> str:
    sides = (margins.top, margins.right, margins.bottom, margins.left)
    if _equal_margins(margins):
        return f"border {words.small(sides[0], units)}"
    shown = [words.small(side, units) for side in sides]
    return "border " + ", ".join([*(part.split(" ")[0] for part in shown[:-1]), shown[-1]])


def _sides(line: FinishLine, units: str) -> str:
    if line.wrap_own:
        return "the picture's own edge"
    text = "mirrored" if line.wrap_strip_mm is None else "from an edge strip"
    if line.wrap_soften_mm:
        text += ", softened"
    if line.wrap_tone:
        return f"plain {'the edge’s mean' if line.wrap_tone == EDGE else tone_name(line.wrap_tone)}"
    return text
