"""A watermark on a finished page, for screens: a line of text or a small picture."""

from __future__ import annotations

from dataclasses import dataclass

from zinc_margin.docket.file import FileLine
from zinc_margin.plan.finish.page import Box, Overlay, Page, Words

_RIM = 0.6
"""Distance from the page's edge, as a share of the watermark's height."""


@dataclass(frozen=True)
class Watermark:
    """The watermark of a finished page.

    Attributes
    ----------
    text, picture : str or None
        A picture file has priority.
    place : str
        One of the docket's places: ``bottom-right``.
    size : float
        Its height, percent of the page's shorter side.
    strength : float
        Its opacity, 0 to 1.
    """

    text: str | None
    picture: str | None
    place: str
    size: float
    strength: float


def watermark_of(line: FileLine) -> Watermark | None:
    """Return the watermark of a File line, or None."""
    if not line.watermark and not line.watermark_picture:
        return None
    return Watermark(
        line.watermark,
        line.watermark_picture,
        line.watermark_place,
        float(line.watermark_size),
        float(line.watermark_strength) / 100,
    )


def watermark_words(mark: Watermark, text: str, page: Page) -> Words | None:
    """Return the watermark's text with its fields filled in, or None."""
    if not text or mark.picture:
        return None
    box, _, _ = _room(mark, page)
    lies = {"left": "left", "right": "right"}.get(mark.place.split("-")[-1], "centre")
    return Words(text, box, lies, "sans", "#ffffff", mark.strength)


def watermark_picture(mark: Watermark | None, page: Page) -> Overlay | None:
    """Return the watermark's picture, or None."""
    if mark is None or not mark.picture:
        return None
    box, across, down = _room(mark, page)
    return Overlay(mark.picture, box, across, down, mark.strength)


def _room(mark: Watermark, page: Page) -> tuple[Box, float, float]:
    """Return the watermark's strip of the page, and its place in it."""
    high = max(4, round(mark.size / 100 * min(page.width, page.height)))
    rim = min(round(high * _RIM), page.height // 4, page.width // 4)
    high = min(high, page.height - 2 * rim)
    place = mark.place
    down = 0.0 if place.startswith("top") else 1.0 if place.startswith("bottom") else 0.5
    across = 0.0 if place.endswith("left") else 1.0 if place.endswith("right") else 0.5
    top = rim + round((page.height - 2 * rim - high) * down)
    return (rim, top, page.width - 2 * rim, high), across, down
