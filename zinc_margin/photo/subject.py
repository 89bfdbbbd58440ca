"""The user's choices for a photo, kept between starts: subject point and page."""

from __future__ import annotations

import json
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

from zinc_margin.facts.facts import Facts
from zinc_margin.keeping.files import write_whole
from zinc_margin.keeping.folders import kept_with
from zinc_margin.measure.errors import CannotDo

Place = tuple[Fraction, Fraction]


def _file_of(photo: Path, page: int) -> Path:
    return kept_with(photo, "marks", f"\0{page}" if page > 1 else "")


def with_mark(facts: Facts) -> Facts:
    """Return facts with the photo's subject point, if the user set one."""
    try:
        record = json.loads(_file_of(facts.path, facts.page).read_text("utf-8"))
        x, y = Fraction(record["x"]), Fraction(record["y"])
    except (OSError, ValueError, KeyError, TypeError, ZeroDivisionError):
        return facts
    return replace(facts, subject=(x, y)) if 0 <= x <= 1 and 0 <= y <= 1 else facts


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
        page = json.loads(kept_with(photo, "pages").read_text("utf-8"))["page"]
    except (OSError, ValueError, KeyError, TypeError):
        return None
    return page if isinstance(page, int) and page >= 1 else None


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
