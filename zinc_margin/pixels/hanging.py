"""Show a print in a photograph of a room: in perspective, framed or on bars, simply lit."""

from __future__ import annotations

import math

import numpy as np
from PIL import Image, ImageChops, ImageDraw, ImageFilter

from zinc_margin.measure.room_marks import Spot
from zinc_margin.plan.finish.own_wall import FRAME_FACE_MM, Hung, Quad, Side
from zinc_margin.plan.finish.preview import face_on_page
from zinc_margin.plan.finish.wall import frame_of, hung_size
from zinc_margin.plan.model import PrintPlan

_BOARD, _BEVEL, _CUT, _MOULDING = (239, 239, 236), (255, 255, 255), (205, 205, 202), (52, 51, 49)
_EDGE = (235, 235, 233)
"""Colour of bare paper."""
_FINE = 4
"""Draw outlines this many times larger, then reduce them, for smooth edges."""
_WHITE = 0.9
"""The light that white paper reflects, relative to the brightest surface in the room."""
_UNEVEN = 0.7, 1.3  # limits of the light's unevenness, against misplaced samples
_SHADOW = 0.45  # share of the light that is blocked; indoors a shadow is never black


def hang(room: np.ndarray, page: np.ndarray, plan: PrintPlan, hung: Hung) -> np.ndarray:
    """Return the room with the print on its wall.

    Parameters
    ----------
    room : ndarray
        (H, W, 3), uint8, sRGB.
    page : ndarray
        (h, w, 3), uint8, sRGB: the plan's page, reduced.
    hung : Hung
        Positions in pixels of the room.
    """
    out = Image.fromarray(room)
    _cast(out, hung)
    linear = _linear(room)
    light = _light(linear, hung)
    longest = max(math.dist(hung.face[at], hung.face[at - 1]) for at in range(4))
    face = _face(page, plan, max(16, int(longest * 1.2)))
    for side in hung.sides:
        _lay(out, _side(page, plan, side), side.quad, light, side.shade)
    _lay(out, face, hung.face, light, 1.0)
    return np.asarray(out)


def _linear(codes: np.ndarray) -> np.ndarray:
    values = codes.astype(np.float32) / 255
    return np.where(values <= 0.04045, values / 12.92, ((values + 0.055) / 1.055) ** 2.4)


def _codes(linear: np.ndarray) -> np.ndarray:
    kept = np.clip(linear, 0, 1)
    values = np.where(kept <= 0.0031308, kept * 12.92, 1.055 * kept ** (1 / 2.4) - 0.055)
    return np.rint(values * 255).astype(np.uint8)


def _light(linear: np.ndarray, hung: Hung) -> tuple[np.ndarray, np.ndarray]:
    """Return the brightness of white paper at the four corners, and these corners (4, 2)."""
    luminance = linear @ np.array([0.2126, 0.7152, 0.0722], np.float32)
    white = _WHITE * float(np.clip(np.quantile(luminance[::4, ::4], 0.9), 0.3, 1.0))
    sides = np.array([_median_luminance(luminance, spots) for spots in hung.ring])
    even = sides.mean()
    share = np.clip(sides / even if even > 0 else np.ones(4), *_UNEVEN)
    top, right, bottom, left = share
    corners = np.array([top + left, top + right, bottom + right, bottom + left]) / 2
    return white * corners, np.array(hung.face)


