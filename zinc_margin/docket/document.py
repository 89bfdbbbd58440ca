"""Dockets as readable JSON: exact numbers as text; unknown fields kept; errors named."""

from __future__ import annotations

import dataclasses
from typing import Any

from zinc_margin.docket.crop import Frame
from zinc_margin.docket.docket import FIELDS, LINES, RENDERER, VERSION, Docket, check_value
from zinc_margin.docket.file import GoalProfile
from zinc_margin.docket.finish import Margins
from zinc_margin.docket.pixels import without_removed_methods
from zinc_margin.facts.measurements import Measured
from zinc_margin.gate.documents import content, document_text, parse
from zinc_margin.gate.values import Wrong, plain, text_from
from zinc_margin.measure.errors import BadRequest


def field_plain(value: Any) -> Any:
    """Return one field's value as plain JSON data.

    Parameters
    ----------
    value : Any
        A JSON value.
    """
    if isinstance(value, Measured):
        return value.plain()
    if isinstance(value, (Frame, Margins, GoalProfile)):
        parts = dataclasses.fields(value)
        return {part.name: plain(getattr(value, part.name)) for part in parts}
    return plain(value)


def to_plain(docket: Docket) -> dict[str, Any]:
    """Return a docket as plain JSON data; `from_plain` restores it exactly."""
    lines: dict[str, Any] = {"zinc_margin_docket": VERSION}
    for name, fields in FIELDS.items():
        line = getattr(docket, name)
        known = {one.key: field_plain(getattr(line, field)) for field, one in fields.items()}
        lines[name] = known | dict(line.extra)
    lines["renderer"] = docket.renderer
    if docket.version != Docket().version:
        lines["version"] = docket.version
    return lines | dict(docket.extra)


def to_json(docket: Docket) -> str:
    """Return a docket as the text of its file; `from_json` restores it exactly."""
    return document_text(to_plain(docket))


def from_json(text: str, source: str = "the docket") -> Docket:
    """Read a docket's text; see `from_plain`."""
    return from_plain(parse(text, source), source)


def from_plain(plain_docket: Any, source: str = "the docket") -> Docket:
    """Read a docket from plain JSON data.

    Parameters
    ----------
    source : str
        Its name in error sentences.

    Raises
    ------
    BadRequest
        If it is not a docket, is newer than this program, or has a wrong value (named).
    """
    raw = content(plain_docket, source, "zinc_margin_docket", VERSION)
    lines: dict[str, Any] = {}
    for name, fields in FIELDS.items():
        held = raw.pop(name, {})
        if not isinstance(held, dict):
            raise BadRequest(f"In {source}, {name} must be an object of fields.")
        if name == "pixels":
            held = without_removed_methods(held)
        known = {}
        for field, one in fields.items():
            if one.key in held:
                try:
                    known[field] = check_value(name, field, held[one.key])
                except BadRequest as why:
                    raise BadRequest(f"In {source}, {why}") from None
        keys = {one.key for one in fields.values()}
        extra = {key: value for key, value in held.items() if key not in keys}
        lines[name] = LINES[name](**known, extra=extra)
    try:
        name = raw.pop("version", "")
        title = text_from(name)[:60] if name != "" else ""
    except Wrong as why:
        raise BadRequest(f"In {source}, version {why}.") from None
    renderer = raw.pop("renderer", RENDERER)
    if not isinstance(renderer, int) or isinstance(renderer, bool) or renderer < 1:
        raise BadRequest(f"In {source}, renderer must be a whole number from 1.")
    return Docket(**lines, version=title, renderer=renderer, extra=raw)
