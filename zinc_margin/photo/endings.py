"""By which endings photos are told in a folder, and in the dialogs that ask for them."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

from zinc_margin.measure.errors import CannotDo

PHOTO_ENDINGS = (
    ".jpg",
    ".jpeg",
    ".png",
    ".tif",
    ".tiff",
    ".psd",
    ".psb",
    ".webp",
    ".avif",
    ".heic",
    ".heif",
    ".jxl",
)


def photos_in(folder: Path) -> list[Path]:
    """Return the photos of a folder by name, without hidden ones and those of folders in it."""
    try:
        rows = sorted(folder.iterdir())
    except OSError as why:
        raise CannotDo(f"The folder {folder} could not be read: {why.strerror}.") from None
    return [
        path
        for path in rows
        if path.suffix.lower() in PHOTO_ENDINGS and path.is_file() and not path.name.startswith(".")
    ]


def with_both_cases(endings: Iterable[str]) -> str:
    """Return endings as patterns for a dialog that minds capitals."""
    return " ".join(f"*{each}" for one in endings for each in (one, one.upper()))
