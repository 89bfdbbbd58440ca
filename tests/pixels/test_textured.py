"""Made-up texture: the same bits for any part, none where there was none, little on hard edges."""

from __future__ import annotations

from fractions import Fraction
from threading import Event

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from scipy import ndimage

from tests.conftest import docket_of, facts_of, photo_of
from tests.photo.test_subject_found import scene
from zinc_margin.demo.texture import cloud
from zinc_margin.measure.ways import Way
from zinc_margin.pixels.own_texture import PAD, own_structure
from zinc_margin.pixels.render import Renderer
from zinc_margin.pixels.textured import without_faces
from zinc_margin.plan.build import plan


def rough(side=480):
    """Stone: texture in every octave, with a calm patch."""
    field = 118 + 26 * cloud(5, 1.0, 1024)[:side, :side]
    field[: side // 3, : side // 3] = 150
    return np.clip(field, 0, 255).astype(np.uint8)[..., None].repeat(3, 2)


def enlarged(codes, factor=2, **pixels):
    given = {
        "choice": "resample",
        "target": Way("scale", (Fraction(factor),)),
        "method": "ai-natural",
    }
    photo = photo_of(codes)
    docket = docket_of("20x20cm", pixels=given | pixels, sharpen={"on": False})
    return Renderer(photo, plan(photo.facts, docket), bits=16)


def whole(renderer):
    high, wide, _ = renderer.shape
    return renderer.region(0, 0, wide, high)[..., 1].astype(float) / 257


def small(codes, factor):
    return np.asarray(Image.fromarray(codes).reduce(factor))


def finest(plane):
    return plane - ndimage.gaussian_filter(plane, 0.8)


def test_structure_is_of_one_strength_and_finer_than_what_it_came_from():
    field = cloud(5, 1.0, 1024)[:480, :480].astype(np.float32) * 0.1 + 0.5
    calm = ndimage.gaussian_filter(field, 1.2)
    found = own_structure(calm, PAD, PAD)
    assert found.shape == (480 - 2 * PAD,) * 2
    assert found.std() == pytest.approx(1, abs=0.1) and abs(found.mean()) < 0.02
    assert np.var(finest(found)) > 0.3 > 0.1 > np.var(finest(calm)) / np.var(calm)


@given(st.integers(0, 30), st.integers(0, 30))
@settings(max_examples=10)
def test_structure_hangs_on_the_place(down, across):
    field = cloud(5, 1.0, 1024)[:500, :500].astype(np.float32) * 0.1 + 0.5
    down, across = 2 * down, 2 * across
    whole = own_structure(field[:440, :440], PAD, PAD)
    part = own_structure(field[down : down + 380, across : across + 380], PAD + down, PAD + across)
    high, wide = whole.shape[0] - down - 64, whole.shape[1] - across - 64
    inner = slice(down + 64, down + min(high, 220)), slice(across + 64, across + min(wide, 220))
    again = part[64 : min(high, 220), 64 : min(wide, 220)]
    assert np.abs(whole[inner] - again).max() < 0.05  # what blurs see beyond the pad


def test_any_part_is_the_same_to_the_bit():
    renderer = enlarged(small(rough(900), 2))
    high, wide, _ = renderer.shape
    everything = renderer.region(0, 0, wide, high)
    for left, top, across, down in ((0, 0, 100, 80), (431, 207, 260, 310), (wide - 90, 5, 90, 90)):
        again = enlarged(small(rough(900), 2))
        part = again.region(left, top, across, down, Event())
        assert np.array_equal(part, everything[top : top + down, left : left + across])


def test_texture_comes_back_and_calm_places_stay_calm():
    truth = rough()
    low = small(truth, 2)
    natural, faithful = whole(enlarged(low)), whole(enlarged(low, method="ai"))
    there = slice(200, 460), slice(200, 460)
    energy = [
        np.var(finest(each)[there]) for each in (truth[..., 1].astype(float), natural, faithful)
    ]
    assert energy[2] < energy[1] < 1.3 * energy[0]
    calm = slice(24, 130), slice(24, 130)
    assert natural[calm].std() < faithful[calm].std() + 0.6
    # tones stay
    off = ndimage.uniform_filter(natural - faithful, 32)
    assert np.abs(off[32:-32, 32:-32]).max() < 1.5


def test_nought_is_faithful_and_more_is_more():
    low = small(rough(), 2)
    faithful = whole(enlarged(low, method="ai"))
    assert np.array_equal(whole(enlarged(low, surface=Fraction(0))), faithful)
    moved = [np.std(whole(enlarged(low, surface=Fraction(much))) - faithful) for much in (30, 100)]
    assert 0 < moved[0] < moved[1]


def test_hard_edges_are_held_back():
    bars = np.full((240, 240), 235, np.uint8)
    bars[:, ::12] = bars[:, 1::12] = bars[:, 2::12] = 25
    codes = bars[..., None].repeat(3, 2)
    natural, faithful = whole(enlarged(codes)), whole(enlarged(codes, method="ai"))
    assert np.abs(natural - faithful)[40:-40, 40:-40].max() <= 1.0


def test_it_is_offered_where_a_picture_would_look_painted_and_never_unasked():
    made = plan(facts_of(900, 600), docket_of("90x60cm", pixels={"clean": Fraction(80)}))
    assert made.pixels.surface == 0
    natural = docket_of("90x60cm", pixels={"method": "ai-natural"})
    assert plan(facts_of(900, 600), natural).pixels.surface == pytest.approx(0.6)
    letters = docket_of("90x60cm", pixels={"method": "ai-natural", "kind": "lettering"})
    assert plan(facts_of(900, 600), letters).pixels.surface == 0


def test_faces_are_left_nearly_alone():
    tinted = (scene(faces=((600, 100),)) * np.array([1.0, 0.72, 0.6])).astype(np.uint8)
    bare = without_faces(photo_of(tinted))
    assert bare.shape == (171, 256)
    at = 256 / 900
    assert bare[round(160 * at), round(660 * at)] < 0.2
    assert bare[round(400 * at), round(200 * at)] == 1 and bare[5, 5] == 1
    # what only looks like one, without skin's colour, is stone
    assert without_faces(photo_of(scene(faces=((600, 100),)))).min() == 1
