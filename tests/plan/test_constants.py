"""Constants of the models: known answers that a change of one of them must break."""

from __future__ import annotations

from fractions import Fraction as F

import numpy as np
import pytest

from tests.conftest import docket_of, facts_of
from zinc_margin.docket.crop import Frame
from zinc_margin.measure.sizes import parse_size
from zinc_margin.photo.sample import Sample
from zinc_margin.photo.spectrum import bands_of
from zinc_margin.plan.build import plan
from zinc_margin.plan.crop.rotation import Turned
from zinc_margin.plan.sharpen.eye import boost, contrast_sensitivity
from zinc_margin.plan.size.distance import distances, needed_ppi, sharp_from


@pytest.mark.parametrize(
    ("size", "near", "far"),
    [
        ("9x13cm", 300, 300),  # 30 cm at least
        ("60x40cm", 360.6, 721.1),  # half of the diagonal
        ("80x60cm", 500, 1000),
        ("150x100cm", 500, 1802.8),  # people step up to half a metre
    ],
)
def test_usual_distances(size, near, far):
    assert distances(parse_size(size), None) == pytest.approx((near, far), abs=0.1)


@pytest.mark.parametrize(
    ("lines", "caption", "below"),
    [
        ({"caption": "{title}"}, F(4), F(16)),  # a ring of two heights, and two more below it
        ({"caption": "{title}", "footer": "{name}"}, F(4), F(20)),
        ({"caption": "{title}"}, F(6), F(24)),
    ],
)
def test_captions_have_room_below(lines, caption, below):
    made = plan(facts_of(3000, 2000), docket_of(finish=lines | {"caption_mm": caption}))
    top, right, bottom, left = made.sheet.margins_mm
    assert (top, right, left) == (2 * caption,) * 3
    assert bottom == below


def test_captions_are_a_45th_of_the_shorter_side():
    made = plan(facts_of(3000, 2000), docket_of("60x45cm", finish={"caption": "{title}"}))
    assert made.sheet.margins_mm[0] == 2 * 10


def test_a_frame_over_either_side_is_shared_inside():
    turned = Turned(600, 400, F(0), False)
    assert turned.share_inside(Frame(F(100), F(100), F(200), F(100))) == 1
    over_right = Frame(F(400), F(150), F(300), F(100))  # centre at 550 of 600: 50 of 150
    assert float(turned.share_inside(over_right)) == pytest.approx(1 / 3, abs=1e-3)
    over_bottom = Frame(F(250), F(250), F(100), F(200))  # centre at 350 of 400: 50 of 100
    assert float(turned.share_inside(over_bottom)) == pytest.approx(1 / 2, abs=1e-3)


@pytest.mark.parametrize("direction", ["across", "down"])
@pytest.mark.parametrize(("period", "octave"), [(3, 0), (6, 1), (24, 3)])
def test_a_wave_has_its_contrast_in_its_own_octave(direction, period, octave):
    wave = np.sin(2 * np.pi * np.arange(128) / period) * 10 * 2**0.5
    tile = np.tile(wave, (128, 1)) if direction == "across" else np.tile(wave[:, None], 128)
    found = bands_of(Sample(tile[None].astype(np.float32), np.zeros((1, 2), int)))
    assert found[octave] == pytest.approx(10, rel=0.04)
    assert sum(value**2 for value in found) ** 0.5 == pytest.approx(10, rel=0.04)


def test_octaves_are_those_of_the_whole_spectrum():
    """Half a spectrum is looked at; its first and last column count once, the others twice."""
    rng = np.random.default_rng(3)
    x = np.arange(128)
    tile = rng.normal(0, 1, (128, 128)) + 9 * np.where(x % 2, 1, -1) + 9 * np.sin(x[:, None])
    window = np.hanning(128)[:, None] * np.hanning(128)[None]
    power = np.abs(np.fft.fft2((tile - tile.mean()) * window)) ** 2
    power /= 128**4 * (window**2).mean()
    ring = np.hypot(np.fft.fftfreq(128)[:, None], np.fft.fftfreq(128)[None])
    wanted = [
        np.sqrt(power[(ring > 0.25 / 2**at) & (ring <= 0.5 / 2**at)].sum()) for at in range(7)
    ]
    found = bands_of(Sample(tile[None].astype(np.float32), np.zeros((1, 2), int)))
    assert found == pytest.approx(wanted, rel=1e-3, abs=1e-3)


def test_the_eye_resolves_one_minute_of_arc():
    assert needed_ppi(254) == pytest.approx(343.77, abs=0.01)  # 3437.7 / 10 in
    assert sharp_from(343.7747) == pytest.approx(254, abs=0.01)


def test_contrast_sensitivity_is_that_of_mannos_and_sakrison():
    f = np.array([0.0, 1.0, 8.0, 30.0])
    wanted = 2.6 * (0.0192 + 0.114 * f) * np.exp(-((0.114 * f) ** 1.1))
    assert contrast_sensitivity(f) == pytest.approx(wanted)
    assert contrast_sensitivity(np.zeros(1))[0] == pytest.approx(0.04992)
    assert contrast_sensitivity(np.array([8.0]))[0] == pytest.approx(0.981, abs=0.001)


def test_the_broader_scale_is_two_and_a_half_times_as_wide():
    f, sigma = np.array([0.5, 2.0, 6.0]), 0.05
    fine = 1 - np.exp(-2 * np.pi**2 * sigma**2 * f**2)
    broad = 1 - np.exp(-2 * np.pi**2 * (2.5 * sigma) ** 2 * f**2)
    assert boost(f, sigma, 0.2) == pytest.approx(0.8 * fine + 0.2 * broad)
