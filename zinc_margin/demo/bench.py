"""The potter's bench: an upright picture of bowls on worn planks in front of a limewashed wall."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from zinc_margin.demo.texture import cloud, develop, mix, step, stretch, strips

WIDTH, HEIGHT = 3000, 4500
_TABLE = 0.63
_BOWLS = (  # centre x, foot y, half-width, height, glaze, inside
    (0.30, 0.700, 0.205, 0.150, (0.055, 0.110, 0.125), (0.30, 0.34, 0.30)),
    (0.72, 0.690, 0.165, 0.105, (0.300, 0.235, 0.150), (0.36, 0.30, 0.21)),
    (0.55, 0.815, 0.225, 0.135, (0.150, 0.060, 0.035), (0.07, 0.13, 0.14)),
    (0.22, 0.905, 0.135, 0.085, (0.330, 0.320, 0.290), (0.42, 0.40, 0.36)),
)
_STACK = tuple(
    (0.735, 0.583 - 0.030 * n, 0.150 - 0.004 * (n % 3), 0.050, tone, (0.30, 0.27, 0.20))
    for n, tone in enumerate(
        ((0.24, 0.20, 0.14), (0.05, 0.10, 0.11), (0.29, 0.25, 0.19), (0.12, 0.05, 0.03))
    )
)


def draw(progress: Callable[[float], None], part: int = 1) -> np.ndarray:
    """Return the bench, (4500, 3000, 3) uint8.

    Parameters
    ----------
    part : int
        Draw only every part-th row and column: a small picture, quickly.
    """
    rng = np.random.default_rng(73)
    picture = np.empty((HEIGHT // part, WIDTH // part, 3), np.uint8)
    x = np.arange(0, WIDTH, part, dtype=np.float32) / WIDTH
    for rows in strips(HEIGHT // part):
        y = (np.arange(rows.start * part, rows.stop * part, part, dtype=np.float32) / HEIGHT)[
            :, None
        ]
        light = _wall(y, x)
        light = _shelf(light, y, x)
        light = _table(light, y, x)
        for bowl in sorted(_BOWLS, key=lambda bowl: bowl[1]):
            light = cast(light, y, x, bowl)
        for bowl in (*_STACK, *_BOWLS):
            light = throw(light, y, x, *bowl)
        # a window on the left
        fall = 0.42 + 1.05 * np.exp(-(((x - 0.12) / 0.75) ** 2)) * np.exp(
            -(((y - 0.45) / 0.6) ** 2)
        )
        picture[rows] = develop((light * fall[..., None]).astype(np.float32), rng, 255, 0.014)
        progress(rows.stop * part / HEIGHT)
    return picture


def _wall(y: np.ndarray, x: np.ndarray) -> np.ndarray:
    rows = y[:, 0]
    brick_y = rows / 0.030
    course = np.floor(brick_y)
    along = x[None, :] / 0.118 + 0.5 * (course[:, None] % 2)
    wobble = stretch(cloud(54, 1.4), rows * 1200, x * 800) * 0.045
    gap_y = np.abs(brick_y[:, None] - course[:, None] - 0.5 + wobble)
    gap_x = np.abs(along - np.floor(along) - 0.5 + wobble * 0.3)
    joint = np.maximum(step(0.42, 0.47, gap_y), step(0.475, 0.49, gap_x))
    coarse = stretch(cloud(51, 1.5), rows * 900, x * 600)
    grit = stretch(cloud(52, 0.8), rows * 4500, x * 3000)
    tone = 0.40 * (1 + 0.07 * coarse + 0.055 * grit) * (1 - 0.30 * joint)
    light = tone[..., None] * np.array((1.0, 0.93, 0.82), np.float32)
    # lichen and old soot
    stain = step(0.7, 1.8, stretch(cloud(53, 1.6), rows * 700, x * 500 + 100))
    return mix(light, (0.13, 0.12, 0.085), 0.65 * stain * step(-1.0, 1.5, grit))


def _shelf(light: np.ndarray, y: np.ndarray, x: np.ndarray) -> np.ndarray:
    plank = step(0.590, 0.5903, y) * (1 - step(0.612, 0.6125, y)) * step(0.50, 0.501, x)
    under = np.exp(-np.maximum(y - 0.612, 0) / 0.012) * (y > 0.612) * step(0.49, 0.52, x)
    light = light * (1 - 0.6 * under)[..., None]
    grain = stretch(cloud(61, 1.2, stretch=0.08), y[:, 0] * 3000, x * 400)
    wood = (0.14 * (1 + 0.20 * grain))[..., None] * np.array((1.0, 0.66, 0.40), np.float32)
    wood = wood * (1 + 1.6 * (1 - step(0.590, 0.5935, y)))[..., None]
    return light + (wood - light) * plank[..., None]


def _table(light: np.ndarray, y: np.ndarray, x: np.ndarray) -> np.ndarray:
    if y[-1, 0] < _TABLE - 0.01:
        return light
    far = np.maximum(y - _TABLE, 1e-4)
    # Planks converge far behind the wall.
    across = (x - 0.5) / (0.55 + 0.9 * far) * 3.2
    plank = np.floor(across)
    edge = np.abs(across - plank - 0.5)
    seam = step(0.487, 0.4945, edge)
    offset = (plank * 37.7) % 91
    size = 1024
    grain_x = (across * 130 + offset * 9).astype(int) % size
    grain_y = (np.sqrt(far) * 260 + offset * 3).astype(int) % size
    grain = cloud(62, 1.15, stretch=5)[grain_x, grain_y]
    wear = stretch(cloud(63, 1.3), y[:, 0] * 900, x * 700)
    tone = 0.21 * (1 + 0.24 * grain + 0.10 * wear) * (1 - 0.8 * seam) * (0.75 + 0.05 * (offset % 7))
    wood = tone[..., None] * np.array((1.0, 0.70, 0.46), np.float32)
    slip = step(1.0, 1.9, stretch(cloud(64, 1.5), y[:, 0] * 1300 + 50, x * 900))
    wood = mix(wood, (0.42, 0.37, 0.31), 0.55 * slip)
    contact = 1 - 0.55 * np.exp(-far / 0.006)
    on = step(0.0, 0.0006, y - _TABLE)
    return light + (wood * contact[..., None] - light) * on[..., None]


def cast(light: np.ndarray, y: np.ndarray, x: np.ndarray, bowl: tuple) -> np.ndarray:
    """Darken the table to the right of a bowl's foot."""
    centre, foot, half, height, *_ = bowl
    if y[-1, 0] < foot - 0.1 or y[0, 0] > foot + 0.1:
        return light
    dx = (x - centre - 0.10) / (half * 1.25)
    dy = (y - foot + 0.004) / (0.034 + height * 0.10)
    soft = np.exp(-np.maximum(dx**2 + dy**2 - 0.35, 0) * 1.9)
    return light * (1 - 0.72 * soft)[..., None]


