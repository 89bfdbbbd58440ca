"""Dockets as readable JSON: exact numbers as text, unknown fields kept, wrong ones named."""

from __future__ import annotations

import dataclasses
from typing import Any

from zinc_margin.docket.crop import Frame
from zinc_margin.docket.docket import FIELDS, LINES, RENDERER, VERSION, Docket, checked
from zinc_margin.docket.file import GoalProfile
from zinc_margin.docket.finish import Margins
from zinc_margin.docket.pixels import without_removed_methods
from zinc_margin.facts.measured import Measured
from zinc_margin.keeping.documents import document_text, read_document
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.plain import Wrong, plain, text_from


def field_plain(value: Any) -> Any:
    """Return one field's value as JSON has it.

    Parameters
    ----------
    value : Any
        As JSON has it.
    """
    if isinstance(value, Measured):
        return value.plain()
    if isinstance(value, (Frame, Margins, GoalProfile)):
        parts = dataclasses.fields(value)
        return {part.name: plain(getattr(value, part.name)) for part in parts}
    return plain(value)


def to_json(docket: Docket) -> str:
    """Write a docket; `from_json` reads it back equal."""
    lines: dict[str, Any] = {"zinc_margin_docket": VERSION}
    for name, fields in FIELDS.items():
        line = getattr(docket, name)
        known = {one.key: field_plain(getattr(line, field)) for field, one in fields.items()}
        lines[name] = known | dict(line.extra)
    lines["renderer"] = docket.renderer
    if docket.version != Docket().version:
        lines["version"] = docket.version
    return document_text(lines | dict(docket.extra))


def from_json(text: str, source: str = "the docket") -> Docket:
    """Read a docket.

    Parameters
    ----------
    source : str
        What the sentences call it.

    Raises
    ------
    BadRequest
        When it is no docket, is newer than this program, or a value is wrong (named).
    """
    raw = read_document(text, source, "zinc_margin_docket", VERSION)
    lines: dict[str, Any] = {}
    for name, fields in FIELDS.items():
        held = raw.pop(name, {})
        if not isinstance(held, dict):
            raise BadRequest(f"In {source}, {name} must hold fields.")
        if name == "pixels":
            held = without_removed_methods(held)
        known = {}
        for field, one in fields.items():
            if one.key in held:
                try:
                    known[field] = checked(name, field, held.pop(one.key))
                except BadRequest as why:
                    raise BadRequest(f"In {source}, {why}") from None
        lines[name] = LINES[name](**known, extra=held)
    try:
        title = text_from(raw.pop("version", Docket().version))[:60]
    except Wrong as why:
        raise BadRequest(f"In {source}, version {why}.") from None
    renderer = raw.pop("renderer", RENDERER)
    if not isinstance(renderer, int) or isinstance(renderer, bool) or renderer < 1:
        raise BadRequest(f"In {source}, renderer must be a whole number from 1.")
    return Docket(**lines, version=title, renderer=renderer, extra=raw)
