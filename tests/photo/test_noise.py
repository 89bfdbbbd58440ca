import numpy as np
import pytest

from tests.conftest import photo_of
from zinc_margin.photo import colour as colours
from zinc_margin.photo.measuring import measure
from zinc_margin.photo.sample import lightness


def test_lightness_of_known_greys():
    codes = np.array([[[0, 0, 0], [119, 119, 119], [255, 255, 255]]], np.uint8)
    found = lightness(codes, colours.srgb())
    assert np.allclose(found, [[0, 50.03, 100]], atol=0.05)


@pytest.mark.parametrize("sigma", [0.5, 1.5, 4.0])
def test_noise_of_a_known_amount_is_found(sigma):
    rng = np.random.default_rng(3)
    ramp = np.linspace(80, 180, 600)[None, :, None] * np.ones((400, 1, 1))
    codes = (np.clip(ramp + rng.normal(0, sigma, (400, 600, 1)), 0, 255) * 257).astype(np.uint16)
    photo = photo_of(codes)
    flat = lightness(np.full((1, 1, 1), 130 * 257, np.uint16), photo.colour)
    step = lightness(np.full((1, 1, 1), 131 * 257, np.uint16), photo.colour) - flat
    found = measure(codes, photo.colour).noise
    assert found == pytest.approx(sigma * float(step[0, 0]), rel=0.2)


def test_a_clean_ramp_and_hard_edges_are_not_noisy():
    x = np.arange(600)
    codes = np.where((x // 50) % 2 == 0, 60000, 20000).astype(np.uint16)
    codes = np.repeat(codes[None, :, None], 400, axis=0)
    assert measure(codes, colours.plain_grey()).noise < 0.05


def test_tiny_pictures_are_not_measured():
    assert measure(np.zeros((5, 5, 3), np.uint8), colours.srgb()).noise == 0
