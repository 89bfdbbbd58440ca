"""A watermark on a finished page: a line of text or a small picture, for screens."""

from __future__ import annotations

from zinc_margin.docket.file import FileLine
from zinc_margin.plan.finish.page import Box, Leaf, Overlay, Words

_RIM = 0.6
"""Distance from the page's edge, as a share of the mark's height."""


def mark_words(line: FileLine, text: str, leaf: Leaf) -> Words | None:
    """Return the text that is laid on; None without one."""
    if not text or line.watermark_picture:
        return None
    box, _, _ = _room(line, leaf)
    lies = {"left": "left", "right": "right"}.get(line.watermark_place.split("-")[-1], "centre")
    tone = "#ffffff"
    return Words(text, box, lies, "sans", tone, float(line.watermark_strength) / 100)


def watermark_picture(line: FileLine, leaf: Leaf) -> Overlay | None:
    """Return the picture that is laid on; None without one."""
    if not line.watermark_picture:
        return None
    box, across, down = _room(line, leaf)
    return Overlay(line.watermark_picture, box, across, down, float(line.watermark_strength) / 100)


def _room(line: FileLine, leaf: Leaf) -> tuple[Box, float, float]:
    """Return the strip of the page in which the mark lies, and where in it."""
    high = max(4, round(float(line.watermark_size) / 100 * min(leaf.width, leaf.height)))
    rim = min(round(high * _RIM), leaf.height // 4, leaf.width // 4)
    high = min(high, leaf.height - 2 * rim)
    place = line.watermark_place
    down = 0.0 if place.startswith("top") else 1.0 if place.startswith("bottom") else 0.5
    across = 0.0 if place.endswith("left") else 1.0 if place.endswith("right") else 0.5
    top = rim + round((leaf.height - 2 * rim - high) * down)
    return (rim, top, leaf.width - 2 * rim, high), across, down