def _median_luminance(luminance: np.ndarray, spots: tuple[Spot, ...]) -> float:
    """Return the median luminance around some places; for places outside, at the nearest one."""
    high, wide = luminance.shape
    reach = max(1, min(high, wide) // 200)
    values = []
    for x, y in spots:
        at_x = int(np.clip(x, reach, wide - 1 - reach))
        at_y = int(np.clip(y, reach, high - 1 - reach))
        values.append(
            luminance[at_y - reach : at_y + reach + 1, at_x - reach : at_x + reach + 1].mean()
        )
    return float(np.median(values))


def _cast(out: Image.Image, hung: Hung) -> None:
    """Darken the wall in the object's shadow."""
    soft = max(0.6, hung.soft_px)
    box = _box([hung.shadow, hung.face], out.size, int(3 * soft) + 2)
    if box is None:
        return
    mask = _outline(hung.shadow, box).filter(ImageFilter.GaussianBlur(soft))
    part = out.crop(box)
    dark = _codes(_linear(np.asarray(part)) * np.float32(1 - _SHADOW))
    out.paste(Image.composite(Image.fromarray(dark), part, mask), box)


def _face(page: np.ndarray, plan: PrintPlan, longest: int) -> Image.Image:
    """Return the flat front view: the face, or the print in its mat and frame."""
    whole = Image.fromarray(page)
    left, top, wide, high = face_on_page(plan)
    part = (
        left * whole.width,
        top * whole.height,
        (left + wide) * whole.width,
        (top + high) * whole.height,
    )
    across, down = hung_size(plan)
    per = longest / max(across, down)
    size = max(2, round(across * per)), max(2, round(down * per))
    if plan.mat is None or frame_of(plan) is None:
        return whole.resize(size, Image.Resampling.LANCZOS, part)
    result = Image.new("RGB", size, _BOARD)
    opening = [float(each) * per for each in plan.mat.opening]
    printed = float(plan.whole.width_mm) * per, float(plan.whole.height_mm) * per
    print_ = whole.resize(
        (max(2, round(printed[0])), max(2, round(printed[1]))), Image.Resampling.LANCZOS
    )
    hole = _centre(size, opening)
    seen = Image.new("RGB", size, _BEVEL)
    seen.paste(print_, _centre(size, printed)[:2])
    result.paste(seen.crop(hole), hole[:2])
    pen = ImageDraw.Draw(result)
    for box, tone, wide_mm in ((hole, _CUT, 1.5), ((0, 0, *size), _MOULDING, FRAME_FACE_MM)):
        inner = box[0], box[1], box[2] - 1, box[3] - 1
        pen.rectangle(inner, outline=tone, width=max(1, round(wide_mm * per)))
    return result


def _centre(
    size: tuple[int, int], inner: tuple[float, float] | list[float]
) -> tuple[int, int, int, int]:
    left, top = round((size[0] - inner[0]) / 2), round((size[1] - inner[1]) / 2)
    return left, top, left + round(inner[0]), top + round(inner[1])


def _side(page: np.ndarray, plan: PrintPlan, side: Side) -> Image.Image:
    """Return a flat side, front edge on top; a canvas side is the page beyond its face."""
    if frame_of(plan) is not None:
        return Image.new("RGB", (8, 8), _MOULDING)
    if plan.sheet is None or not plan.sheet.side_mm:
        return Image.new("RGB", (8, 8), _EDGE)
    whole = Image.fromarray(page)
    left, top, wide, high = face_on_page(plan)
    deep = float(plan.sheet.bars_mm)
    across = deep * wide / float(plan.sheet.face_mm[0])
    down = deep * high / float(plan.sheet.face_mm[1])
    right, bottom = left + wide, top + high
    box, turn = {
        "left": ((left - across, top, left, bottom), Image.Transpose.ROTATE_90),
        "right": ((right, top, right + across, bottom), Image.Transpose.TRANSPOSE),
        "top": ((left, top - down, right, top), Image.Transpose.FLIP_TOP_BOTTOM),
        "bottom": ((left, bottom, right, bottom + down), None),
    }[side.name]
    pixels = (
        max(0, round(box[0] * whole.width)),
        max(0, round(box[1] * whole.height)),
        min(whole.width, round(box[2] * whole.width)),
        min(whole.height, round(box[3] * whole.height)),
    )
    if pixels[2] - pixels[0] < 1 or pixels[3] - pixels[1] < 1:
        return Image.new("RGB", (8, 8), _EDGE)
    part = whole.crop(pixels)
    return part if turn is None else part.transpose(turn)


def _lay(
    out: Image.Image,
    flat: Image.Image,
    quad: Quad,
    light: tuple[np.ndarray, np.ndarray],
    shade: float,
) -> None:
    """Draw a flat picture into a quadrilateral, its top left corner at the first point."""
    box = _box([quad], out.size, 2)
    if box is None:
        return
    wide, high = box[2] - box[0], box[3] - box[1]
    inside = [(x - box[0], y - box[1]) for x, y in quad]
    ends = [(0.0, 0.0), (flat.width, 0.0), (flat.width, flat.height), (0.0, flat.height)]
    # Pixel centres are at half-integers.
    back = _homography([(x + 0.5, y + 0.5) for x, y in inside], ends)
    seen = flat.transform(
        (wide, high), Image.Transform.PERSPECTIVE, tuple(back), Image.Resampling.BICUBIC
    )
    # Repeat the picture's edge outside it; the outline then clips it.
    solid = Image.new("L", flat.size, 255).transform(
        (wide, high), Image.Transform.PERSPECTIVE, tuple(back), Image.Resampling.NEAREST
    )
    codes = np.asarray(seen)
    gain = _light_plane(light, box, (wide, high))[..., None] * np.float32(shade)
    lit = Image.fromarray(_codes(_linear(codes) * gain))
    mask = ImageChops.multiply(_outline(quad, box), solid)
    out.paste(lit, box, mask)


def _light_plane(
    light: tuple[np.ndarray, np.ndarray], box: tuple[int, int, int, int], size: tuple[int, int]
) -> np.ndarray:
    """Return the light at every pixel of a box: a plane through the corners' values."""
    values, spots = light
    around = np.column_stack([spots, np.ones(4)])
    plane, *_ = np.linalg.lstsq(around, values, rcond=None)
    xs = np.arange(size[0], dtype=np.float32) + box[0]
    ys = np.arange(size[1], dtype=np.float32) + box[1]
    field = plane[0] * xs[None, :] + plane[1] * ys[:, None] + plane[2]
    return np.clip(field, values.min() * 0.8, values.max() * 1.2).astype(np.float32)


def _homography(start: list[Spot], goal: list[Spot]) -> np.ndarray:
    """Return the eight coefficients that map the points in `start` to those in `goal`."""
    rows, right = [], []
    for (x, y), (u, v) in zip(start, goal, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
        right += [u, v]
    return np.linalg.solve(np.array(rows, float), np.array(right, float))


def _box(quads: list[Quad], size: tuple[int, int], more: int) -> tuple[int, int, int, int] | None:
    """Return the bounding box of outlines inside a picture; None if they are outside."""
    xs = [x for quad in quads for x, _ in quad]
    ys = [y for quad in quads for _, y in quad]
    left, top = max(0, int(min(xs)) - more), max(0, int(min(ys)) - more)
    right, bottom = min(size[0], int(max(xs)) + more + 1), min(size[1], int(max(ys)) + more + 1)
    return None if right <= left or bottom <= top else (left, top, right, bottom)


def _outline(quad: Quad, box: tuple[int, int, int, int]) -> Image.Image:
    """Return the share of every pixel of a box that is inside an outline."""
    wide, high = box[2] - box[0], box[3] - box[1]
    large = Image.new("L", (wide * _FINE, high * _FINE), 0)
    spots = [((x + 0.5 - box[0]) * _FINE - 0.5, (y + 0.5 - box[1]) * _FINE - 0.5) for x, y in quad]
    ImageDraw.Draw(large).polygon(spots, fill=255)
    return large.reduce(_FINE)
