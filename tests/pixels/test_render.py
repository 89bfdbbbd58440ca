"""The same bits whatever bands, regions and threads; bands, progress and cancelling."""

from __future__ import annotations

import sys
import threading
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import docket_of, photo_of, resampled
from zinc_margin.keeping.job import Job
from zinc_margin.measure.distances import Seen
from zinc_margin.measure.errors import Cancelled
from zinc_margin.photo import colour as colours
from zinc_margin.pixels import coding, render
from zinc_margin.pixels.display import Screen, thumbnail
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan


def picture(width=220, height=150, dtype=np.uint8):
    rng = np.random.default_rng(8)
    codes = np.kron(rng.integers(0, 256, (height // 10, width // 10, 3)), np.ones((10, 10, 1)))
    codes = np.clip(codes + rng.normal(0, 6, codes.shape), 0, 255)
    return photo_of((codes * (257 if dtype == np.uint16 else 1)).astype(dtype), noise=0.2)


PHOTO, DEEP = picture(), picture(dtype=np.uint16)
DOCKETS = {
    "enlarged": resampled("22x15in", 60),
    "enlarged, odd": resampled("17.3x11.1cm", 211),
    "reduced": resampled("2x1.5in", 40),
    "kept": docket_of("22x15cm", pixels={"choice": "keep"}),
    "turned": resampled("20x12in", 40, crop={"turn": Fraction(13, 2)}),
    "turned, reduced": resampled("2x1in", 50, crop={"turn": Fraction(-28)}),
    "quarter and a bit": resampled("9x14in", 40, crop={"turn": Fraction(93)}),
    "bands": resampled("10x10in", 70, crop={"fit": "whole"}),
    "across the room": resampled("22x15in", 60, size={"distance": Seen.at(9000)}),
}


def whole(photo, docket, threads):
    return np.concatenate(list(Renderer(photo, plan(photo.facts, docket), threads=threads).bands()))


@pytest.mark.parametrize("name", DOCKETS)
@pytest.mark.parametrize("photo", [PHOTO, DEEP], ids=["8-bit", "16-bit"])
def test_bands_regions_and_threads_agree_to_the_bit(monkeypatch, name, photo):
    docket = DOCKETS[name]
    made = plan(photo.facts, docket)
    one = whole(photo, docket, 1)
    assert one.shape == (made.pixels.height, made.pixels.width, 3)
    assert np.array_equal(one, whole(photo, docket, 3))
    monkeypatch.setattr(render, "BAND_ROWS", 37)
    monkeypatch.setattr(render, "TILE_COLUMNS", 53)
    assert np.array_equal(one, whole(photo, docket, 2))
    renderer = Renderer(photo, made)
    rng = np.random.default_rng(1)
    for _ in range(6):
        top, left = rng.integers(0, one.shape[0] - 1), rng.integers(0, one.shape[1] - 1)
        height = int(rng.integers(1, one.shape[0] - top + 1))
        width = int(rng.integers(1, one.shape[1] - left + 1))
        region = renderer.region(int(left), int(top), width, height)
        assert np.array_equal(region, one[top : top + height, left : left + width])


@settings(max_examples=25)
@given(
    st.integers(0, 200),
    st.integers(0, 140),
    st.integers(1, 60),
    st.integers(1, 60),
    st.sampled_from(sorted(DOCKETS)),
)
def test_any_region_is_part_of_the_whole(left, top, width, height, name):
    made = plan(PHOTO.facts, DOCKETS[name])
    full_w, full_h = made.pixels.width, made.pixels.height
    left, top = left % full_w, top % full_h
    width, height = min(width, full_w - left), min(height, full_h - top)
    renderer = Renderer(PHOTO, made)
    part = renderer.region(left, top, width, height)
    inner = renderer.region(left + width // 2, top + height // 2, 1, 1)
    assert np.array_equal(part[height // 2, width // 2], inner[0, 0])


def test_a_region_outside_is_refused():
    renderer = Renderer(PHOTO, plan(PHOTO.facts, DOCKETS["kept"]))
    with pytest.raises(ValueError, match="outside"):
        renderer.region(-1, 0, 5, 5)


def test_bands_in_paper_white():
    made = plan(PHOTO.facts, DOCKETS["bands"])
    found = whole(PHOTO, DOCKETS["bands"], 2)
    left, top, width, height = made.picture
    assert (left, width) == (0, 700)
    assert (found[:top] == 255).all() and (found[top + height :] == 255).all()
    assert found[top : top + height].std() > 20


def test_progress_rises_to_one(monkeypatch):
    monkeypatch.setattr(render, "BAND_ROWS", 64)
    seen = []
    job = Job(lambda share, left: seen.append(share), every_s=0)
    for _ in Renderer(PHOTO, plan(PHOTO.facts, DOCKETS["enlarged"])).bands(job):
        pass
    assert seen == sorted(seen) and seen[-1] == 1 and len(seen) > 10


def test_cancelling_ends_it_and_leaves_no_thread(monkeypatch):
    monkeypatch.setattr(render, "BAND_ROWS", 16)
    job = Job()
    bands = Renderer(PHOTO, plan(PHOTO.facts, DOCKETS["enlarged"])).bands(job)
    next(bands)
    job.cancel()
    with pytest.raises(Cancelled):
        for _ in bands:
            pass
    assert not [thread for thread in threading.enumerate() if thread.name.startswith("render")]


def test_eight_bits_are_dithered_from_sixteen():
    ramp = np.repeat(np.linspace(20000, 21000, 400)[None], 300, 0).astype(np.uint16)
    photo = photo_of(ramp)
    docket = docket_of(
        "40x30cm", pixels={"choice": "keep"}, sharpen={"on": False}, file={"bits": 8}
    )
    found = Renderer(photo, plan(photo.facts, docket)).region(0, 0, 400, 300)[..., 0].astype(float)
    exact = ramp[0] / 257
    # every column means its exact value, where plain rounding would be off by up to half a step
    assert np.abs(found.mean(0) - exact).max() < 0.12
    again = Renderer(photo, plan(photo.facts, docket)).region(100, 100, 50, 50)[..., 0]
    assert np.array_equal(again, found[100:150, 100:150])


def test_the_screen_shows_true_colours():
    codes = np.array([[[255, 255, 255], [0, 0, 0], [128, 128, 128], [200, 30, 90]]], np.uint8)
    shown = Screen(colours.srgb(), codes.dtype).show(codes)[..., 2::-1]
    assert np.abs(shown.astype(int) - codes).max() <= 1
    wide = Screen(colours.wide_rgb(), codes.dtype).show(codes)[..., 2::-1].astype(int)
    assert np.ptp(wide[0, 2]) <= 1 and wide[0, 0].min() >= 254
    # a wide space's red is redder than the same numbers in sRGB
    assert wide[0, 3, 0] > 215 and wide[0, 3, 1] < 25
    grey = Screen(colours.plain_grey(), np.dtype(np.uint8)).show(np.full((2, 2, 1), 77, np.uint8))
    assert (np.abs(grey[..., :3].astype(int) - 77) <= 1).all()


@pytest.mark.parametrize("deep", [np.uint8, np.uint16])
@pytest.mark.parametrize("colour", [colours.wide_rgb(), colours.plain_grey()], ids=["wide", "grey"])
def test_a_picture_shown_without_a_loop_is_the_same(monkeypatch, colour, deep):
    rng = np.random.default_rng(5)
    count = 1 if colour.grey else 3
    codes = rng.integers(0, np.iinfo(deep).max, (130, 70, count), endpoint=True).astype(deep)
    screen = Screen(colour, codes.dtype)
    looped = screen.show(codes)
    monkeypatch.delitem(sys.modules, coding.__name__)
    assert np.array_equal(screen.show(codes), looped)
    assert coding.__name__ not in sys.modules


def test_thumbnails_are_means():
    codes = np.arange(64, dtype=np.uint8).reshape(8, 8, 1)
    small = thumbnail(codes, 4)
    assert small.shape == (4, 4, 1)
    assert small[0, 0, 0] == round((0 + 1 + 8 + 9) / 4 + 0.01)
    assert thumbnail(codes, 8) is codes
    assert thumbnail(np.zeros((3, 9000, 3), np.uint8), 1000).shape[1] <= 1000
