"""Sharpening by a photo's own spectrum: what the sums must keep, and that prints keep to them."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import ndimage

from tests.conftest import docket_of, facts_of, resampled
from zinc_margin.facts.measurements import Measured
from zinc_margin.measure.distances import Seen
from zinc_margin.photo import colour as colours
from zinc_margin.photo import spectrum as octaves_of
from zinc_margin.photo.measuring import measure
from zinc_margin.photo.pixels import Photo
from zinc_margin.photo.sample import Sample, overlapping
from zinc_margin.photo.spectrum import bands_of
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan
from zinc_margin.plan.parts import Coding
from zinc_margin.plan.pixels.detail import CLEAN, surviving_detail
from zinc_margin.plan.pixels.repair import clean_for
from zinc_margin.plan.sharpen.eye import MOST, MOST_CRISP
from zinc_margin.plan.sharpen.photograph import (
    APART,
    EDGES,
    FARTHER_DB,
    FARTHER_REPAIRED_DB,
    LEAST,
    Chain,
    wanted_amount,
)
from zinc_margin.plan.text.sharpen_words import sharpen_rows, sharpening_reason

CRISP = (1.3, 1.5, 1.7, 2.0, 2.4, 2.9, 3.3)
SOFT = (0.2, 0.5, 1.0, 1.6, 2.2, 2.9, 3.3)
CHAIN = Chain(CRISP, 0.2, None, 1.0, CLEAN, 0.032, 300.0, 0.09, 0.2)


def coded(quality, repaired=False):
    clean = 0.0 if quality is None else clean_for(quality)
    return Coding(quality, clean if repaired else 0.0, clean)


def made(bands=CRISP, size="50x33cm", near=450, far=None, **lines):
    facts = facts_of(6000, 4000, measured=Measured(0.2, edge_px=0.6, bands=bands))
    seen = None if near is None else Seen(Fraction(near), Fraction(far or near))
    return plan(facts, resampled(size, 300, size={"distance": seen}, **lines))


@pytest.mark.parametrize("paper", ["gloss", "lustre", "matt"])
@pytest.mark.parametrize("near", [300, 450, 800])
def test_a_print_becomes_as_crisp_as_its_photo(paper, near):
    result = made(near=near, sharpen={"paper": paper}).sharpen
    before, after, *_ = result.crispness
    assert before < 0.99 < after <= 1 and result.bound is None


def test_rougher_papers_and_crisper_photos_want_more():
    amounts = [made(sharpen={"paper": p}).sharpen.amount for p in ("gloss", "lustre", "canvas")]
    assert amounts == sorted(amounts) and amounts[0] > 0
    assert made(CRISP).sharpen.amount > made(SOFT).sharpen.amount


def test_from_the_far_end_it_is_never_too_crisp():
    for far in (450, 900, 2000, 6000):
        result = made(near=300, far=far, sharpen={"paper": "canvas"}).sharpen
        assert result.crispness[3] <= MOST_CRISP + 1e-9
        assert result.bound in (None, "far", "detail", "amount")


@given(
    st.lists(st.floats(0.05, 6), min_size=7, max_size=7).map(tuple),
    st.floats(1, 16),
    st.floats(1, 100) | st.none(),
    st.booleans(),
    st.floats(250, 3000),
    st.floats(0.02, 0.1),
)
def test_the_bounds_hold_for_any_file(bands, scale, quality, repaired, near, paper):
    coding = coded(quality, repaired)
    chain = replace(
        CHAIN,
        bands=bands,
        method="ai",
        scale=scale,
        coding=coding,
        paper_mm=paper,
        effective_ppi=300 / scale,
    )
    wanted = wanted_amount(chain, near, 2 * near, MOST)
    a = wanted.amount
    assert 0 <= a <= MOST

    if a > 0:
        assert wanted.far.crispness(a) <= MOST_CRISP + 1e-6
        farther = FARTHER_REPAIRED_DB if coding.cleaned > 40 else FARTHER_DB
        assert wanted.near.difference(a) <= 1e-6 + max(
            wanted.near.difference(0) * 10 ** (farther / 20), APART
        )
        assert wanted.near.all_edges(a) <= EDGES + 1e-6


@given(st.integers(1, 99), st.sampled_from((1, 2, 3)))
def test_neighbouring_qualities_are_sharpened_alike(quality, scale):
    def edges(one):
        measured = Measured(0.2, edge_px=0.6, bands=CRISP)
        facts = facts_of(900, 600, measured=measured, jpeg_quality=one)
        sharpen = plan(facts, resampled("15x10cm", 152.4 * scale)).sharpen
        return sharpen.amount

    assert abs(edges(quality) - edges(quality + 1)) <= 0.2


def test_where_nobody_says_from_where_a_wall_print_is_sharpened_too():
    amounts = [made(SOFT, size, near=None).sharpen for size in ("30x20cm", "60x40cm", "150x100cm")]
    assert all(0.2 < one.amount <= LEAST + 1e-9 for one in amounts)
    crisp = [one.crispness[1] for one in amounts]
    assert max(crisp) - min(crisp) <= 0.05


def test_what_survives_falls_with_frequency_and_quality():
    cycles = np.linspace(0.01, 0.9, 60)
    for method in ("lanczos", "mitchell", "ai", "ai-fine", "edges"):
        own = surviving_detail(method, 4, CLEAN, cycles).own
        assert own[0] == pytest.approx(1, abs=0.02) and own[-1] < 0.4
    for method, repaired in (("ai", True), ("ai", False), ("lanczos", False)):
        qualities = (None, 95, 85, 75, 60, 40, 20)
        kept = [surviving_detail(method, 4, coded(q, repaired), cycles) for q in qualities]
        own = [one.own.sum() for one in kept]
        assert own == sorted(own, reverse=True)
    assert (
        surviving_detail("ai", 4, CLEAN, cycles).own.sum()
        > surviving_detail("lanczos", 4, CLEAN, cycles).own.sum()
    )
    plain = surviving_detail(None, 1, CLEAN, np.array([0.2, 0.4]))
    assert plain.own == pytest.approx([1, 1], abs=0.01)
    assert plain.energy == pytest.approx([1, 1], abs=0.01)


@given(st.floats(1, 8), st.floats(1, 99), st.booleans())
def test_what_survives_has_no_steps(scale, quality, repaired):
    cycles = np.linspace(0.02, 0.9, 40)
    here = surviving_detail("ai", scale, coded(quality, repaired), cycles)
    for near in (
        surviving_detail("ai", scale * 1.001, coded(quality, repaired), cycles),
        surviving_detail("ai", scale, coded(quality + 0.1, repaired), cycles),
    ):
        assert np.abs(here.own - near.own).max() < 0.02
        assert np.abs(here.energy - near.energy).max() < 0.05


def test_strength_over_100_is_a_visible_step_from_any_print():
    flat = (0.01,) * 7
    amounts = [
        made(flat, near=3000, sharpen={"strength": Fraction(s)}).sharpen.amount
        for s in (50, 100, 150, 200)
    ]
    assert all(later - earlier >= 0.24 for earlier, later in pairwise(amounts[1:]))
    assert (
        "crisper than the photo"
        in sharpen_rows(made(near=450, sharpen={"strength": Fraction(200)}), "cm")[1]
    )


def test_the_line_says_both_ends_and_what_holds():
    told = sharpen_rows(made(near=300, far=700, sharpen={"paper": "canvas"}), "cm")[1]
    assert "from 30 cm" in told
    plain = made()
    assert sharpen_rows(plain, "cm")[1].endswith("as sharp as the photo from 45 cm.")
    facts = facts_of(700, 467, measured=Measured(0.2, edge_px=0.6, bands=CRISP), jpeg_quality=40)
    held = plan(facts, resampled("50x33cm", 300, size={"distance": Seen.at(300)}))
    assert held.sharpen.bound == "detail"
    assert "has no finer detail" in sharpening_reason(held)
    (note,) = (note for note in held.notes if note.code == "sharpening-bound")
    assert note.remedies[0].docket.pixels.grain > 0


def test_octaves_hold_the_contrast_that_is_there():
    rng = np.random.default_rng(1)
    noise = Sample(rng.normal(50, 2, (40, 128, 128)).astype(np.float32), np.zeros((40, 2), int))
    bands = np.array(bands_of(noise))
    # white noise: an octave has the share of frequencies that its ring is, of a plane of 1
    rings = np.sqrt([np.pi * 0.75 * (0.5 / 2**k) ** 2 for k in range(7)]) * 2
    assert bands[:5] == pytest.approx(rings[:5], rel=0.08)


@pytest.mark.parametrize(("high", "wide", "octaves"), [(300, 225, 7), (100, 260, 6), (40, 40, 5)])
def test_small_photos_have_octaves_of_all_of_them(high, wide, octaves):
    rng = np.random.default_rng(2)
    codes = np.full((high, wide, 1), 128, np.uint8)
    codes[-24:, -24:] = rng.integers(0, 255, (24, 24, 1))  # in the last corner alone
    pieces = overlapping(codes, colours.plain_grey(), octaves_of.SIDE, octaves_of.MOST)
    bands = bands_of(pieces)
    assert len(bands) == octaves
    assert bands[0] > 0.05
    assert bands_of(overlapping(codes[:12, :12], colours.plain_grey(), 128, 4)) is None


def test_a_print_comes_out_as_crisp_as_it_was_told():
    """A picture with a photo's spectrum, printed and seen as the model has it."""
    rng = np.random.default_rng(5)
    spectrum = np.fft.rfft2(rng.normal(0, 1, (512, 512)))
    cycles = np.hypot(np.fft.fftfreq(512)[:, None], np.fft.rfftfreq(512)[None])
    light = np.fft.irfft2(spectrum / np.maximum(cycles, 1 / 512) ** 1.2)
    codes = np.clip(128 + 30 * light / light.std(), 0, 255).astype(np.uint8)[..., None].repeat(3, 2)
    facts = facts_of(512, 512, measured=measure(codes, colours.srgb()))
    docket = docket_of(
        "43.349333mm x 43.349333mm",
        size={"distance": Seen.at(450)},
        pixels={"choice": "keep"},
        sharpen={"paper": "matt", "process": "inkjet"},
    )
    one = plan(facts, docket)
    out = Renderer(Photo(facts, codes, colours.srgb()), one, bits=16).region(0, 0, 512, 512)

    def seen(values, sigma_px):
        grey = values.astype(float).mean(2)
        return ndimage.gaussian_filter(grey, sigma_px) if sigma_px else grey

    truth, got = seen(codes * 257.0, 0), seen(out, one.paper_px)
    per_mm = cycles * 300 / 25.4
    degree = per_mm * 450 * np.pi / 180
    eye = (0.0192 + 0.114 * degree) * np.exp(-((0.114 * degree) ** 1.1))
    weight = (eye * per_mm) ** 2
    a, b = np.fft.rfft2(truth), np.fft.rfft2(got)
    crispness = float((weight * (a * b.conj()).real).sum() / (weight * np.abs(a) ** 2).sum())
    assert crispness == pytest.approx(one.sharpen.crispness[1], abs=0.04)
