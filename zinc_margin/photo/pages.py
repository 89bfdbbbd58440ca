"""Which page of a file of several is the photo, as a person has said, kept between starts."""

from __future__ import annotations

import json
from pathlib import Path

from zinc_margin.keeping.files import write_whole
from zinc_margin.keeping.folders import kept_with
from zinc_margin.measure.errors import CannotDo


def chosen(photo: Path) -> int | None:
    """Return the page (from 1) that was chosen; None where nobody was asked yet."""
    try:
        page = json.loads(kept_with(photo, "pages").read_text("utf-8"))["page"]
    except (OSError, ValueError, KeyError, TypeError):
        return None
    return page if isinstance(page, int) and page >= 1 else None


def choose(photo: Path, page: int) -> None:
    """Keep which page of a file is the photo.

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
        raise CannotDo(
            f"Which page of {photo.name} is meant could not be kept: {why.strerror or why}."
        ) from None
