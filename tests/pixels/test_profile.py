"""As the paper prints it; one edge across; where sharpening acts; grain."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest

from benchmarks import proof_sharpening as proof
from tests.conftest import docket_of, photo_of
from zinc_margin.measure.distances import Seen
from zinc_margin.photo import colour as colours
from zinc_margin.photo.sample import lightness
from zinc_margin.pixels.new_detail import acting
from zinc_margin.pixels.profile import print_blur, profile, simulate_paper
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan

KEPT = {"choice": "keep"}


def test_paper_blurs_light_and_not_codes():
    codes = np.zeros((41, 41, 3), np.uint16)
    codes[:, 20:] = 65535
    soft = print_blur(codes, colours.srgb(), 3.0)
    # halfway across a black and white edge half the light is left: code 188 of 255
    at = np.interp(19.5, np.arange(41), soft[20, :, 0])
    assert at / 257 == pytest.approx(188, abs=1)
    assert np.array_equal(print_blur(codes, colours.srgb(), 0.0), codes)


def test_a_part_is_printed_like_the_whole(scene):
    photo = photo_of(scene(200, 140))
    made = plan(photo.facts, docket_of("20x14mm", pixels=KEPT, sharpen={"paper": "canvas"}))
    renderer = Renderer(photo, made)
    whole = simulate_paper(renderer, (0, 0, 200, 140), made.paper_px)
    part = simulate_paper(renderer, (60, 50, 70, 40), made.paper_px)
    assert np.abs(whole[50:90, 60:130].astype(int) - part).max() <= 1


def test_one_edge_across():
    photo = proof.photo_of(proof.edge(260, 30, 70))
    docket = docket_of(
        "26x26mm", pixels=KEPT, size={"distance": Seen.at(450)}, sharpen={"paper": "cotton rag"}
    )
    made = plan(photo.facts, docket)
    found = profile(photo, made, (0.5, 0.5))
    assert np.degrees(found.angle) == pytest.approx(5, abs=1.5)
    assert found.centre == pytest.approx((130, 130), abs=6)
    assert found.file[0] == pytest.approx(30, abs=0.5) and found.file[-1] == pytest.approx(
        70, abs=0.5
    )

    def steepest(line):
        return np.abs(np.gradient(line, found.mm)).max()

    # paper takes from the edge; sharpening gives some of it back
    assert steepest(found.printed) < steepest(found.both) < steepest(found.sharpened)
    assert found.sharpened.max() > 70.5 and found.sharpened.min() < 29.5
    assert abs(found.mm[0] + found.mm[-1]) < 0.2 and np.all(np.diff(found.mm) > 0)


def test_an_edge_is_followed_whichever_way_it_runs():
    upright = np.where(np.arange(200) < 100, 40.0, 160.0)[None].repeat(200, 0).astype(np.uint8)
    for turn in range(4):
        photo = photo_of(np.ascontiguousarray(np.rot90(upright, turn)))
        made = plan(photo.facts, docket_of("20x20mm", pixels=KEPT))
        found = profile(photo, made, (0.5, 0.5))
        # always from dark to light
        assert found.file[-1] > found.file[0] + 30


def test_where_sharpening_acts():
    codes = np.full((120, 200), 100.0)
    codes[:, 100:] = 190
    codes[:, :60] += np.random.default_rng(1).normal(0, 1.2, (120, 60))
    photo = photo_of(codes.astype(np.uint8), noise=0.6)
    made = plan(photo.facts, docket_of("20x12mm", pixels=KEPT, sharpen={"paper": "canvas"}))
    acts, held = acting(photo, made, (0, 0, 200, 120))
    assert acts[:, 97:103].max() > 3 and acts[:, 5:50].mean() < 0.3
    assert held[:, 5:50].mean() > 3 * held[:, 150:190].mean()
    none = replace(made, sharpen=None)
    assert not acting(photo, none, (0, 0, 20, 20))[0].any()


def grained(ppi, side_mm=20, grain=60, size="0.3", tone=118, **lines):
    side = round(side_mm / 25.4 * ppi)
    photo = photo_of(np.full((side, side, 3), tone, np.uint8))
    docket = docket_of(
        f"{side / ppi:.8f}x{side / ppi:.8f}in",
        pixels=KEPT | {"grain": Fraction(grain), "grain_mm": Fraction(size)},
        sharpen={"on": False},
        **lines,
    )
    made = plan(photo.facts, docket)
    return photo, made, Renderer(photo, made, bits=16)


def test_grain_is_the_same_on_paper_at_any_resolution():
    spans = []
    for ppi in (300, 600):
        photo, _, renderer = grained(ppi, size="0.6")
        light = lightness(renderer.region(0, 0, *renderer.shape[1::-1]), photo.colour)
        assert light.std() == pytest.approx(3, rel=0.15)
        line = light - light.mean()
        rows = [np.mean(line[:, :-k] * line[:, k:]) / line.var() for k in range(1, 40)]
        spans.append(np.interp(-0.5, -np.array(rows[:12]), np.arange(1, 13)) / ppi)
    assert spans[0] == pytest.approx(spans[1], rel=0.25)


def test_grain_is_strongest_in_mid_tones_and_hangs_on_the_place():
    def deviation(tone):
        photo, _, renderer = grained(300, tone=tone)
        return lightness(renderer.region(0, 0, 200, 200), photo.colour).std()

    assert deviation(118) > 2 * deviation(20) and deviation(118) > 2 * deviation(246)
    _, _, renderer = grained(300)
    whole = renderer.region(0, 0, 200, 200)
    assert np.array_equal(renderer.region(30, 50, 90, 80), whole[50:130, 30:120])
    _, made, _ = grained(300, grain=0)
    assert made.grain is None
