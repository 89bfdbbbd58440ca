"""The Finish line in words: what the sheet is, what it does to the print, and its notes."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.finish import FinishLine, Margins
from zinc_margin.measure import words
from zinc_margin.measure.sizes import PrintSize, catalogue
from zinc_margin.measure.tones import EDGE, tone_name
from zinc_margin.plan.model import Note, Plan
from zinc_margin.plan.pieces import edges_for, pieces_told
from zinc_margin.plan.reach import maker_of
from zinc_margin.plan.sheets import overspill_of, side_mm

_PAPERS = ("paper", "paper inch")
_MARK_ROOM_MM = Fraction(6)
SIDE_NAMES = ("top", "right", "bottom", "left")


def finish_rows(plan: Plan, units: str = "cm") -> tuple[str, str]:
    """Return the decision and the consequence of the Finish line."""
    line, sheet = plan.docket.finish, plan.sheet
    size = words.pair(plan.size.width_mm, plan.size.height_mm, units)
    if sheet is None:
        decision, consequence = "Plain sheet", f"The sheet is the print: {size}."
    else:
        decision = _decision(plan, units)
        whole = words.pair(sheet.leaf.width_mm, sheet.leaf.height_mm, units)
        if side_mm(line):
            face = words.pair(*sheet.face_mm, units)
            consequence = f"Face {face}, sides {_sides(line, units)}; {whole} in all."
        elif any(sheet.lost_mm):
            consequence = f"The picture is {size}; the printer's edge takes some of it."
        else:
            consequence = f"The picture is {size} of {whole}."
    if plan.pieces is not None:
        laid, each = pieces_told(plan.pieces, plan.whole, units)
        decision = laid if sheet is None else f"{decision}, in pieces"
        joined = f"joined {size if sheet is None else whole}."
        consequence = f"{each}, {joined}" if sheet is None else f"{laid}, {joined}"
    return decision, consequence


def _decision(plan: Plan, units: str) -> str:
    line = plan.docket.finish
    parts = []
    if side_mm(line):
        depth = words.small(line.wrap_mm, units)
        tuck = f" + {words.small(line.tuck_mm, units)} tuck" if line.tuck_mm else ""
        parts.append(f"Canvas, bars {depth}{tuck}")
    elif line.make_up and overspill_of(plan.docket, plan.size):
        parts.append("Overspill made up for")
    if line.sheet is not None:
        parts.append(f"On {line.sheet.label}" if not parts else f"on {line.sheet.label}")
    if line.margins is not None:
        parts.append(_margin_words(line.margins, units))
    if line.bleed_mm:
        parts.append(f"bleed {words.small(line.bleed_mm, units)}")
    if line.marks:
        parts.append("crop marks")
    if line.caption or line.foot:
        parts.append("captioned")
    if line.line_mm:
        parts.append("key-line")
    told = ", ".join(parts) or "Sheet"
    return told[:1].upper() + told[1:]


def _margin_words(margins: Margins, units: str) -> str:
    sides = (margins.top, margins.right, margins.bottom, margins.left)
    if len(set(sides)) == 1:
        return f"border {words.small(sides[0], units)}"
    shown = [words.small(side, units) for side in sides]
    return "border " + ", ".join([*(part.split(" ")[0] for part in shown[:-1]), shown[-1]])


def _sides(line: FinishLine, units: str) -> str:
    if line.wrap_own:
        return "from its own edge"
    told = "mirrored" if line.wrap_strip_mm is None else "drawn out"
    if line.wrap_soften_mm:
        told += ", softened"
    if line.wrap_tone and line.wrap_strength:
        tone = "the edge's mean" if line.wrap_tone == EDGE else tone_name(line.wrap_tone)
        much = words.trimmed_zeros(line.wrap_strength, 0)
        told = f"plain {tone}" if line.wrap_strength == 100 else f"{told}, {tone} at {much} %"
    return told


def finish_notes(plan: Plan, units: str) -> Iterator[Note]:
    """Yield what is odd about the sheet."""
    yield from _edges(plan, units)
    docket, line, sheet = plan.docket, plan.docket.finish, plan.sheet
    fold = side_mm(line)
    if fold and line.wrap_own and sheet is not None:
        face = words.pair(*sheet.face_mm, units)
        yield Note(
            "own-edge", "finish",
            f"The sides take {words.small(fold, units)} of the picture all round: from the front "
            f"{face} of it are seen.",
            (("Make the sides from the edge instead", _finish(docket, wrap_own=False)),),
        )  # fmt: skip
    plain_tone = line.wrap_tone and line.wrap_strength == 100
    if fold and not line.wrap_own and not plain_tone and line.wrap_strip_mm is None:
        softer = _finish(
            docket, wrap_strip_mm=fold * Fraction(2, 5), wrap_soften_mm=fold * Fraction(1, 4)
        )
        if not line.wrap_soften_mm:
            yield Note(
                "mirrored", "finish",
                "A plain mirror shows whatever lies near the edge twice; drawn out and softened, "
                "nothing can be recognised.",
                (("Draw the edge out and soften it", softer),),
            )  # fmt: skip
    if plan.pieces is not None and len(plan.pieces.each) > 1:
        bare = sum(not piece.words for piece in plan.pieces.each)
        if bare:
            room = max(edges_for(docket)) + _MARK_ROOM_MM
            yield Note(
                "no-room-for-marks", "finish",
                f"{bare} of the {len(plan.pieces.each)} pieces fill their sheets, so there is no "
                "room for joining marks and labels; the map and the files' names tell them apart.",
                ((f"Leave {words.small(_MARK_ROOM_MM, units)} for them",
                  _finish(docket, edge_mm=room)),),
            )  # fmt: skip


def _edges(plan: Plan, units: str) -> Iterator[Note]:
    """Say what the printer's unprintable edge takes, and the largest picture that survives."""
    docket, sheet = plan.docket, plan.sheet
    maker = maker_of(docket.size)
    edges = maker.edges
    if edges is None or plan.pieces is not None:
        return
    paper, width, height = docket.finish.sheet, plan.whole.width_mm, plan.whole.height_mm
    if sheet is not None:
        lost, kept = sheet.lost_mm, sheet.kept_mm
    elif _is_paper(plan.size) and not overspill_of(docket, plan.size):
        lost, kept = edges, (width - edges[1] - edges[3], height - edges[0] - edges[2])
        paper = plan.size
    else:
        return
    if not any(lost) or kept is None:
        return
    sides = ", ".join(
        f"{words.small(mm, units)} {side}" for mm, side in zip(lost, SIDE_NAMES, strict=True) if mm
    )
    ways: tuple[tuple[str, Docket], ...] = ()
    if paper is not None:
        scaled = _finish(docket, sheet=paper, scales=True, margins=Margins(*edges), make_up=False)
        ways = ((f"Make the picture {words.pair(*kept, units)}, which survives whole", scaled),)
    yield Note(
        "unprintable-edge", "finish",
        f"The {maker.name} cannot print to the paper's edge: of the picture {sides} are lost.",
        ways, grave=True,
    )  # fmt: skip


def _is_paper(size: PrintSize) -> bool:
    """Tell whether a print is as large as a paper that is sold."""
    sides = sorted((size.width_mm, size.height_mm))
    return any(
        sides == sorted((paper.width_mm, paper.height_mm))
        for paper in catalogue()
        if paper.family in _PAPERS
    )


def _finish(docket: Docket, **fields: object) -> Docket:
    return replace(docket, finish=replace(docket.finish, **fields))  # type: ignore[arg-type]
