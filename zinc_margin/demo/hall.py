"""The small hall of the show: a wall with a door, seen at an angle."""

from __future__ import annotations

import math

import numpy as np

from zinc_margin.demo.texture import cloud, stretch

SIZE = (2400, 1600)
_YAW, _FOCAL, _AWAY = math.radians(17), 1850.0, 5200.0
_EYE = 1500.0
DOOR = (1250.0, -560.0, 900.0, 2060.0)
"""Left, top, width and height in mm, relative to the point that the camera faces."""


def spot(across: float, down: float) -> tuple[float, float]:
    """Return a wall position's place in the picture, in pixels.

    Parameters
    ----------
    across, down : float
        In mm from the point that the camera faces, at eye height.
    """
    x, z = across * math.cos(_YAW), _AWAY - across * math.sin(_YAW)
    return (SIZE[0] - 1) / 2 + _FOCAL * x / z, (SIZE[1] - 1) / 2 + _FOCAL * down / z


def door_corners() -> tuple[tuple[float, float], ...]:
    """Return the door's corners in the picture, in pixels."""
    left, top, wide, high = DOOR
    return tuple(
        spot(x, y)
        for x, y in ((left, top), (left + wide, top), (left + wide, top + high), (left, top + high))
    )


def draw() -> np.ndarray:
    """Return the picture of the hall.

    Returns
    -------
    ndarray (H, W, 3), uint8, sRGB
    """
    wide, high = SIZE
    xs = (np.arange(wide, dtype=np.float32) - (wide - 1) / 2) / _FOCAL
    ys = (np.arange(high, dtype=np.float32) - (high - 1) / 2) / _FOCAL
    # The wall position of each column of the picture.
    across = _AWAY * xs / (math.cos(_YAW) + xs * math.sin(_YAW))
    depth = _AWAY - across * math.sin(_YAW)
    down = ys[:, None] * depth[None, :]
    plaster = stretch(cloud(41, 1.2), np.arange(high) * 0.9, np.arange(wide) * 0.9)
    warm = 1.0 - 0.11 * (across[None, :] / 4000) - 0.05 * (down / 1500) ** 2
    light = (0.62 + 0.006 * plaster) * warm
    picture = light[..., None] * np.array([1.0, 0.985, 0.955], np.float32)
    floor = down > _EYE
    reach = np.where(floor, _EYE / np.maximum(ys[:, None], 1e-3), 1.0)
    planks = np.floor((xs[None, :] * reach - 0.3 * reach) / 180.0)
    tone = (
        0.23
        + 0.025 * np.sin(planks * 12.9)
        + 0.02 * stretch(cloud(43, 1.0, stretch=8.0), np.arange(high), np.arange(wide))
    )
    fade = np.clip(1.15 - reach / 9000, 0.6, 1.1)
    wood = (tone * fade)[..., None] * np.array([1.0, 0.86, 0.7], np.float32)
    picture = np.where(floor[..., None], wood, picture)
    skirting = (down > _EYE - 110) & ~floor
    picture[skirting] *= 1.12
    left, top, broad, _ = DOOR
    for out, shade in ((90.0, 1.1), (0.0, 0.8)):
        inside = (
            (across[None, :] > left - out)
            & (across[None, :] < left + broad + out)
            & (down > top - out)
            & ~floor
        )
        picture[inside] = (light[..., None] * shade * np.array([0.86, 0.9, 0.92]))[inside]
    for px, py, pw, ph in ((110, 140, 680, 760), (110, 1040, 680, 860)):
        panel = (np.abs(across[None, :] - (left + px + pw / 2)) < pw / 2) & (
            np.abs(down - (top + py + ph / 2)) < ph / 2
        )
        picture[panel] *= 0.93
    knob = (across[None, :] - left - 70) ** 2 + (down - top - 1050) ** 2 < 28**2
    picture[knob] = 0.3
    picture += np.random.default_rng(47).normal(0, 0.004, picture.shape)
    codes = np.clip(picture, 0, 1) ** (1 / 2.2)
    return np.rint(codes * 255).astype(np.uint8)
