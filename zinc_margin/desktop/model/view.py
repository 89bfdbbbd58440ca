"""The crop's view: guides, trimmed part and surround."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass
class View:
    """View options of the crop; they do not affect the print.

    Attributes
    ----------
    guide : str
        A key of `GUIDES`.
    grid : (int, int)
        Columns and rows of the guide ``grid``.
    off : str
        The look of the trimmed part: ``tinted``, ``grey`` or ``hidden``.
    surround : str
        ``zinc``, ``light``, ``mid``, ``dark`` or ``none`` (only the picture).
    picking : bool
        The next click on the sheet picks the colour of the canvas sides.
    """

    guide: str = "moving"
    grid: tuple[int, int] = (4, 3)
    off: str = "tinted"
    surround: str = "zinc"
    picking: bool = False


GUIDES: dict[str, str] = {
    "moving": "while moving",
    "thirds": "thirds",
    "diagonals": "diagonals",
    "golden": "golden section",
    "centre": "centre cross",
    "grid": "a grid",
    "mark": "through the subject",
    "safe": "safe area",
    "none": "none",
}
OFF: dict[str, str] = {"tinted": "tinted", "grey": "grey", "hidden": "hidden"}
SURROUNDS: dict[str, str] = {
    "zinc": "zinc",
    "light": "light",
    "mid": "mid grey",
    "dark": "dark",
    "none": "none",
}
