"""The compiled loops against another library's, one by one."""

from __future__ import annotations

import numpy as np
import pytest
from numba import njit
from scipy import ndimage

from zinc_margin.photo.colour import srgb
from zinc_margin.pixels import edges
from zinc_margin.pixels.lookup import look
from zinc_margin.pixels.render import gaussian
from zinc_margin.pixels.tone_tables import make_tables

APRON = 16


@pytest.fixture
def plane() -> np.ndarray:
    noise = np.random.default_rng(5).uniform(0, 100, (91, 83))
    return ndimage.gaussian_filter(noise, 1).astype(np.float32)


@pytest.mark.parametrize("reach", range(1, 13))
def test_the_range_near_by_is_that_of_a_square_window(plane, reach):
    height, width = (side - 2 * APRON for side in plane.shape)
    low, high = np.empty((2, height, width), np.float32)
    lows, highs = np.empty((2, plane.shape[0], width), np.float32)
    edges.range_across(plane, (0, len(plane)), APRON, reach, lows, highs)
    edges.range_down(lows, highs, APRON, reach, low, high)
    inner = (slice(APRON, -APRON), slice(APRON, -APRON))
    assert np.array_equal(low, ndimage.minimum_filter(plane, 2 * reach + 1)[inner])
    assert np.array_equal(high, ndimage.maximum_filter(plane, 2 * reach + 1)[inner])


@pytest.mark.parametrize("sigma", [0.3, 0.9, 1.4, 3.1, 5.2])
def test_a_blur_is_a_gaussian(plane, sigma):
    weights = gaussian(sigma)
    assert len(weights) - 1 <= APRON
    height, width = (side - 2 * APRON for side in plane.shape)
    soft = np.empty((height, width), np.float32)
    between = np.empty((plane.shape[0], width), np.float32)
    edges.blur_across(plane, (0, len(plane)), APRON, weights, between)
    edges.blur_down(between, APRON, weights, soft)
    whole = np.concatenate([weights[:0:-1], weights]).astype(float)
    other = ndimage.correlate1d(plane.astype(float), whole, axis=0)
    other = ndimage.correlate1d(other, whole, axis=1)
    assert np.abs(soft - other[APRON:-APRON, APRON:-APRON]).max() < 1e-4


def test_a_table_is_read_between_its_entries():
    colour = srgb()
    decode = make_tables(colour, np.dtype(np.uint8)).decode[0]

    @njit
    def read(table, values, out):
        for n in range(len(values)):
            out[n] = look(table, values[n])

    at = np.linspace(-0.2, 1.2, 5003).astype(np.float32)
    out = np.empty_like(at)
    read(decode, at, out)
    inside = np.clip(at.astype(float), 0, 1)
    true = np.where(inside <= 0.04045, inside / 12.92, ((inside + 0.055) / 1.055) ** 2.4)
    assert np.abs(out - true).max() < 1e-5  # at the kink, which lies between two entries
    assert out[-1] == 1.0 and out[0] == 0.0
