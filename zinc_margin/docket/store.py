"""Docket files: next to their photos, or at a path that the user chose."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.document import from_json, to_json
from zinc_margin.facts.facts import Facts
from zinc_margin.gate.documents import DOCKET_MARKS
from zinc_margin.gate.files import read_text
from zinc_margin.keeping.files import check_ours, save_whole


def with_measured(docket: Docket, facts: Facts) -> Docket:
    """Return the docket with its photo's measurements, so it always produces the same bits."""
    page = facts.page if facts.pages > 1 else None
    stored = docket.photo
    if facts.measured is None or (stored.digest, stored.page) == (facts.digest, page):
        return docket
    photo = replace(stored, digest=facts.digest, measured=facts.measured, page=page)
    return replace(docket, photo=photo)


def beside(photo: Path) -> Path:
    """Return the path of the docket next to a photo."""
    return photo.with_name(photo.name + ".docket.json")


def save(docket: Docket, path: Path) -> None:
    """Write a docket's file, whole or not at all."""
    check_ours(path, *DOCKET_MARKS)
    save_whole(path, to_json(docket))


def load(path: str | Path) -> Docket:
    """Read a docket from a file."""
    return from_json(read_text(Path(path)), str(path))