def throw(
    light: np.ndarray,
    y: np.ndarray,
    x: np.ndarray,
    centre: float,
    foot: float,
    half: float,
    height: float,
    glaze: tuple[float, ...],
    inner: tuple[float, ...],
) -> np.ndarray:
    """Draw a bowl, lit from the left, into light (R, C, 3) and return it.

    Parameters
    ----------
    y, x : ndarray (R, 1), (C,)
        Positions as shares of the picture's sides, like all lengths below.
    centre, foot, half, height : float
        Its axis, its foot, half its width at the rim, and its height.
    glaze, inner : three floats
        Its linear colour outside and inside.
    """
    lip = foot - height
    if y[-1, 0] < lip - 0.06 or y[0, 0] > foot + 0.03:
        return light
    left, right = np.searchsorted(x, (centre - half * 1.05, centre + half * 1.05))
    xs = x[left:right]
    part = light[:, left:right]
    flat = half * 0.17  # the visible depth of the round rim, seen from above, in picture heights
    u = (xs - centre) / half
    t = np.clip((y - lip) / height, 0, 1)
    side = 0.46 + 0.54 * np.sqrt(np.clip(1 - t**2.6, 0, 1))
    bottom = foot + flat * 0.42 * np.sqrt(np.clip(1 - (u / 0.46) ** 2, 0, 1)) * (np.abs(u) < 0.46)
    shape = step(0.0, 0.006, side - np.abs(u)) * (y > lip) * (1 - step(0.0, 0.0008, y - bottom))
    v = np.clip(u / np.maximum(side, 0.05), -1, 1)
    body = np.asarray(glaze, np.float32)
    lines = 1 + 0.055 * np.sin((y - lip) / height * 95 + 2 * v**2) * (t > 0.06)
    speck = stretch(cloud(71, 0.6), y[:, 0] * 3000, xs * 2000)
    shade = np.clip(0.78 - 0.75 * v, 0.05, 2) * (0.62 + 0.38 * np.sqrt(1 - v * v + 1e-6))
    tone = shade * lines * (1 - 0.42 * t) * (1 - 0.25 * step(1.7, 2.2, speck))
    colour = body * tone[..., None]
    # The glaze ran down and left the foot bare.
    run = 0.74 + 0.05 * stretch(cloud(72, 1.6), y[:, 0] * 0 + foot * 999, xs * 700)
    colour = mix(colour, (0.23, 0.125, 0.075), step(0.0, 0.03, t - run) * 0.9) * 1.0
    window = np.exp(-(((v + 0.52) / 0.085) ** 2)) * step(0.10, 0.16, t) * (1 - step(0.42, 0.52, t))
    bar = 1 - 0.8 * np.exp(-(((t - 0.28) / 0.014) ** 2))
    colour = colour + (0.75 * window * bar)[..., None] * np.array((0.95, 1.0, 1.0), np.float32)
    part = part + (colour - part) * shape[..., None]
    # The rim and the visible inside.
    ring = np.hypot(u, (y - lip) / flat)
    inside = 1 - step(0.0, 0.012, ring - 0.985)
    deep = np.clip(0.95 + 0.85 * u - 0.35 * (y - lip) / flat, 0.1, 2)
    hollow = np.asarray(inner, np.float32) * (deep * (0.30 + 0.70 * ring**2))[..., None]
    part = part + (hollow - part) * inside[..., None]
    edge = np.exp(-(((ring - 0.975) / 0.017) ** 2))
    bright = edge * np.clip(0.75 - 0.5 * u, 0.15, 1.3) * 0.62
    light[:, left:right] = mix(part, (0.62, 0.52, 0.40), np.clip(bright, 0, 0.9))
    return light
