"""How far a picture leans, on pictures that were leant by known amounts."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import ndimage

from zinc_margin.photo.level import MOST_LEAN, lean_of, small_tones


def bricks(lean: float, size: int = 700) -> np.ndarray:
    """A wall of bricks that leans by so many degrees, clockwise."""
    angle = np.radians(lean)
    y, x = np.mgrid[0:size, 0:size] - size / 2
    across, down = x * np.cos(angle) + y * np.sin(angle), y * np.cos(angle) - x * np.sin(angle)
    row = np.floor(down / 37)
    column = np.floor(across / 71 + (row % 2) / 2)
    tone = (
        40
        + 30
        * np.random.default_rng(1).random((64, 64))[row.astype(int) % 64, column.astype(int) % 64]
    )
    mortar = (down % 37 < 4) | ((across + 35.5 * (row % 2)) % 71 < 4)
    return ndimage.gaussian_filter(np.where(mortar, 85, tone), 0.8)


@pytest.mark.parametrize("lean", [-8.0, -2.35, -0.5, 0.0, 0.4, 1.5, 6.0])
def test_a_wall_tells_how_it_leans(lean):
    found, confidence = lean_of(bricks(lean))
    assert found == pytest.approx(lean, abs=0.06)
    assert confidence > 0.5


def test_a_horizon_tells_how_it_leans():
    y, x = np.mgrid[0:500, 0:800]
    edge = 240 + (x - 400) * np.tan(np.radians(1.7))
    rng = np.random.default_rng(2)
    light = np.where(y > edge, 30, 75) + ndimage.gaussian_filter(rng.normal(0, 20, (500, 800)), 3)
    found, confidence = lean_of(ndimage.gaussian_filter(light, 1))
    assert found == pytest.approx(1.7, abs=0.06) and confidence > 0.4


def test_texture_and_emptiness_tell_nothing():
    rng = np.random.default_rng(3)
    texture = 50 + 40 * ndimage.gaussian_filter(rng.normal(0, 4, (600, 900)), 2)
    answer = lean_of(texture)
    assert answer is None or answer[1] < 0.25
    assert lean_of(np.full((300, 300), 50.0)) is None
    assert lean_of(np.zeros((6, 6))) is None


def test_what_leans_further_was_meant_to():
    answer = lean_of(bricks(MOST_LEAN + 6))
    assert answer is None or answer[1] < 0.25


@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
def test_small_tones_are_means(dtype):
    top = np.iinfo(dtype).max
    codes = np.random.default_rng(5).integers(0, top, (3300, 40, 3)).astype(dtype)
    small = small_tones(codes)
    assert small.shape == (1100, 13)
    assert small[7, 2] == pytest.approx(codes[21:24, 6:9, 1].mean() / top * 100, rel=1e-4)
