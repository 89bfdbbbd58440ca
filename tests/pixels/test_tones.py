"""The compiled loops against another library's, one by one."""

from __future__ import annotations

import numpy as np
import pytest
from numba import njit
from scipy import ndimage

from zinc_margin.photo import colour as colours
from zinc_margin.photo import icc
from zinc_margin.photo.colour import srgb
from zinc_margin.pixels import edges, half_size
from zinc_margin.pixels.bends import decoding, encoding, evaluate
from zinc_margin.pixels.lookup import apply_curve, look
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


EVEN = np.linspace(0, 1, 65537)
CURVES = {
    "srgb": srgb().curves[0],
    "1.8": colours.from_icc(icc.make("made", 1.8, None)).curves[0],
    "2.2": colours.wide_rgb().curves[0],
    "2.4": EVEN**2.4,
    "straight foot": np.where(EVEN < 1 / 32, EVEN / 16, EVEN**1.8),
    "L*": np.where(EVEN < 0.08, EVEN * 100 / 903.3, ((EVEN + 0.16) / 1.16) ** 3),
    "square": EVEN**2,
}


def l_star(linear):
    linear = np.asarray(linear, float)
    return np.where(linear > 216 / 24389, 116 * np.cbrt(linear) - 16, linear * 24389 / 27)


@pytest.mark.parametrize("curve", CURVES.values(), ids=CURVES)
def test_a_tone_curve_bends_as_it_is_told(curve):
    there, back = decoding(curve), encoding(curve)
    linear = evaluate(there, EVEN)
    assert np.abs(l_star(linear) - l_star(curve)).max() < 0.02
    codes = evaluate(back, np.maximum(linear, 0) ** 0.25)
    # near black a code is next to nothing: what counts is the light that it stands for
    again = l_star(np.interp(codes, EVEN, curve))
    assert np.abs(again - l_star(curve)).max() < 0.05
    assert np.abs(codes - EVEN)[EVEN > 0.1].max() < 1e-4
    out = np.empty(len(EVEN), np.float32)
    apply_curve(EVEN.astype(np.float32), there, np.zeros((3, 2), np.float32), out)
    assert np.array_equal(out, linear)


def test_a_curve_that_two_polynomials_cannot_follow_stays_a_table():
    steps = np.round(EVEN**2.2 * 20) / 20
    assert len(decoding(steps)) == 0
    table = make_tables(srgb(), np.dtype(np.uint8)).decode[0]
    at, out = EVEN.astype(np.float32), np.empty(len(EVEN), np.float32)
    apply_curve(at, decoding(steps), table, out)
    assert np.abs(out - CURVES["srgb"]).max() < 1e-5


@pytest.mark.parametrize("corner", [(0, 0), (1, 0), (0, 1), (1, 1)])
@pytest.mark.parametrize("sigma", [2.0, 2.75, 4.6])
def test_a_blur_at_half_the_size_is_nearly_a_gaussian(plane, corner, sigma):
    weights = gaussian(((sigma**2 - 1.5) / 4) ** 0.5)
    reach = len(weights) - 1
    apron = 2 * reach + 3
    height, width = (side - 2 * apron for side in plane.shape)
    pairs = [(side - first) // 2 - 1 for side, first in zip(plane.shape, corner, strict=True)]
    half = np.empty(pairs, np.float32)
    soft = np.empty((pairs[0], pairs[1] - 2 * reach), np.float32)
    half_size.halve_across(plane, (0, pairs[0]), corner, weights, half, soft)
    out = np.empty((height, width), np.float32)
    half_size.double_down(soft, apron, apron, corner, weights, out)
    true = ndimage.gaussian_filter(plane.astype(float), sigma, truncate=5)
    inner = (slice(apron, -apron), slice(apron, -apron))
    off = out - true[inner]
    # beside what a blur takes away, which is what sharpening gives back
    assert off.std() < 0.03 * (plane - true)[inner].std()
    assert abs(off.mean()) < 0.02
