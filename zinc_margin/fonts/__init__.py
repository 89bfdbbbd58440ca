"""The fonts that ship; whoever draws letters takes them here."""

from __future__ import annotations

from pathlib import Path

_FOLDER = Path(__file__).parent

FACES = {"sans": "SourceSans3-Regular", "serif": "SourceSerif4-Regular"}
"""The faces that are printed."""

ON_SCREEN = (
    "SourceSans3-Regular",
    "SourceSans3-Semibold",
    "SourceSans3-It",
    "SourceSerif4-Regular",
    "SourceSerif4-Semibold",
)


def font_file(name: str) -> Path:
    """Return a font's file by its name without ending."""
    return _FOLDER / f"{name}.otf"
