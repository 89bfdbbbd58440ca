"""Fineness: the finest places speak for a photo, not what lies out of focus."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import ndimage

from tests.conftest import docket_of, facts_of
from zinc_margin.facts.measurements import Measured
from zinc_margin.photo.edges import fineness_of
from zinc_margin.photo.sample import Sample
from zinc_margin.plan.pixels.resampling import share_for


def tiles(blur: float, busy: int = 12, calm: int = 4, seed: int = 3, scale: float = 1.0) -> Sample:
    """Texture of every scale, as a reduced photo has it, blurred by so many pixels; and flat ones."""
    random = np.random.default_rng(seed)
    found = []
    for _ in range(busy):
        # power falls with frequency, as in photographs
        plane = random.normal(0, 1, (256, 256))
        down, across = np.meshgrid(np.fft.fftfreq(256), np.fft.fftfreq(256), indexing="ij")
        reach = np.hypot(down, across) + 1 / 256
        shaped = np.fft.ifft2(np.fft.fft2(plane) / reach).real
        shaped = ndimage.gaussian_filter(shaped, blur, mode="wrap")
        found.append(50 + 12 * scale * shaped / shaped.std())
    found += [np.full((256, 256), 40.0)] * calm
    made = np.array(found, np.float32)
    return Sample(made, np.zeros((len(made), 2), int))


def test_smearing_is_seen_and_grows():
    found = [fineness_of(tiles(blur)) for blur in (0.0, 0.4, 0.6, 0.8, 1.2)]
    assert all(one > other for one, other in itertools.pairwise(found))
    assert found[0] > 0.24 > 0.17 > found[-1]


def test_what_lies_out_of_focus_does_not_make_a_sharp_photo_smeared():
    sharp, soft = tiles(0.0, busy=6, calm=0), tiles(2.5, busy=30, calm=0, seed=5)
    both = Sample(
        np.concatenate([sharp.tiles, soft.tiles]), np.concatenate([sharp.places, soft.places])
    )
    alone, together = fineness_of(sharp), fineness_of(both)
    assert together > 0.8 * alone
    assert fineness_of(soft) < 0.12


@given(st.floats(0.5, 2.0), st.floats(-20, 20))
def test_neither_contrast_nor_brightness_changes_it(times, lighter):
    plain = tiles(0.5, busy=4, calm=0)
    other = Sample(
        ((plain.tiles - 50) * np.float32(times) + 50 + np.float32(lighter)).astype(np.float32),
        plain.places,
    )
    assert fineness_of(other) == pytest.approx(fineness_of(plain), rel=1e-3)


def test_where_nothing_goes_on_nothing_is_said():
    assert fineness_of(Sample(np.zeros((0, 64, 64), np.float32), np.zeros((0, 2), int))) is None
    assert fineness_of(tiles(0.0, busy=0, calm=6)) is None
    assert fineness_of(tiles(0.0, busy=4, calm=0, scale=0.001)) is None


def test_a_smeared_photo_takes_more_of_the_correction_and_a_fine_one_no_more_than_asked():
    def share(fineness: float | None, **pixels: object) -> float:
        docket = docket_of("30x20cm", pixels=pixels)
        measured = facts_of(600, 400, measured=Measured(0.0, fineness=fineness)).measured
        return share_for(docket.pixels, measured)

    usual = share(None)
    assert share(0.4) == share(0.24) == usual
    assert usual < share(0.2) < share(0.17) == share(0.05)
    assert share(0.05) <= 1.65 * usual
    assert share(0.05, kind="lettering") == share(0.4, kind="lettering")
