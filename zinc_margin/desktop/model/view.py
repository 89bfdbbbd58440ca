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
        How what is cut off looks: ``tinted``, ``grey`` or ``hidden``.
    surround : str
        ``zinc``, ``light``, ``mid``, ``dark``, or ``none``: the picture without a frame's effect.
    picking : bool
        The next press on the sheet takes its tone for a canvas's sides.
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
