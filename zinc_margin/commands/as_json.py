"""The command line's JSON answers: one object each, starting with the schema number."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from zinc_margin.facts.facts import Facts
from zinc_margin.gate.documents import document_text
from zinc_margin.measure.resolution import reach
from zinc_margin.plan.model import Plan
from zinc_margin.plan.parts import Sides
from zinc_margin.plan.size.ladder import Rung
from zinc_margin.plan.size.needs import Need
from zinc_margin.plan.size.suitability import Carried
from zinc_margin.plan.text.notes import note_text
from zinc_margin.plan.text.on_paper import paper_name
from zinc_margin.plan.text.reasons import reason_for, reason_of

_SCHEMA = 1


def exact(value: Fraction | float) -> int | float:
    """Return a number for JSON, as an integer if it is whole."""
    if isinstance(value, Fraction) and value.denominator == 1:
        return value.numerator
    return float(value)


def _sides(sides: Sides) -> dict[str, int | float]:
    return {name: exact(getattr(sides, name)) for name in ("left", "top", "right", "bottom")}


def photo_report(facts: Facts) -> dict[str, Any]:
    """Return the object's `photo` part."""
    return {
        "path": str(facts.path),
        "width_px": facts.width,
        "height_px": facts.height,
        "tag_ppi": None if facts.tag_x is None else exact(facts.tag_x),
        "bits": facts.bits,
        "profile": facts.profile,
        "orientation": facts.orientation,
        "jpeg_quality": facts.jpeg_quality,
        "page": facts.page,
        "pages": facts.pages,
    }


def plan_report(facts: Facts, plan: Plan) -> dict[str, Any]:
    """Return the whole object of ``plan --json``; see docs/json.md."""
    crop, pixels, sharpen = plan.crop, plan.pixels, plan.sharpen
    left, top, width, height = plan.picture
    size_inches = (plan.size.width_mm / Fraction(127, 5), plan.size.height_mm / Fraction(127, 5))
    return {
        "photo": photo_report(facts),
        "print": _print_report(plan),
        "measured": None
        if facts.measured is None
        else {"digest": facts.digest} | facts.measured.plain(),
        "crop": {
            "left_px": exact(crop.left),
            "top_px": exact(crop.top),
            "width_px": exact(crop.width),
            "height_px": exact(crop.height),
            "angle_deg": exact(plan.docket.crop.turn),
            "trimmed_share": plan.trimmed_share,
            "trimmed_mm": _sides(plan.trimmed_mm),
            "bands_mm": _sides(plan.bands_mm),
            "unseen_mm": _sides(plan.unseen_mm),
        },
        "picture": {"left_px": left, "top_px": top, "width_px": width, "height_px": height},
        "pixels": {
            "method": pixels.method or "keep",
            "width_px": pixels.width,
            "height_px": pixels.height,
            "ppi_x": exact(pixels.width / size_inches[0]),
            "ppi_y": exact(pixels.height / size_inches[1]),
            "tag_x": list(pixels.tag_x),
            "tag_y": list(pixels.tag_y),
            "scale": exact(pixels.scale),
            "doublings": pixels.doublings,
            "clean": pixels.repair.clean,
            "denoise": pixels.repair.denoise,
            "dehalo": pixels.repair.dehalo,
        },
        "by": plan.maker.key,
        "target_ppi": exact(plan.target_ppi),
        "floor_ppi": exact(plan.floor_ppi),
        "effective_ppi": exact(plan.effective_ppi),
        "true_ppi": plan.true_ppi,
        "judged_ppi": plan.judged_ppi,
        "grade": plan.grade,
        "reason": reason_of(plan),
        "sharp_from_mm": plan.sharp_from_mm,
        "distance_mm": [plan.near_mm, plan.far_mm],
        "sharpen": None
        if sharpen is None
        else {
            "paper": sharpen.paper,
            "process": sharpen.process,
            "paper_sigma_mm": sharpen.paper_mm,
            "sigma_mm": sharpen.sigma_mm,
            "sigma_px": sharpen.sigma_px,
            "amount": sharpen.amount,
            "acutance_before": sharpen.acutance_before,
            "acutance_after": sharpen.acutance_after,
            "crispness": None
            if sharpen.crispness is None
            else dict(
                zip(("near_before", "near", "far_before", "far"), sharpen.crispness, strict=True)
            ),
            "edges": None
            if sharpen.edges is None
            else dict(zip(("near_before", "near"), sharpen.edges, strict=True)),
            "bound": sharpen.bound,
            "lean": sharpen.breadth,
            "halo_limit": sharpen.halo,
            "noise_floor": sharpen.noise,
        },
        "sheet": _sheet_report(plan),
        "pieces": _pieces_report(plan),
        "file": {
            "format": plan.file.format,
            "bits": plan.file.bits,
            "quality": plan.file.quality if plan.file.lossy else None,
            "bytes_estimate": plan.file.bytes_estimate,
            "max_bytes": plan.file.max_bytes,
            "limited": _limited(plan),
        },
        "notes": [{"code": note.code, "text": note_text(note)} for note in plan.notes],
    }


