"""Map places of the photo to places of the print, and back."""

from __future__ import annotations

from zinc_margin.plan.model import PrintPlan

Box = tuple[int, int, int, int]


def on_print(plan: PrintPlan, x: float, y: float) -> tuple[float, float] | None:
    """Return the place on the print of a place in the upright photo, 0–1 each way.

    Returns
    -------
    (float, float) or None
        None if it is trimmed.
    """
    x0, xx, xy, y0, yx, yy = plan.turned.source_map(plan.crop)
    scale = xx * yy - xy * yx
    across, down = x - x0, y - y0
    u = (yy * across - xy * down) / scale / float(plan.crop.width)
    v = (xx * down - yx * across) / scale / float(plan.crop.height)
    if not (0 <= u <= 1 and 0 <= v <= 1):
        return None
    left, top, width, height = plan.picture
    return (left + u * width) / plan.pixels.width, (top + v * height) / plan.pixels.height


def same_part(other: PrintPlan, plan: PrintPlan, box: Box) -> Box:
    """Return the same part in another file of the print, which may have another pixel count.

    Parameters
    ----------
    box : (int, int, int, int)
        Left, top, width and height in the pixels of `plan`.

    Returns
    -------
    (int, int, int, int)
        The same in the pixels of `other`; at least one each way.
    """
    if (other.pixels.width, other.pixels.height) == (plan.pixels.width, plan.pixels.height):
        return box
    across = other.pixels.width / plan.pixels.width
    down = other.pixels.height / plan.pixels.height
    left, top = int(box[0] * across), int(box[1] * down)
    width = max(1, min(other.pixels.width - left, round(box[2] * across)))
    height = max(1, min(other.pixels.height - top, round(box[3] * down)))
    return left, top, width, height
