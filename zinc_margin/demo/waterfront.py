"""The waterfront: a wide panorama of houses, bottle kilns and boats, mirrored in the water."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache

import numpy as np

from zinc_margin.demo.texture import cloud, develop, mix, step, stretch, strips

WIDTH, HEIGHT = 9000, 2400
_QUAY, _WATER = 0.640, 0.690
_ASPECT = 3.75
"""Horizontal positions are in picture heights, so shapes stay round."""
_WALLS = np.array(
    [(0.46, 0.42, 0.34), (0.33, 0.15, 0.09), (0.50, 0.47, 0.42), (0.26, 0.30, 0.31),
     (0.43, 0.30, 0.17), (0.30, 0.12, 0.08), (0.40, 0.42, 0.38)], np.float32
)  # fmt: skip
_KILNS = ((0.62, 0.42, 0.085), (0.80, 0.36, 0.075), (1.93, 0.45, 0.095), (2.62, 0.38, 0.08))
_BOATS = (
    (0.30, 0.13, 0.20),
    (1.18, 0.10, 0.16),
    (1.50, 0.15, 0.25),
    (2.32, 0.12, 0.19),
    (3.05, 0.16, 0.24),
    (3.46, 0.09, 0.14),
)


@cache
def _houses() -> tuple[np.ndarray, dict[str, np.ndarray]]:
    """Return the party walls' positions, and a table of each house's features."""
    random = np.random.default_rng(98)
    many = 60
    wide = random.uniform(0.05, 0.115, many)
    wide[[9, 30, 41]] = 0.16
    bounds = np.cumsum(wide).astype(np.float32) - 0.1
    table = {
        "left": np.concatenate([[-0.1], bounds]),
        "wide": np.concatenate([wide, [0.1]]),
        "eaves": random.uniform(0.10, 0.20, many + 1),
        "pitch": random.uniform(0.25, 0.75, many + 1) * (random.random(many + 1) < 0.8),
        "tone": random.integers(0, len(_WALLS), many + 1),
        "shade": random.normal(1, 0.10, many + 1),
        "rows": random.integers(2, 5, many + 1),
        "across": random.integers(2, 5, many + 1),
        "stack": random.uniform(0.15, 0.85, many + 1),
    }
    return bounds, {
        key: value.astype(np.float32 if value.dtype.kind == "f" else int)
        for key, value in table.items()
    }


def draw(progress: Callable[[float], None], part: int = 1) -> np.ndarray:
    """Return the waterfront, (2400, 9000, 3) uint8.

    Parameters
    ----------
    part : int
        Draw only every part-th row and column: a small picture, quickly.
    """
    rng = np.random.default_rng(77)
    picture = np.empty((HEIGHT // part, WIDTH // part, 3), np.uint8)
    x = (np.arange(0, WIDTH, part, dtype=np.float32) / WIDTH) * np.float32(_ASPECT)
    for rows in strips(HEIGHT // part):
        y = np.arange(rows.start * part, rows.stop * part, part, dtype=np.float32) / HEIGHT
        light = np.empty((len(y), len(x), 3), np.float32)
        shore = int(np.searchsorted(y, _WATER))
        if shore:
            light[:shore] = _town(np.repeat(y[:shore, None], len(x), 1), x)
        if shore < len(y):
            light[shore:] = _mirror(y[shore:], x)
        picture[rows] = develop(light, rng, 255, 0.010)
        progress(rows.stop * part / HEIGHT)
    return picture


def _mirror(y: np.ndarray, x: np.ndarray) -> np.ndarray:
    depth = (y - _WATER)[:, None]
    near = 1 / (0.05 + depth)
    ripple = stretch(cloud(101, 1.2, stretch=5), 1400 * np.log(0.03 + depth[:, 0]) % 1024, x * 420)
    swell = stretch(cloud(102, 1.7, stretch=6), 500 * np.log(0.05 + depth[:, 0]) % 1024, x * 160)
    shake = (0.006 * ripple + 0.012 * swell) * np.minimum(1, depth * near * 1.6)
    light = _town(2 * _WATER - y[:, None] + shake, x) * np.float32(0.74)
    water = np.array((0.030, 0.052, 0.056), np.float32)
    light = mix(light, tuple(water), np.clip(0.18 + 0.9 * depth + 0.05 * ripple, 0, 1))
    glint = np.clip(ripple - 1.7, 0, 1) * (0.2 + depth)
    return light + glint[..., None] * np.array((0.9, 0.85, 0.75), np.float32)


def _town(y: np.ndarray, x: np.ndarray) -> np.ndarray:
    """Return the scene above the water at positions y (R, C) over columns x (C,)."""
    rows = y[:, 0]
    veil = step(-0.5, 2.2, stretch(cloud(103, 1.8, stretch=3), rows * 900, x * 300))
    sky = np.array((0.40, 0.53, 0.66), np.float32) + (0.62 - np.clip(y, 0, 1))[..., None] * (
        np.array((-0.30, -0.30, -0.22), np.float32)
    )
    light = mix(sky, (0.84, 0.80, 0.74), 0.75 * veil)
    hill = 0.50 - 0.045 * np.sin(x * 1.3 + 0.5) - 0.02 * np.sin(x * 4.1) - 0.004 * np.abs(
        cloud(104, 0.8)[3][(np.arange(len(x)) // 3) % 1024]
    )  # fmt: skip
    wood = stretch(cloud(105, 1.0), rows * 1500, x * 1500)
    hills = np.array((0.16, 0.20, 0.19), np.float32) * (1 + 0.12 * wood)[..., None]
    light = light + (hills - light) * step(-0.0006, 0.0006, y - hill)[..., None]
    for kiln in _KILNS:
        light = _kiln(light, y, x, *kiln)
    light = _row(light, y, x)
    stone = stretch(cloud(106, 0.9), rows * 2400, x * 2400)
    course = np.abs((rows - _QUAY) / 0.0125 % 1 - 0.5)[:, None]
    quay = 0.19 * (1 + 0.18 * stone) * (1 - 0.35 * step(0.42, 0.48, course))
    weed = step(_WATER - 0.022, _WATER - 0.002, y + 0.004 * wood)
    wall = mix(quay[..., None] * np.array((1, 0.96, 0.88), np.float32), (0.030, 0.040, 0.018), weed)
    light = light + (wall - light) * step(-0.0004, 0.0004, y - _QUAY)[..., None]
    for n, boat in enumerate(_BOATS):
        light = _boat(light, y, x, n, *boat)
    return light


def _kiln(
    light: np.ndarray, y: np.ndarray, x: np.ndarray, at: float, tall: float, half: float
) -> np.ndarray:
    left, right = np.searchsorted(x, (at - half * 1.2, at + half * 1.2))
    ys, xs, part = y[:, left:right], x[left:right], light[:, left:right]
    up = np.clip((_QUAY - ys) / tall, 0, 1.2)
    # The bottle: a wide belly that narrows to a neck with a rim.
    side = half * (0.30 + 0.70 / (1 + np.exp((up - 0.52) * 12)) + 0.04 * step(0.93, 0.95, up))
    inside = step(0.0, 0.0012, side - np.abs(xs - at)) * (up < 1)
    v = np.clip((xs - at) / side, -1, 1)
    course = np.abs(up * tall / 0.0058 % 1 - 0.5)
    brick = stretch(cloud(107, 0.7), ys[:, 0] * 2400, xs * 2400)
    tone = (0.9 - 0.75 * v) * (1 + 0.12 * brick) * (1 - 0.22 * step(0.40, 0.48, course))
    soot = np.clip(1.1 - 0.75 * step(0.55, 1.0, up), 0, 1)
    colour = (0.23 * tone * soot)[..., None] * np.array((1.0, 0.50, 0.34), np.float32)
    band = step(0.46, 0.5, np.abs((up * 5) % 1 - 0.5)) * (up < 0.9)
    colour = mix(colour, (0.05, 0.045, 0.045), 0.7 * band)
    light[:, left:right] = part + (colour - part) * inside[..., None]
    return light


def _row(light: np.ndarray, y: np.ndarray, x: np.ndarray) -> np.ndarray:
    bounds, table = _houses()
    which = np.searchsorted(bounds, x)
    at = {key: value[which] for key, value in table.items()}
    u = (x - at["left"]) / at["wide"]
    up = _QUAY - y
    ridge = at["eaves"] + at["pitch"] * at["wide"] * (0.5 - np.abs(u - 0.5))
    pot = (np.abs(u - at["stack"]) < 0.07) * (0.022 + at["eaves"] * 0.1)
    wall = step(0.0, 0.0007, at["eaves"] - up)
    whole = step(0.0, 0.0007, np.maximum(ridge, at["eaves"] + 0.012 + pot) - up)
    grit = stretch(cloud(108, 0.8), y[:, 0] * 2400, x * 2400)
    face = _WALLS[at["tone"]] * (at["shade"] * (0.88 + 0.2 * (u < 0.97)))[..., None]
    face = face * (1 + 0.06 * grit + 0.05 * np.minimum(up, 0.2) / 0.2)[..., None]
    # Windows: a separate grid for every house, two panes high, with bright frames.
    cell_x, cell_y = u * at["across"], up / at["eaves"] * at["rows"]
    wx, wy = np.abs(cell_x % 1 - 0.5), np.abs(cell_y % 1 - 0.52)
    frame = step(0.0, 0.02, 0.27 - wx) * step(0.0, 0.02, 0.33 - wy)
    glass = step(0.0, 0.02, 0.225 - wx) * step(0.0, 0.02, 0.285 - wy)
    bars = np.maximum(step(0.0, 0.012, 0.022 - wx), step(0.0, 0.012, 0.024 - wy))
    key = (np.floor(cell_x) * 7 + np.floor(cell_y) * 13 + which * 5).astype(int) % 11
    pane = (
        np.array((0.035, 0.045, 0.055), np.float32)
        + (key == 3)[..., None] * np.array((0.55, 0.36, 0.14), np.float32)
        + (key > 8)[..., None] * np.array((0.22, 0.28, 0.33), np.float32)
    )
    face = mix(face, (0.60, 0.58, 0.53), frame * 0.9)
    face = face + (pane - face) * (glass * (1 - bars * 0.9))[..., None]
    tiles = np.abs(up / 0.0075 % 1 - 0.5)
    roof = (0.9 + 0.5 * (u < 0.5)) * (1 + 0.10 * grit) * (1 - 0.3 * step(0.40, 0.48, tiles))
    slate = roof[..., None] * np.array((0.105, 0.075, 0.068), np.float32)
    house = slate + (face - slate) * wall[..., None]
    under = 1 - 0.5 * np.exp(-np.maximum(at["eaves"] - up, 0) / 0.006) * wall
    return light + (house * under[..., None] - light) * whole[..., None]


def _boat(
    light: np.ndarray, y: np.ndarray, x: np.ndarray, n: int, at: float, long: float, mast: float
) -> np.ndarray:
    left, right = np.searchsorted(x, (at - long * 0.7, at + long * 0.7))
    ys, xs, part = y[:, left:right], x[left:right], light[:, left:right]
    u = (xs - at) / (long / 2)
    deck = _WATER - long * (0.16 + 0.07 * u**2)
    ends = 1.0 - 0.16 * np.clip((ys - deck) / (long * 0.2), 0, 1)
    hull = step(0.0, 0.0007, ys - deck) * step(0.0, 0.006, ends - np.abs(u))
    paint = _WALLS[(n * 2 + 1) % len(_WALLS)] * np.float32(0.75)
    stripe = step(0.0, 0.0008, 0.006 - np.abs(ys - deck - 0.009))
    colour = mix(
        paint * (0.75 - 0.3 * u)[..., None] * np.ones((*ys.shape, 1), np.float32),
        (0.62, 0.60, 0.55),
        stripe,
    )
    part = part + (colour - part) * hull[..., None]
    top = _WATER - long * 0.16 - mast
    pole = step(0.0, 0.0004, 0.0016 - np.abs(xs - at - 0.02)) * (ys > top) * (ys < deck)
    # Two stays, each the width of a line.
    for side in (-0.96, 0.96):
        share = np.clip((ys - top) / (mast + 1e-6), 0, 1)
        line = at + 0.02 + (side * long / 2 - 0.02) * share
        pole = np.maximum(
            pole, 0.8 * step(0.0, 0.0003, 0.0005 - np.abs(xs - line)) * (ys > top) * (ys < deck)
        )
    light[:, left:right] = mix(part, (0.10, 0.075, 0.05), pole)
    return light
