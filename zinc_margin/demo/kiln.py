"""Lichen on kiln brick: dense texture of every size, from colonies to grains of sand."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from zinc_margin.demo.texture import cloud, develop, mix, step, stretch, strips

WIDTH, HEIGHT = 4800, 3600
_COURSE, _LENGTH = 520.0, 1480.0
_LICHENS = (  # seed, scale, share of the wall, rim, centre
    (81, 5.2, 0.85, (0.36, 0.37, 0.30), (0.22, 0.25, 0.19)),
    (82, 4.6, 1.10, (0.62, 0.36, 0.045), (0.42, 0.20, 0.020)),
    (83, 5.9, 1.25, (0.50, 0.51, 0.42), (0.10, 0.12, 0.09)),
)


def draw(
    progress: Callable[[float], None],
    part: int = 1,
    seed: int = 74,
    size: tuple[int, int] | None = None,
) -> np.ndarray:
    """Return the kiln wall, (H, W, 3) uint8.

    Parameters
    ----------
    part : int
        Draw only every part-th row and column: a small picture, quickly.
    seed : int
        Selects another part of the wall.
    size : (int, int), optional
        Width and height.
    """
    width, height_px = size or (WIDTH, HEIGHT)
    rng = np.random.default_rng(seed)
    away = float(rng.uniform(0, 700))
    picture = np.empty((height_px // part, width // part, 3), np.uint8)
    x = np.arange(0, width, part, dtype=np.float32) + np.float32(away)
    for rows in strips(height_px // part):
        y = np.arange(rows.start * part, rows.stop * part, part, dtype=np.float32) + np.float32(
            away * 0.6
        )
        light, height = _bricks(y, x, seed)
        light = _lichen(light, height, y, x)
        # Grazing sunlight from the left: every grain has a bright and a dark side.
        slope = (np.gradient(height, axis=1) * 26 + np.gradient(height, axis=0) * 14) / part
        sun = np.clip(0.92 - slope, 0.12, 2.3)
        picture[rows] = develop((light * sun[..., None]).astype(np.float32), rng, 255, 0.009)
        progress(rows.stop * part / height_px)
    return picture


def _bricks(y: np.ndarray, x: np.ndarray, seed: int) -> tuple[np.ndarray, np.ndarray]:
    """Return the bare wall's colour and its relief, in pixels."""
    sand, rough, slow = cloud(84, 0.55), cloud(85, 1.2), cloud(86, 1.8)
    bend = stretch(slow, y / 7, x / 7) * 9
    down = (y[:, None] + bend) / _COURSE + 0.32
    course = np.floor(down).astype(int)
    along = (x[None, :] + bend * 0.7) / _LENGTH + 0.5 * (course % 2) + 0.21
    number = np.floor(along).astype(int)
    worn = stretch(rough, y / 2.4, x / 2.4)
    from_y = (0.5 - np.abs(down - course - 0.5)) * _COURSE
    from_x = (0.5 - np.abs(along - number - 0.5)) * _LENGTH
    inside = np.minimum(from_x, from_y) + 9 * worn - 24
    brick = step(-3, 5, inside)
    table = np.random.default_rng(seed + 5)
    tones = table.normal(1, 0.17, (64, 64)).astype(np.float32)
    burnt = table.random((64, 64)).astype(np.float32)
    key = (course % 64, number % 64)
    clay = np.array((0.235, 0.085, 0.048), np.float32)
    colour = mix(clay * tones[key][..., None], (0.075, 0.050, 0.052), step(0.60, 1.0, burnt[key]))
    fire = step(0.2, 2.0, stretch(slow, y / 5 + 31, x / 5 + 200))
    colour = mix(colour, (0.32, 0.17, 0.085), 0.55 * fire)
    grit = stretch(sand, y * 1.1, x * 1.1)
    pits = step(1.15, 1.9, stretch(rough, y / 1.4 + 500, x / 1.4))
    colour = colour * (1 + 0.13 * grit + 0.10 * worn)[..., None] * (1 - 0.5 * pits)[..., None]
    mortar = (0.29 + 0.05 * grit + 0.035 * worn)[..., None] * np.array((1, 0.92, 0.80), np.float32)
    light = mortar + (colour - mortar) * brick[..., None]
    height = 0.030 * np.clip(inside, -40, 12) + 0.006 * grit + 0.05 * worn - 0.10 * pits
    return light, height.astype(np.float32)


def _lichen(light: np.ndarray, height: np.ndarray, y: np.ndarray, x: np.ndarray) -> np.ndarray:
    """Draw colonies on the wall: lobed at the rim, cracked in the middle."""
    for seed, scale, little, rim, heart in _LICHENS:
        spots = stretch(cloud(seed, 1.7), y / scale, x / scale)
        lobes = stretch(cloud(seed + 10, 1.0), y / (scale * 0.35), x / (scale * 0.35))
        rise = spots + 0.22 * lobes - np.float32(little)
        cover = step(0.0, 0.05, rise)
        scales = np.abs(stretch(cloud(seed + 20, 1.05), y / 0.9, x / 0.9 + 50 * seed))
        crack = 1 - step(0.03, 0.22, scales)
        age = step(0.05, 0.75, rise)
        tone = np.asarray(rim, np.float32) + age[..., None] * (
            np.asarray(heart, np.float32) - np.asarray(rim, np.float32)
        )
        cups = step(1.5, 1.75, stretch(cloud(seed + 30, 0.9), y / 1.6, x / 1.6)) * age
        tone = tone * (1 - 0.55 * crack * age)[..., None] * (0.92 + 0.10 * lobes)[..., None]
        tone = mix(tone, (0.05, 0.045, 0.03), 0.8 * cups)
        light = light + (tone - light) * cover[..., None]
        height += (cover * (0.10 + 0.05 * np.minimum(scales, 1) + 0.05 * cups)).astype(np.float32)
    return light
