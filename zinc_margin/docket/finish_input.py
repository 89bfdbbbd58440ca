"""Read typed text into the fields of the Finish line."""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Any

from zinc_margin.docket.docket import check_value
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import nothing_or, parse_length, parse_number, plain_text
from zinc_margin.measure.sizes import parse_size
from zinc_margin.measure.tones import parse_tone


def parse_wrap(text: str) -> dict[str, Fraction]:
    """Read canvas sides: the bar depth and an optional fold at the back: ``32mm+14mm``."""
    parts = text.split("+")
    if len(parts) > 2:
        raise BadRequest(f"--wrap {text} is not readable. Type it like this: 32mm+14mm.")
    fields = {"wrap_mm": nothing_or(parts[0])}
    if len(parts) == 2:
        fields["tuck_mm"] = nothing_or(parts[1])
    return {name: check_value("finish", name, str(value)) for name, value in fields.items()}


def parse_pieces(text: str) -> dict[str, Any]:
    """Read the paper for a picture in pieces: a sheet, or a roll's width (``91cm-roll``)."""
    roll = re.fullmatch(r"(?:roll\s+)?(.+?)[\s-]*roll|roll\s+(.+)", plain_text(text))
    if roll is not None:
        return {"roll_mm": parse_length(roll[1] or roll[2]), "pieces": None}
    return {"pieces": parse_size(text), "roll_mm": None}


def parse_share(text: str) -> Fraction:
    """Read a percentage as a share from 0 to 1."""
    share = parse_number(text.strip().removesuffix("%").strip(), "percentage") / 100
    if not 0 <= share <= 1:
        raise BadRequest(f"“{text}” is not a percentage from 0 to 100 %.")
    return share


def parse_overspill(text: str) -> dict[str, Fraction | None]:
    """Read an overspill: a length, or a percentage of the longer side."""
    if text.strip().endswith("%"):
        share = parse_number(text.strip()[:-1].strip(), "percentage") / 100
        share_kept = check_value("size", "overspill_share", str(share))
        return {"overspill_share": share_kept, "overspill_mm": None}
    return {"overspill_mm": parse_length(text, "mm"), "overspill_share": None}


def parse_key_line(text: str) -> dict[str, Any]:
    """Read a key-line: its width, with optional colour and distance."""
    parts = [part.strip() for part in text.split(",")]
    fields: dict[str, Any] = {"line_mm": nothing_or(parts[0])}
    if len(parts) > 1:
        fields["line_tone"] = parse_tone(parts[1])
    if len(parts) > 2:
        fields["line_gap_mm"] = nothing_or(parts[2])
    if len(parts) > 3:
        raise BadRequest(f"--key-line {text} is not readable. Type it like this: 0.3mm,black,2mm.")
    return fields


def parse_grid(text: str) -> tuple[int, int]:
    """Read ``4x5``: columns and rows."""
    match = re.fullmatch(r"\s*(\d{1,2})\s*[x×*]\s*(\d{1,2})\s*", text)
    if match is None or "0" in (match[1], match[2]):
        raise BadRequest(f"“{text}” is not a grid. Type columns and rows, for example 4x5.")
    return int(match[1]), int(match[2])
