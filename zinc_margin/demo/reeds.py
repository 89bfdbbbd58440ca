"""Reeds and wet grass: fine crossing strands, drops, and a blurred bank behind."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from zinc_margin.demo.texture import cloud, develop, mix, step, stretch, strips

WIDTH, HEIGHT = 4500, 3000
_BLADES = 1900


def _blades() -> np.ndarray:
    """Return the blades, far ones first: foot, height, lean, bend, half-width, depth, shade."""
    random = np.random.default_rng(95)
    depth = np.sort(random.random(_BLADES) ** 0.8)
    near = depth**2
    reed = random.random(_BLADES) < 0.16
    foot_x = random.uniform(-0.15, 1.15, _BLADES)
    foot_y = 0.66 + 0.50 * near + random.normal(0, 0.02, _BLADES)
    tall = (0.16 + 0.34 * near) * random.lognormal(0, 0.25, _BLADES) * np.where(reed, 1.55, 1)
    lean = random.normal(0.03, 0.055, _BLADES) * np.where(reed, 0.5, 1)
    bow = random.normal(0.03, 0.10, _BLADES) * np.where(reed, 0.25, 1) * (0.4 + near)
    half = (0.00035 + 0.00115 * near) * random.lognormal(0, 0.3, _BLADES)
    shade = random.random(_BLADES)
    return np.stack([foot_x, foot_y, tall, lean, bow, half, depth, shade], 1).astype(np.float32)


def draw(progress: Callable[[float], None], part: int = 1) -> np.ndarray:
    """Return the reeds, (3000, 4500, 3) uint8.

    Parameters
    ----------
    part : int
        Draw only every part-th row and column: a small picture, quickly.
    """
    rng = np.random.default_rng(76)
    picture = np.empty((HEIGHT // part, WIDTH // part, 3), np.uint8)
    x = np.arange(0, WIDTH, part, dtype=np.float32) / WIDTH
    blades = _blades()
    for rows in strips(HEIGHT // part):
        y = np.arange(rows.start * part, rows.stop * part, part, dtype=np.float32) / HEIGHT
        light = _behind(y[:, None], x)
        for blade in blades:
            _grow(light, y, x, blade)
        picture[rows] = develop(light, rng, 255, 0.008)
        progress(rows.stop * part / HEIGHT)
    return picture


def _behind(y: np.ndarray, x: np.ndarray) -> np.ndarray:
    soft = stretch(cloud(96, 2.1), y[:, 0] * 420, x * 520)
    sky = np.array((0.50, 0.56, 0.58), np.float32) * (1.05 - 0.3 * y)[..., None]
    far = step(0.20, 0.50, y + 0.055 * soft)
    bank = np.array((0.085, 0.110, 0.050), np.float32) * (1 + 0.30 * soft)[..., None]
    light = mix(sky, (0.30, 0.33, 0.24), step(0.02, 0.34, y + 0.05 * soft) * 0.8)
    light = light + (bank - light) * far[..., None]
    ground = stretch(cloud(97, 1.2), y[:, 0] * 1400, x * 2000)
    earth = np.array((0.024, 0.030, 0.012), np.float32) * (1 + 0.3 * ground)[..., None]
    return np.asarray(light + (earth - light) * step(0.55, 0.92, y)[..., None], np.float32)


def _grow(light: np.ndarray, y: np.ndarray, x: np.ndarray, blade: np.ndarray) -> None:
    """Draw one blade into a strip of light (R, C, 3), where it touches it."""
    foot_x, foot_y, tall, lean, bow, half, depth, shade = (float(v) for v in blade)
    # A bent blade's tip hangs: the height along it is tall · (s − hang · s²).
    top = np.searchsorted(y, foot_y - tall)
    bottom = np.searchsorted(y, foot_y)
    if top >= bottom:
        return
    share = (np.float32(foot_y) - y[top:bottom]) / np.float32(tall)
    middle = foot_x + lean * share + bow * share**2.4
    width = half * np.sqrt(np.clip(1 - share, 0, 1)) * (1 + np.abs(bow) * 2 * share)
    rim = 0.00016 + 0.0011 * (1 - depth) ** 3  # far blades are out of focus
    left = np.searchsorted(x, float(middle.min()) - half * 2 - 2 * rim)
    right = np.searchsorted(x, float(middle.max()) + half * 2 + 2 * rim)
    if left >= right:
        return
    off = (x[left:right] - middle[:, None]) / np.float32(1)
    cover = 1 - step(-rim, rim, np.abs(off) - width[:, None])
    if cover.max() <= 0:
        return
    across = np.clip(off / np.maximum(width[:, None], 1e-6), -1, 1)
    green = np.array((0.115, 0.185, 0.038), np.float32)
    straw = np.array((0.42, 0.34, 0.16), np.float32)
    tone = green + (straw - green) * np.float32(np.clip(shade * 1.7 - 0.75, 0, 1))
    lit = (0.25 + 0.85 * np.float32(depth)) * (0.35 + 0.85 * share)[:, None] * (1.0 - 0.42 * across)
    vein = 1 - 0.25 * np.exp(-((across / 0.16) ** 2)) * np.float32(depth)
    colour = tone * (lit * vein)[..., None]
    # The blade is wet on its lit side, with drops.
    wet = np.exp(-(((across + 0.55) / 0.22) ** 2)) * np.float32(0.5 * depth**2)
    beads = np.sin(share * (90 + 60 * shade) + 40 * shade)
    drop = (beads > 0.985)[:, None] * np.exp(-(((across + 0.1) / 0.5) ** 2)) * np.float32(depth**3)
    colour = colour + (wet + 0.9 * drop)[..., None] * np.array((0.42, 0.46, 0.44), np.float32)
    part = light[top:bottom, left:right]
    part += (colour - part) * cover[..., None]
