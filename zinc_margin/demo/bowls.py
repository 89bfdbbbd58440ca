"""Stacked bowls: round edges and bright rims in front of a nearly black shadow."""

from __future__ import annotations

import itertools
from collections.abc import Callable

import numpy as np

from zinc_margin.demo.bench import cast, throw
from zinc_margin.demo.texture import cloud, develop, mix, step, stretch, strips

WIDTH, HEIGHT = 3400, 3400
_EDGE = 0.735
_GLAZES = (
    ((0.075, 0.150, 0.165), (0.20, 0.27, 0.27)), ((0.330, 0.275, 0.190), (0.40, 0.34, 0.25)),
    ((0.150, 0.055, 0.030), (0.22, 0.10, 0.06)), ((0.380, 0.370, 0.340), (0.46, 0.45, 0.42)),
    ((0.045, 0.085, 0.060), (0.14, 0.21, 0.15)),
)  # fmt: skip


def _stack(centre: float, foot: float, half: float, height: float, many: int, turn: int) -> list:
    """Return nested bowls, the lowest first."""
    random = np.random.default_rng(turn)
    bowls = []
    for n in range(many):
        glaze, inner = _GLAZES[(n * 3 + turn) % len(_GLAZES)]
        sway = float(random.normal(0, 0.006))
        wide = half * float(random.normal(1.0, 0.02))
        bowls.append((centre + sway, foot - n * height * 0.33, wide, height, glaze, inner))
    return bowls


_STACKS = (
    _stack(0.70, 0.790, 0.165, 0.125, 9, 4),
    _stack(0.29, 0.845, 0.205, 0.155, 6, 1),
    [(0.615, 0.925, 0.150, 0.105, *_GLAZES[1])],
)


def draw(progress: Callable[[float], None], part: int = 1) -> np.ndarray:
    """Return the bowls, (3400, 3400, 3) uint8.

    Parameters
    ----------
    part : int
        Draw only every part-th row and column: a small picture, quickly.
    """
    rng = np.random.default_rng(75)
    picture = np.empty((HEIGHT // part, WIDTH // part, 3), np.uint8)
    x = np.arange(0, WIDTH, part, dtype=np.float32) / WIDTH
    for rows in strips(HEIGHT // part):
        y = (np.arange(rows.start * part, rows.stop * part, part, dtype=np.float32) / HEIGHT)[
            :, None
        ]
        light = _ground(y, x)
        for stack in _STACKS:
            light = cast(light, y, x, stack[0])
        for stack in _STACKS:
            light = throw(light, y, x, *stack[0])
            for lower, bowl in itertools.pairwise(stack):
                bare = light.copy()
                light = throw(light, y, x, *bowl)
                light = mix(light, bare, _before(lower, y, x))
        # One small window, low on the left; everything else stays dark.
        fall = 0.05 + 1.5 * np.exp(-(((x - 0.10) / 0.52) ** 2)) * np.exp(
            -(((y - 0.62) / 0.55) ** 2)
        )
        picture[rows] = develop((light * fall[..., None]).astype(np.float32), rng, 255, 0.011)
        progress(rows.stop * part / HEIGHT)
    return picture


def _before(bowl: tuple, y: np.ndarray, x: np.ndarray) -> np.ndarray:
    """Return how much a bowl's front wall hides its inside, 0 to 1."""
    centre, foot, half, height, *_ = bowl
    rim = foot - height + half * 0.17 * np.sqrt(np.clip(1 - ((x - centre) / half) ** 2, 0, 1))
    return step(0.0, 0.0006, y - rim - 0.0012) * (np.abs(x - centre) < half)


def _ground(y: np.ndarray, x: np.ndarray) -> np.ndarray:
    plaster = stretch(cloud(91, 1.7), y[:, 0] * 900, x * 900)
    grit = stretch(cloud(92, 0.8), y[:, 0] * 3400, x * 3400)
    tone = 0.115 * (1 + 0.22 * plaster + 0.05 * grit)
    wall = tone[..., None] * np.array((0.92, 0.98, 1.0), np.float32)
    far = np.maximum(y - _EDGE, 1e-4)
    grain = stretch(cloud(93, 1.25, stretch=0.12), np.sqrt(far[:, 0]) * 900, x * 500)
    wood = (0.13 * (1 + 0.26 * grain + 0.05 * grit))[..., None]
    wood = wood * np.array((1.0, 0.68, 0.43), np.float32)
    ring = np.abs(np.hypot(x - 0.83, (y - 0.90) * 3.1) - 0.085) + 0.006 * plaster
    wood = mix(wood, (0.030, 0.020, 0.014), 0.55 * (1 - step(0.0, 0.006, ring)))
    contact = 1 - 0.6 * np.exp(-far / 0.010)
    on = step(0.0, 0.0008, y - _EDGE)
    return wall + (wood * contact[..., None] - wall) * on[..., None]
