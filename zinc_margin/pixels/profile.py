"""The simulated effect of paper, and the profile of one real edge.

References
----------
The blur of ink on paper acts on reflectance, which is linear light: J. A. C. Yule, W. J. Nielsen,
"The penetration of light into paper and its effect on halftone reproduction", TAGA 1951.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.colour import Colour
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.render import Renderer
from zinc_margin.pixels.tone_tables import make_tables
from zinc_margin.plan.model import PrintPlan

_SIDE = 97
"""Least size, in file pixels, of the area around an edge."""
_BESIDE = 4
"""Lines on each side of the profile that are averaged, in pixels."""


def print_blur(codes: Codes, colour: Colour, sigma_px: float) -> np.ndarray:
    """Blur samples (H, W, C) as paper does, in linear light, at the same depth.

    Parameters
    ----------
    codes : ndarray
        (H, W, C), uint8 or uint16.
    colour : Colour
        The samples' colour space.
    sigma_px : float
        In file pixels.
    """
    if sigma_px < 0.02:
        return codes
    tables = make_tables(colour, codes.dtype)
    most = np.iinfo(codes.dtype).max
    out = np.empty_like(codes)
    for channel in range(codes.shape[2]):
        light = tables.linear[channel][codes[..., channel]]
        soft = blur_light(light, sigma_px)
        out[..., channel] = np.rint(np.interp(soft, *_curve(colour, codes.dtype, channel)) * most)
    return out


def blur_light(light: np.ndarray, sigma_px: float) -> np.ndarray:
    """Blur linear light (H, W) as paper does.

    Parameters
    ----------
    sigma_px : float
        In file pixels.
    """
    from scipy import ndimage

    if sigma_px < 0.02:
        return light
    return np.asarray(ndimage.gaussian_filter(light, sigma_px, mode="nearest", truncate=3.5))


@lru_cache(maxsize=24)
def _curve(colour: Colour, dtype: np.dtype, channel: int) -> tuple[np.ndarray, np.ndarray]:
    """Return linear values, strictly increasing, and the matching encoded ones."""
    linear = make_tables(colour, dtype).linear[channel].astype(np.float64)
    return linear + np.arange(len(linear)) * 1e-12, np.linspace(0, 1, len(linear))


def simulate_paper(
    renderer: Renderer, box: tuple[int, int, int, int], sigma_px: float, job: Job = IDLE
) -> np.ndarray:
    """Return part of a file as its paper will show it.

    Parameters
    ----------
    box : (int, int, int, int)
        Left, top, width and height in the file.
    sigma_px : float
        In file pixels.
    """
    left, top, width, height = box
    full_height, full_width, _ = renderer.shape
    reach = int(np.ceil(3.5 * sigma_px)) + 1
    x0, y0 = max(0, left - reach), max(0, top - reach)
    x1, y1 = min(full_width, left + width + reach), min(full_height, top + height + reach)
    codes = renderer.region(x0, y0, x1 - x0, y1 - y0, job)
    soft = print_blur(codes, renderer.photo.colour, sigma_px)
    return soft[top - y0 : top - y0 + height, left - x0 : left - x0 + width]


@dataclass(frozen=True, eq=False)
class Profile:
    """Lightness across one edge of a print.

    Attributes
    ----------
    mm : ndarray (N,)
        Positions on the paper, 0 at the centre of the edge.
    file, printed, sharpened, both : ndarray (N,)
        L* in the file, on paper, sharpened, and sharpened on paper.
    angle : float
        Angle of the edge's normal to the print's width, in radians.
    centre : (float, float)
        Position of the edge, in file pixels.
    """

    mm: np.ndarray
    file: np.ndarray
    printed: np.ndarray
    sharpened: np.ndarray
    both: np.ndarray
    angle: float
    centre: tuple[float, float]


LEAST_SIDE = 8
"""Pixels; a smaller area has no measurable edge."""


def profile(photo: Photo, plan: PrintPlan, place: tuple[float, float]) -> Profile:
    """Return the profile of one edge.

    Parameters
    ----------
    plan : PrintPlan
        A print of at least `LEAST_SIDE` pixels each way.
    place : (float, float)
        A point near the edge, 0 to 1 of the print each way.
    """
    sharpen = plan.sharpen
    width, height = plan.pixels.width, plan.pixels.height
    per_mm = width / float(plan.size.width_mm)
    sigma = 0.0 if sharpen is None else sharpen.paper_mm * per_mm
    side = max(_SIDE, 2 * int(np.ceil(6 * max(sigma, sharpen.sigma_px if sharpen else 0) + 16)) + 1)
    side = min(side, width, height)
    left = max(0, min(width - side, round(place[0] * width - side / 2)))
    top = max(0, min(height - side, round(place[1] * height - side / 2)))
    box = (left, top, side, side)
    bare = replace(plan, sharpen=None, grain=None)
    sharp = replace(plan, grain=None)
    plain = Renderer(photo, bare, threads=1, bits=16).region(*box)
    edged = Renderer(photo, sharp, threads=1, bits=16).region(*box)
    shine = [_luminance(codes, photo.colour) for codes in (plain, edged)]
    # Blurring luminance is the same as blurring the channels.
    light = [_lightness(each) for one in shine for each in (one, blur_light(one, sigma))]
    x, y, angle = _edge(light[0])
    reach = min(side / 2 - 3, max(12.0, 8 * max(sigma, sharpen.sigma_px if sharpen else 0.0)))
    along = np.arange(-reach, reach, 0.25)
    flat, soft, crisp, both = (_across(plane, x, y, angle, along) for plane in light)
    return Profile(along / per_mm, flat, soft, crisp, both, angle, (left + x, top + y))


def _luminance(codes: Codes, colour: Colour) -> np.ndarray:
    tables = make_tables(colour, codes.dtype)
    light = np.zeros(codes.shape[:2])
    for channel in range(codes.shape[2]):
        light += tables.to_xyz[1, channel] * tables.linear[channel][codes[..., channel]]
    return light


def _lightness(light: np.ndarray) -> np.ndarray:
    return np.where(light > (6 / 29) ** 3, 116 * np.cbrt(light) - 16, light * (29 / 3) ** 3)


def _edge(light: np.ndarray) -> tuple[float, float, float]:
    """Return the position of the strongest edge near the centre, and its normal direction."""
    from scipy import ndimage

    down, across = np.gradient(ndimage.gaussian_filter(light, 1.0))
    strength = np.hypot(down, across)
    side_y, side_x = light.shape
    y, x = np.mgrid[:side_y, :side_x]
    far = np.hypot(x - side_x / 2, y - side_y / 2) / (min(side_x, side_y) / 2)
    weighed = strength * np.clip(1.15 - far, 0, 1)
    row, column = np.unravel_index(int(weighed.argmax()), light.shape)
    near = (slice(max(0, row - 3), row + 4), slice(max(0, column - 3), column + 4))
    # Use the structure tensor's main direction: opposite gradients belong to the same edge.
    xx, yy = (across[near] ** 2).sum(), (down[near] ** 2).sum()
    xy = (across[near] * down[near]).sum()
    angle = 0.5 * np.arctan2(2 * xy, xx - yy)
    if across[row, column] * np.cos(angle) + down[row, column] * np.sin(angle) < 0:
        angle += np.pi
    return float(column), float(row), float(angle)


def _across(light: np.ndarray, x: float, y: float, angle: float, along: np.ndarray) -> np.ndarray:
    from scipy import ndimage

    beside = np.arange(-_BESIDE, _BESIDE + 1)[:, None]
    xs = x + along * np.cos(angle) - beside * np.sin(angle)
    ys = y + along * np.sin(angle) + beside * np.cos(angle)
    return ndimage.map_coordinates(light, [ys, xs], order=1, mode="nearest").mean(0)
