"""Several dockets of one photo in one file next to it: print, projector, entry, e-mail …"""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any

from zinc_margin.docket import document, store
from zinc_margin.docket.docket import Docket, fresh
from zinc_margin.gate.documents import DOCKET_MARKS, content, document_text, parse
from zinc_margin.gate.files import read_text
from zinc_margin.keeping.files import check_ours, save_whole
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.units import usual_units

VERSION = 1
MOST = 24

_KEY = "zinc_margin_versions"


def to_json(dockets: Sequence[Docket]) -> str:
    """Write versions; a single one becomes a plain docket.

    Parameters
    ----------
    dockets : sequence of Docket
        At least one.
    """
    return document_text(to_plain(dockets))


def to_plain(dockets: Sequence[Docket]) -> dict[str, Any]:
    """Return versions as plain JSON data; a single one becomes a plain docket."""
    if len(dockets) == 1:
        return document.to_plain(dockets[0])
    return {_KEY: VERSION, "dockets": [document.to_plain(docket) for docket in dockets]}


def from_json(text: str, source: str = "the docket") -> tuple[Docket, ...]:
    """Read versions, or a plain docket as the only version."""
    return from_plain(parse(text, source), source)


def from_plain(raw: Any, source: str) -> tuple[Docket, ...]:
    """Read versions from plain JSON data, or a plain docket as the only version."""
    if not isinstance(raw, dict) or _KEY not in raw:
        return (document.from_plain(raw, source),)
    dockets = content(raw, source, _KEY, VERSION).get("dockets")
    if not isinstance(dockets, list) or not 1 <= len(dockets) <= MOST:
        raise BadRequest(f"In {source}, dockets must be a list of 1 to {MOST}.")
    return tuple(document.from_plain(each, source) for each in dockets)


def load(path: Path) -> tuple[Docket, ...]:
    """Read the versions in a file."""
    return from_json(read_text(path), str(path))


def save(dockets: Sequence[Docket], path: Path) -> None:
    """Write versions, whole or not at all.

    Parameters
    ----------
    dockets : sequence of Docket
        At least one.
    """
    check_ours(path, *DOCKET_MARKS)
    save_whole(path, to_json(dockets))


def beside_or_fresh(photo: Path) -> tuple[Docket, ...]:
    """Return the versions stored next to a photo, or a fresh docket."""
    path = store.beside(photo)
    return load(path) if path.exists() else (fresh(usual_units()),)
