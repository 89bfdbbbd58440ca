"""Draw the test page that measures a paper, as reflected light and as samples."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zinc_margin.measure import paper_page as page
from zinc_margin.pixels.drawing import ink_of

_FINE = 4
"""Edge samples per pixel side."""


def reflectance(l_star: float) -> float:
    """Return the share of light reflected by a tone of this L*."""
    return ((l_star + 16) / 116) ** 3 if l_star > 8 else l_star / 903.3


def draw_page(ppi: float) -> NDArray[np.float32]:
    """Return the printed block as reflected light, (H, W) float32, 0 to 1.

    Parameters
    ----------
    ppi : float
        Resolution of the file: the printer's native one, so that its driver does not resample.
    """
    per = ppi / 25.4
    light = np.ones((round(page.HEIGHT * per), round(page.WIDTH * per)), np.float32)

    def fill(left: float, top: float, width: float, height: float, value: float) -> None:
        x0, y0, x1, y1 = (round(at * per) for at in (left, top, left + width, top + height))
        light[y0:y1, x0:x1] = value

    for number, (x, y) in enumerate(page.MARKS):
        fill(x - page.MARK / 2, y - page.MARK / 2, page.MARK, page.MARK, 0.02)
        if number == 0:
            fill(x - page.HOLE / 2, y - page.HOLE / 2, page.HOLE, page.HOLE, 1.0)
    for (x, y), step in zip(page.PATCHES, page.STEPS, strict=True):
        half = page.PATCH / 2
        fill(x - half, y - half, page.PATCH, page.PATCH, reflectance(step))
    for target in page.TARGETS:
        _edge(light, target, per)
    left, top, length = page.RULER
    for mm in range(int(length) + 1):
        high = 6.0 if mm % 10 == 0 else 4.0 if mm % 5 == 0 else 2.5
        fill(left + mm - 0.07, top, 0.14, high, 0.02)
    _frame(light, page.METAL, per)
    for words, x, y, size in (
        ("Zinc Margin: print at 100 %, without scaling", 20.0, 1.5, 4.0),
        ("0 to 10 cm: measure this ruler", 122.0, 100.5, 3.2),
        (
            "For the scan, place a metal ruler with its edge across this box, at a slight angle",
            32.0,
            123.0,
            3.2,
        ),
    ):
        ink = ink_of(words, max(6, round(size * per)))
        y0, x0 = round(y * per), round(x * per)
        part = light[y0 : y0 + ink.shape[0], x0 : x0 + ink.shape[1]]
        part *= 1 - 0.95 * ink[: part.shape[0], : part.shape[1]]
    return light


def _edge(light: np.ndarray, target: page.Target, per: float) -> None:
    """Draw a slanted edge, each pixel the mean over its square."""
    half = target.side / 2
    x0, y0 = round((target.x - half) * per), round((target.y - half) * per)
    count = round(target.side * per)
    fine = (np.arange(count * _FINE) + 0.5) / _FINE
    x, y = (x0 + fine) / per - target.x, (y0 + fine) / per - target.y
    slant = np.radians(page.SLANT_DEG)
    along = (
        x[None] * np.cos(slant) + y[:, None] * np.sin(slant)
        if target.upright
        else y[:, None] * np.cos(slant) + x[None] * np.sin(slant)
    )
    tones = np.where(along < 0, reflectance(target.low), reflectance(target.high))
    means = tones.reshape(count, _FINE, count, _FINE).mean((1, 3))
    light[y0 : y0 + count, x0 : x0 + count] = means


def _frame(light: np.ndarray, box: tuple[float, float, float, float], per: float) -> None:
    """Draw the corners of a box."""
    left, top, width, height = box
    for x in (left, left + width):
        for y in (top, top + height):
            x0, y0 = round(x * per), round(y * per)
            arm, thick = round(4 * per), max(1, round(0.2 * per))
            light[y0 : y0 + thick, max(0, x0 - arm) : x0 + arm] = 0.5
            light[max(0, y0 - arm) : y0 + arm, x0 : x0 + thick] = 0.5


def codes(light: np.ndarray) -> NDArray[np.uint16]:
    """Return reflected light as sRGB samples, (H, W, 3) uint16.

    Parameters
    ----------
    light : ndarray (H, W)
    """
    coded = np.where(
        light <= 0.0031308, light * 12.92, 1.055 * np.maximum(light, 1e-6) ** (1 / 2.4) - 0.055
    )
    return np.repeat(np.rint(np.clip(coded, 0, 1) * 65535).astype(np.uint16)[..., None], 3, 2)
