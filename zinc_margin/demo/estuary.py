"""The estuary at dawn: a smooth sky against hard ridges, mirrored in the water."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from zinc_margin.demo.texture import cloud, develop, mix, step, stretch, strips

WIDTH, HEIGHT = 4800, 3200
_WATER = 0.66
_RIDGES = (  # base height, roughness, seed, haze colour, hue of the near side
    (0.600, 0.050, 11, (0.330, 0.250, 0.300)),
    (0.628, 0.036, 12, (0.165, 0.140, 0.195)),
    (0.646, 0.020, 13, (0.060, 0.056, 0.085)),
)


def draw(progress: Callable[[float], None], part: int = 1) -> np.ndarray:
    """Return the estuary, (3200, 4800, 3) uint16, in the wide space's encoding.

    Parameters
    ----------
    part : int
        Draw only every part-th row and column: a small picture, quickly.
    """
    rng = np.random.default_rng(72)
    picture = np.empty((HEIGHT // part, WIDTH // part, 3), np.uint16)
    x = np.arange(0, WIDTH, part, dtype=np.float32) / WIDTH
    skylines = [_skyline(x, *ridge[:3]) for ridge in _RIDGES]
    for rows in strips(HEIGHT // part):
        y = (np.arange(rows.start * part, rows.stop * part, part, dtype=np.float32) / HEIGHT)[
            :, None
        ]
        water = y > _WATER
        depth = np.maximum(y - _WATER, 0)
        # The mirror image: places above the shore, displaced by waves.
        rough = stretch(cloud(21, 1.35, stretch=7), y[:, 0] * 2600, x * 900)
        swell = stretch(cloud(22, 1.8, stretch=9), y[:, 0] * 700, x * 300)
        shake = (rough * 0.004 + swell * 0.010) * (0.15 + 5 * depth)
        mirrored = 2 * _WATER - y - depth * 0.15 + shake
        seen = np.where(water, mirrored, y)
        light = _sky(seen, x)
        for (_, _, seed, tone), line in zip(_RIDGES, skylines, strict=True):
            edge = step(-0.00022, 0.00022, seen - line)
            below = np.maximum(seen - line, 0)
            wood = stretch(cloud(seed + 30, 0.9), y[:, 0] * 2200, x * 3300)
            body = np.asarray(tone, np.float32) * (1 + 0.16 * wood * (~water))[..., None]
            mist = step(0.0, 0.05, below)[..., None] * np.array((0.10, 0.075, 0.075), np.float32)
            light = light + (body + mist - light) * edge[..., None]
        bank = step(-0.0015, 0.0015, _WATER - 0.0012 - np.abs(y - _WATER) * 0 - y) * 0
        glint = np.where(water, 0.80 - 0.9 * depth + 0.05 * swell, 1.0) + bank
        light = light * glint[..., None]
        spark = (
            np.clip(rough - 1.9, 0, 1) * water * (0.15 + depth) * np.exp(-(((x - 0.62) / 0.2) ** 2))
        )
        light = light + spark[..., None] * np.array((1.1, 0.72, 0.5), np.float32)
        light = _reeds(light, y, x)
        picture[rows] = develop(light.astype(np.float32), rng, 65535, 0.0035)
        progress(rows.stop * part / HEIGHT)
    return picture


def _skyline(x: np.ndarray, base: float, rough: float, seed: int) -> np.ndarray:
    rng = np.random.default_rng(seed)
    line = np.zeros_like(x)
    for octave in range(1, 9):
        angle = 2 * np.pi * (x * 1.35 * 1.9**octave + rng.random())
        line += np.sin(angle) * rng.normal(0.55, 0.2) / 1.75**octave
    trees = cloud(seed + 40, 0.7)[seed][(np.arange(len(x)) // 2) % 1024]
    fringe = np.abs(trees) * 0.0016 * (rough / 0.02) ** -0.3
    return np.asarray(base - rough * (line + 0.25) - fringe, np.float32)


def _sky(y: np.ndarray, x: np.ndarray) -> np.ndarray:
    height = np.clip(1 - y / 0.64, -0.2, 1)
    warm = np.exp(-np.maximum(height, 0) / 0.16)
    sun = np.exp(-(((x - 0.62) / 0.30) ** 2)) * np.exp(-np.maximum(height, 0) / 0.22)
    top = np.array((0.115, 0.205, 0.400), np.float32)
    light = top * (1.0 - 0.35 * height)[..., None]
    light = mix(light, (0.80, 0.42, 0.26), 0.85 * warm)
    light = mix(light, (1.02, 0.70, 0.36), 0.75 * sun)
    # High thin cloud, lit from below.
    rows = (y * np.ones_like(x))[:, 0] * 1500
    veil = stretch(cloud(23, 1.75, stretch=3.5), rows, x * 700)
    veil = step(-0.2, 2.4, veil) * step(0.05, 0.5, height)
    return mix(light, (0.92, 0.60, 0.50), 0.55 * veil)


def _reeds(light: np.ndarray, y: np.ndarray, x: np.ndarray) -> np.ndarray:
    """Draw dark blades in the lower left corner, in front of the water."""
    if y[-1, 0] < 0.72:
        return light
    rng = np.random.default_rng(9)
    cover = np.zeros((len(y), len(x)), np.float32)
    for _ in range(150):
        foot, tall = rng.uniform(-0.02, 0.24) ** 1.0, rng.uniform(0.08, 0.27)
        lean, bow, thick = rng.normal(0.0, 0.02), rng.normal(0.01, 0.02), rng.uniform(2e-4, 8e-4)
        share = (1.02 - y) / tall
        blade = foot + lean * share + bow * share**2
        left = np.searchsorted(x, float(blade.min()) - 0.004)
        right = np.searchsorted(x, float(blade.max()) + 0.004)
        if left >= right:
            continue
        half = thick * np.clip(1 - share, 0, 1) ** 0.6
        near = np.abs(x[left:right] - blade)
        part = 1 - step(0.0, 0.00025, near - half)
        part = part * (share < 1) * (share > 0)
        cover[:, left:right] = np.maximum(cover[:, left:right], part)
    return mix(light, (0.016, 0.018, 0.020), cover)
