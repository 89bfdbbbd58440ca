"""Several dockets of one photo, kept in one file beside it: print, projector, entry, e-mail …"""

from __future__ import annotations

import json
from collections.abc import Sequence
from pathlib import Path

from zinc_margin.docket import document, store
from zinc_margin.docket.docket import Docket, fresh
from zinc_margin.keeping.documents import DOCKET_MARKS, document_text
from zinc_margin.keeping.files import check_ours, read_text, save_whole
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.units import usual_units

VERSION = 1
MOST = 24
NAMES = ("print", "projector", "entry", "e-mail", "proof")
"""What versions are called, as they are added; any other name can be typed."""

_KEY = "zinc_margin_versions"


def to_json(dockets: Sequence[Docket]) -> str:
    """Write versions; a single one is a plain docket.

    Parameters
    ----------
    dockets : sequence of Docket
        At least one.
    """
    if len(dockets) == 1:
        return document.to_json(dockets[0])
    plain = [json.loads(document.to_json(docket)) for docket in dockets]
    return document_text({_KEY: VERSION, "dockets": plain})


def from_json(text: str, source: str = "the docket") -> tuple[Docket, ...]:
    """Read versions, or a plain docket as the one version.

    Parameters
    ----------
    source : str
        What the sentences call it.
    """
    try:
        raw = json.loads(text)
    except (ValueError, RecursionError):
        raise BadRequest(f"{source} is no readable JSON; it was left as it is.") from None
    if not isinstance(raw, dict) or _KEY not in raw:
        return (document.from_json(text, source),)
    if raw[_KEY] != VERSION:
        raise BadRequest(
            f"{source} holds versions of kind {raw[_KEY]}; this program reads kind {VERSION}. It "
            "was left as it is."
        )
    dockets = raw.get("dockets")
    if not isinstance(dockets, list) or not 1 <= len(dockets) <= MOST:
        raise BadRequest(f"In {source}, dockets must be a list of 1 to {MOST}.")
    return tuple(document.from_json(json.dumps(each), source) for each in dockets)


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
    """Return the versions beside a photo; a fresh docket where there are none."""
    path = store.beside(photo)
    return load(path) if path.exists() else (fresh(usual_units()),)


def fresh_name(taken: Sequence[str]) -> str:
    """Return a name that none of the others has."""
    for name in NAMES:
        if name not in taken:
            return name
    return next(f"version {n}" for n in range(2, 1000) if f"version {n}" not in taken)
