"""The user's choices for a photo, kept between starts: subject point and page."""

from __future__ import annotations

import json
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

from zinc_margin.facts.facts import Facts
from zinc_margin.gate.files import read_own
from zinc_margin.gate.values import number, record, whole
from zinc_margin.keeping.files import write_whole
from zinc_margin.keeping.folders import kept_with
from zinc_margin.measure.errors import CannotDo

Place = tuple[Fraction, Fraction]

_PLACE = record({"x": number(0, 1), "y": number(0, 1)})
_PAGE = record({"page": whole(1, 10**6)})


def _file_of(photo: Path, page: int) -> Path:
    return kept_with(photo, "marks", f"\0{page}" if page > 1 else "")


def with_mark(facts: Facts) -> Facts:
    """Return facts with the photo's subject point, if the user set one."""
    try:
        place = read_own(_file_of(facts.path, facts.page), _PLACE, None)
    except OSError:
        return facts
    return facts if place is None else replace(facts, subject=(place["x"], place["y"]))


def mark(facts: Facts, place: Place | None) -> None:
    """Store or remove a photo's subject point.

    Parameters
    ----------
    place : Place or None
        Shares of the upright photo; None removes it.
    """
    photo = facts.path
    try:
        path = _file_of(photo, facts.page)
        if place is None:
            path.unlink(missing_ok=True)
            return
        path.parent.mkdir(parents=True, exist_ok=True)
        stored = {"photo": photo.name, "x": str(place[0]), "y": str(place[1])}
        write_whole(path, json.dumps(stored).encode("utf-8"))
    except OSError as why:
        error = why.strerror or why
        raise CannotDo(f"The subject point of {photo.name} was not saved: {error}.") from None


def chosen_page(photo: Path) -> int | None:
    """Return the chosen page (from 1); None if the user has not chosen yet."""
    try:
        chosen = read_own(kept_with(photo, "pages"), _PAGE, None)
    except OSError:
        return None
    return None if chosen is None else int(chosen["page"])


def choose(photo: Path, page: int) -> None:
    """Store which page of a file is the photo.

    Parameters
    ----------
    page : int
        From 1.
    """
    try:
        path = kept_with(photo, "pages")
        path.parent.mkdir(parents=True, exist_ok=True)
        write_whole(path, json.dumps({"photo": photo.name, "page": page}).encode("utf-8"))
    except OSError as why:
        error = why.strerror or why
        raise CannotDo(f"The chosen page of {photo.name} was not saved: {error}.") from None
