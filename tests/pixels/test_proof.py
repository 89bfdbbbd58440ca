"""The proof of output sharpening, on part of its grid; the whole is in docs/sharpening.md."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest
from scipy import ndimage

from benchmarks import proof_sharpening as proof
from tests.conftest import docket_of, photo_of
from zinc_margin.measure.distances import Seen
from zinc_margin.photo.measuring import measure
from zinc_margin.photo.sample import lightness
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan

SOME = proof.grid()[::13]


@pytest.fixture(scope="module")
def results():
    return [(case, proof.shown(case)) for case in SOME]


def test_prints_are_as_crisp_as_they_should_be(results):
    free = [proof.error_of(found) for _, found in results if found.made.sharpen.bound is None]
    assert len(free) > 20
    assert max(map(abs, free)) < 0.03
    # where the largest amount is not enough it is said, and what is reached is what was said
    for _, found in results:
        sharpen = found.made.sharpen
        if sharpen.bound is not None:
            assert sharpen.acutance_after < 1 and abs(proof.error_of(found)) < 0.04
            assert any(note.code == "sharpening-bound" for note in found.made.notes)


def test_no_fixed_unsharp_mask_comes_near(results):
    free = [(case, found) for case, found in results if found.made.sharpen.bound is None][::3]
    _, _, fixed = proof.best_fixed([case for case, _ in free])
    ours = np.mean([abs(proof.error_of(found)) for _, found in free])
    assert ours < fixed / 3


def test_the_trades_rules_of_thumb_come_out():
    def amount(paper="lustre", distance=450, factor=1):
        case = proof.Case(paper, 300, distance, Fraction(factor))
        photo = proof.photo_of(proof.edge(round(proof.SIDE / factor)))
        return proof.planned(case, photo).sharpen

    papers = [amount(paper).amount for paper in ("gloss", "lustre", "matt", "cotton rag", "canvas")]
    assert papers == sorted(papers) and papers[-1] > 3 * papers[0]
    grown = [amount(distance=900, factor=factor) for factor in (1, 2, 4)]
    assert [g.amount for g in grown] == sorted(g.amount for g in grown)
    assert grown[-1].sigma_mm > grown[0].sigma_mm
    far = [amount(distance=distance, factor=2) for distance in (300, 700, 2000)]
    assert [f.amount for f in far] == sorted((f.amount for f in far), reverse=True)
    assert [f.sigma_mm for f in far] == sorted(f.sigma_mm for f in far)


def test_noise_in_the_dark_stays_where_edges_gain():
    rng = np.random.default_rng(6)
    picture = np.full((240, 360), 24.0)
    picture[:, 180:] = 60 + 8 * np.sign(np.sin(np.arange(180) / 7))
    picture = ndimage.gaussian_filter(picture, 0.8)
    codes = proof.code_of(np.clip(picture + rng.normal(0, 0.5, picture.shape), 0, 100))
    photo = photo_of(codes)
    photo = replace(
        photo,
        facts=replace(
            photo.facts, measured=replace(measure(photo.codes, photo.colour), bands=None)
        ),
    )
    docket = docket_of(
        "36x24mm",
        pixels={"choice": "keep"},
        sharpen={"paper": "canvas"},
        size={"distance": Seen.at(450)},
    )
    made = plan(photo.facts, docket)
    before = lightness(photo.codes, photo.colour)
    after = lightness(Renderer(photo, made).region(0, 0, 360, 240), photo.colour)
    edges = np.abs(np.diff(before[:, 190:350], axis=1)) > 3.5
    gain = np.abs(np.diff(after[:, 190:350], axis=1))[edges].mean()
    assert gain > 1.3 * np.abs(np.diff(before[:, 190:350], axis=1))[edges].mean()
    assert after[:, 10:160].std() < 1.05 * before[:, 10:160].std()


def test_nothing_clips_that_was_not_clipped():
    rng = np.random.default_rng(3)
    # saturated colours near their ends, where one channel would go over
    codes = np.kron(rng.integers(0, 2, (12, 18, 3)) * 236 + 8, np.ones((10, 10, 1)))
    photo = photo_of(codes.astype(np.uint8))
    for paper, strength in (("canvas", 200), ("lustre", 100)):
        docket = docket_of(
            "18x12mm",
            pixels={"choice": "keep"},
            sharpen={"paper": paper, "strength": Fraction(strength)},
        )
        made = Renderer(photo, plan(photo.facts, docket), bits=16).region(0, 0, 180, 120)
        assert np.abs(made / 257.0 - codes).max() > 3
        assert made.max() < 65535 and made.min() > 0
