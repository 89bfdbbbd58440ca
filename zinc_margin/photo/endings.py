"""File name suffixes of photos, for folders and file dialogs."""

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
    """Return the photos in a folder, sorted by name, without hidden ones and subfolders."""
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
    """Return suffixes as case-insensitive patterns for a file dialog."""
    return " ".join(f"*{each}" for one in endings for each in (one, one.upper()))
