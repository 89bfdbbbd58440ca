"""The shipped fonts; all drawn text uses them."""

from __future__ import annotations

from pathlib import Path

_FOLDER = Path(__file__).parent

FACES = {"sans": "SourceSans3-Regular", "serif": "SourceSerif4-Regular"}
"""The typefaces for printed text."""

ON_SCREEN = (
    "SourceSans3-Regular",
    "SourceSans3-Semibold",
    "SourceSans3-It",
    "SourceSerif4-Regular",
    "SourceSerif4-Semibold",
)


def font_file(name: str) -> Path:
    """Return a font file's path by its name without suffix."""
    return _FOLDER / f"{name}.otf"
