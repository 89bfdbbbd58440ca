"""Captions: fields filled from the photo, the plan and the docket."""

from __future__ import annotations

import re

from zinc_margin.docket.finish import FinishLine
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.errors import BadRequest

FIELDS = ("name", "title", "date", "author", "edition", "size")
"""Fields that a caption may contain in braces."""


def caption_rows(text: str | None) -> list[str]:
    """Return a caption's rows as typed, without empty ones."""
    return [row for row in (text or "").splitlines() if row.strip()]


def fill_caption(text: str | None, facts: Facts, line: FinishLine, size: str) -> str:
    """Return one row with its fields filled in; drop separators next to empty fields.

    Parameters
    ----------
    text : str or None
        Text with fields in braces; line breaks become spaces.
    size : str
        The print's size as text.

    Raises
    ------
    BadRequest
        If a field is unknown.
    """
    if not text:
        return ""
    values = {
        "name": facts.path.stem,
        "title": facts.said.title,
        "date": facts.said.date,
        "author": facts.said.author,
        "edition": line.edition or "",
        "size": size,
    }
    text = " ".join(text.splitlines())
    values = {name: " ".join(value.splitlines()) for name, value in values.items()}
    unknown = [name for name in re.findall(r"\{([^{}]*)\}", text) if name not in values]
    if unknown:
        known = ", ".join("{" + name + "}" for name in FIELDS)
        raise BadRequest(f"Unknown caption field {{{unknown[0]}}}. Use one of: {known}.")
    result = re.sub(r"\{([^{}]*)\}", lambda match: values[match[1]], text)
    parts = re.split(r"\s*([,;·|–—])\s*", result)
    stored = parts[0].strip()
    for mark, part in zip(parts[1::2], parts[2::2], strict=True):
        if part.strip():
            space = "" if mark in ",;" else " "
            stored = f"{stored}{space}{mark} {part.strip()}" if stored else part.strip()
    return stored
