"""The glazed-tile wall: hard edges, fine repeats, crackle and highlights."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from zinc_margin.demo.texture import cloud, develop, mix, step, stretch, strips

WIDTH, HEIGHT = 6000, 4000
_PITCH = 620.0
_GLAZES = np.array(
    [(0.010, 0.075, 0.110), (0.016, 0.110, 0.115), (0.045, 0.160, 0.100), (0.012, 0.050, 0.095),
     (0.100, 0.190, 0.130), (0.310, 0.330, 0.270), (0.020, 0.120, 0.140)], np.float32
)  # fmt: skip


def draw(progress: Callable[[float], None], part: int = 1) -> np.ndarray:
    """Return the wall, (4000, 6000, 3) uint8.

    Parameters
    ----------
    part : int
        Draw only every part-th row and column: a small picture, quickly.
    """
    rng = np.random.default_rng(71)
    picture = np.empty((HEIGHT // part, WIDTH // part, 3), np.uint8)
    x = np.arange(0, WIDTH, part, dtype=np.float32)
    bend, fine, crackle = cloud(1, 2.2), cloud(2, 1.1), cloud(3, 1.5)
    table = np.random.default_rng(5)
    kinds = table.integers(0, len(_GLAZES), (64, 64))
    kinds = np.where(table.random((64, 64)) < 0.45, (kinds + 1) % 3, kinds)
    shades = table.normal(1, 0.10, (64, 64)).astype(np.float32)
    tilts = table.normal(0, 0.05, (2, 64, 64)).astype(np.float32)
    shifts = table.normal(0, 4.0, (2, 64, 64)).astype(np.float32)
    ringed = table.random((64, 64)) < 0.6
    cos, sin = np.cos(np.radians(6.5)), np.sin(np.radians(6.5))
    for rows in strips(HEIGHT // part):
        y = np.arange(rows.start * part, rows.stop * part, part, dtype=np.float32)[:, None]
        wave = stretch(bend, y[:, 0] / 9, x / 9) * 5
        a = (x * cos + y * sin + wave) / _PITCH + 20
        b = (-x * sin + y * cos + stretch(bend, y[:, 0] / 8 + 400, x / 8) * 5) / _PITCH + 20
        # Every other course is offset by half a tile.
        j = np.floor(b).astype(int)
        a = a + (j % 2) * 0.5
        i = np.floor(a).astype(int)
        key = (j % 64, i % 64)
        u = (a - i - 0.5) * 2 + shifts[0][key] / _PITCH
        v = (b - j - 0.5) * 2 + shifts[1][key] / _PITCH
        chip = stretch(fine, y[:, 0] / 3, x / 3) * 0.006
        # The distance to a rounded square's edge, in half tiles.
        corner = np.hypot(np.maximum(np.abs(u) - 0.82, 0), np.maximum(np.abs(v) - 0.82, 0))
        inside = 0.125 - corner + chip
        tile = step(0.0, 0.007, inside)
        rim = np.exp(-np.maximum(inside, 0) / 0.035)
        glaze = _GLAZES[kinds[key]] * shades[key][..., None]
        mottle = stretch(crackle, y[:, 0] / 2.2, x / 2.2)
        glaze = glaze * (1 + 0.16 * mottle)[..., None]
        glaze = glaze * (1 - 0.35 * rim)[..., None]
        # A painted ring, thicker where the brush was full.
        radius = np.hypot(u, v)
        width = 0.055 + 0.02 * np.sin(3 * np.arctan2(v, u) + i)
        ring = (1 - step(0.0, 0.012, np.abs(radius - 0.52 + 0.01 * mottle) - width)) * ringed[key]
        glaze = mix(glaze, (0.42, 0.50, 0.30), ring * (0.75 + 0.1 * mottle))
        # Fine cracks in the glaze, where two slow fields cross zero.
        net = np.abs(stretch(crackle, y[:, 0] / 1.3 + 300, x / 1.3 + 77))
        net = np.minimum(net, np.abs(stretch(crackle, y[:, 0] / 1.5 + 90, x / 1.5 + 500)))
        glaze = glaze * (1 - 0.45 * (1 - step(0.0, 0.05, net)))[..., None]
        # Light from the upper left, reflected by the curved surface.
        lean_x = u * 0.28 + tilts[0][key] + 0.010 * mottle
        lean_y = v * 0.28 + tilts[1][key] + 0.010 * mottle
        gloss = np.exp(-(((lean_x + 0.15) / 0.050) ** 2) - ((lean_y + 0.17) / 0.030) ** 2)
        sheen = np.exp(-(((lean_x + 0.10) / 0.22) ** 2) - ((lean_y + 0.14) / 0.20) ** 2)
        shade = 0.85 - 0.9 * lean_x - 0.7 * lean_y
        lit = glaze * (1.5 * shade)[..., None]
        lit += (0.95 * gloss + 0.05 * sheen)[..., None] * np.array((1.0, 0.96, 0.88), np.float32)
        sand = stretch(fine, y[:, 0] * 1.0, x * 1.0)
        grout = 0.30 + 0.055 * sand + 0.04 * stretch(bend, y[:, 0] / 3, x / 3)
        shadow = 1 - 0.55 * np.exp(-np.maximum(-inside, 0) / 0.015)
        mortar = (grout * shadow)[..., None] * np.array((1.0, 0.90, 0.76), np.float32)
        light = mortar + (lit - mortar) * tile[..., None]
        fall = 1.25 - 0.5 * ((x / WIDTH - 0.35) ** 2 + (y / HEIGHT - 0.3) ** 2)
        picture[rows] = develop(light * fall[..., None].astype(np.float32), rng, 255, 0.010)
        progress(rows.stop * part / HEIGHT)
    return picture