def _limited(plan: Plan) -> dict[str, Any] | None:
    """Return what the byte limit changes; None if nothing."""
    fit = plan.file.fit
    if fit is None:
        return None
    return {
        "ppi": list(fit.ppi),
        "quality": list(fit.quality) if plan.file.lossy else None,
        "bytes_without": fit.free_bytes,
    }


def _sheet_report(plan: Plan) -> dict[str, Any]:
    """Return the finished page, and the print's place on it."""
    whole, sheet = plan.whole, plan.sheet
    names = ("top", "right", "bottom", "left")
    nothing = (Fraction(0),) * 4
    parts = {
        "margins_mm": nothing if sheet is None else sheet.margins_mm,
        "lost_mm": nothing if sheet is None else sheet.lost_mm,
    }
    around = sheet.around if sheet is not None else None
    return {
        "width_mm": exact(whole.width_mm),
        "height_mm": exact(whole.height_mm),
        "width_px": whole.width,
        "height_px": whole.height,
        "tag_x": list(whole.tag_x),
        "tag_y": list(whole.tag_y),
        "left_px": 0 if sheet is None else sheet.left,
        "top_px": 0 if sheet is None else sheet.top,
        "face_mm": [exact(side) for side in sheet.face_mm]
        if sheet is not None
        else [exact(whole.width_mm), exact(whole.height_mm)],
        "side_px": [0, 0] if around is None else [around.across, around.down],
    } | {
        key: {name: exact(side) for name, side in zip(names, sides, strict=True)}
        for key, sides in parts.items()
    }


def _pieces_report(plan: Plan) -> dict[str, Any] | None:
    pieces = plan.pieces
    if pieces is None:
        return None
    return {
        "rows": pieces.rows,
        "columns": pieces.columns,
        "join_px": list(pieces.join),
        "paper": paper_name(pieces),
        "waste": pieces.waste,
        "each": [
            {
                "number": piece.number,
                "row": piece.row,
                "column": piece.column,
                "part_px": list(piece.part),
                "left_px": piece.left,
                "top_px": piece.top,
                "sheet_mm": [exact(piece.page.width_mm), exact(piece.page.height_mm)],
                "sheet_px": [piece.page.width, piece.page.height],
            }
            for piece in pieces.each
        ],
    }


def rung_report(rung: Rung, plan: Plan) -> dict[str, Any]:
    """Return one row of ``ladder --json``."""
    return {
        "label": rung.size.label,
        "family": rung.size.family,
        "width_mm": exact(rung.size.width_mm),
        "height_mm": exact(rung.size.height_mm),
        "trimmed_share": rung.trimmed_share,
        "effective_ppi": rung.effective_ppi,
        "judged_ppi": rung.judged_ppi,
        "enlargement": rung.enlargement,
        "sharp_from_mm": rung.sharp_from_mm,
        "grade": rung.grade,
        "reason": reason_for(rung, plan),
    }


def carried_report(row: Carried) -> dict[str, Any]:
    """Return one row of ``compare --json``."""
    result = row.plan
    return {
        "photo": photo_report(row.facts),
        "print": _print_report(result),
        "trimmed_share": result.trimmed_share,
        "effective_ppi": exact(result.effective_ppi),
        "enlargement": result.enlargement,
        "sharp_from_mm": result.sharp_from_mm,
        "distance_mm": [result.near_mm, result.far_mm],
        "grade": result.grade,
        "reason": reason_of(result),
    }


def _print_report(plan: Plan) -> dict[str, Any]:
    return {
        "label": plan.size.label,
        "width_mm": exact(plan.size.width_mm),
        "height_mm": exact(plan.size.height_mm),
    }


def need_report(row: Need) -> dict[str, Any]:
    """Return one row of ``needs --json``."""
    return {
        "for": row.code,
        "ppi": exact(row.ppi),
        "width_px": row.pixels[0],
        "height_px": row.pixels[1],
        "distance_mm": row.mm,
    }


def reach_report(facts: Facts, ppis: list[Fraction]) -> dict[str, Any]:
    """Return the object of ``reach --json``."""
    rows = []
    for ppi in ppis:
        width, height = reach(facts.width, facts.height, ppi)
        rows.append({"ppi": exact(ppi), "width_mm": exact(width), "height_mm": exact(height)})
    return {"photo": photo_report(facts), "reach": rows}


def print_json(answer: dict[str, Any]) -> None:
    """Print a command's answer as one JSON object, starting with the schema number."""
    print(document_text({"schema": _SCHEMA, **answer}), end="")
