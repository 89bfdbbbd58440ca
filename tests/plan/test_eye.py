"""The acutance model: its known figures and the orders that it must keep."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

import numpy as np
import pytest

from tests.conftest import docket_of, facts_of, resampled
from zinc_margin.facts.measurements import Measured
from zinc_margin.measure.distances import Seen
from zinc_margin.measure.kernels import kernels
from zinc_margin.measure.papers import papers
from zinc_margin.plan.build import plan
from zinc_margin.plan.pixels.response import kernel, response
from zinc_margin.plan.sharpen.eye import MOST, boost, contrast_sensitivity, restore


@pytest.mark.parametrize(
    ("sigma", "before", "amount"),
    [
        (0.025, 0.94, 0.18),
        (0.032, 0.91, 0.28),
        (0.045, 0.84, 0.55),
        (0.055, 0.79, 0.84),
        (0.080, 0.65, 1.96),
    ],
)
def test_known_figures_of_a_print_in_the_hand(sigma, before, amount):
    found = restore(sigma, 450, 300, 300, None, breadth=0)
    assert found.acutance_before == pytest.approx(before, abs=0.005)
    assert found.amount == pytest.approx(amount, abs=0.005)
    assert found.acutance_after == pytest.approx(1)


@pytest.mark.parametrize(
    ("effective", "distance", "before", "amount"),
    [(150, 450, 0.75, 1.07), (75, 450, 0.41, 3.0), (75, 900, 0.77, 0.91), (75, 2000, 0.99, 0.03)],
)
def test_known_figures_of_enlarged_prints(effective, distance, before, amount):
    found = restore(0.032, distance, 300, effective, "lanczos", breadth=0)
    assert found.acutance_before == pytest.approx(before, abs=0.012)
    assert found.amount == pytest.approx(amount, abs=0.03)


def test_the_bound_is_told():
    found = restore(0.032, 450, 300, 75, "lanczos", breadth=0)
    assert found.bound == "amount" and found.amount == MOST
    assert found.acutance_after < 1
    assert restore(0.032, 450, 300, 300, None).bound is None


@pytest.mark.parametrize("distance", [300, 450, 900, 2000])
@pytest.mark.parametrize("effective", [300, 150, 100])
def test_never_less_for_rougher_paper(distance, effective):
    by_roughness = sorted(float(paper.sigma_mm) for paper in papers())
    amounts = [restore(sigma, distance, 300, effective, "lanczos").amount for sigma in by_roughness]
    assert all(later >= earlier for earlier, later in pairwise(amounts))


@pytest.mark.parametrize("distance", [300, 450, 900, 2000])
def test_never_less_for_larger_enlargement(distance):
    amounts = [
        restore(0.032, distance, 300, 300 / times, "lanczos").amount
        for times in (1, 1.5, 2, 3, 4, 8)
    ]
    assert all(later >= earlier for earlier, later in pairwise(amounts))


def test_never_finer_for_larger_distance():
    sigmas = [
        restore(0.032, distance, 300, 300, None).sigma_mm for distance in (250, 450, 1000, 3000)
    ]
    assert all(later >= earlier for earlier, later in pairwise(sigmas))


def test_half_strength_is_half_and_none_is_none():
    facts = facts_of(6000, 4000)
    full, half, none = (
        plan(facts, resampled("60x40cm", 300, sharpen={"strength": Fraction(s)})).sharpen
        for s in (100, 50, 0)
    )
    assert half.amount == pytest.approx(full.amount / 2)
    assert none.amount == 0
    assert none.acutance_after == none.acutance_before


def test_the_radius_at_the_desk():
    # at 300 ppi and 45 cm it is 1.1 px
    made = plan(facts_of(6000, 4000), resampled("50x33cm", 300, size={"distance": Seen.at(450)}))
    assert made.sharpen.sigma_px == pytest.approx(1.1, abs=0.03)


def test_noise_raises_the_floor():
    quiet = plan(facts_of(6000, 4000), docket_of()).sharpen.noise
    loud = plan(facts_of(6000, 4000, measured=Measured(0.6)), docket_of("50x33cm")).sharpen.noise
    assert loud > quiet
    assert loud == pytest.approx(1.5)
    unknown = plan(facts_of(6000, 4000, measured=None), docket_of()).sharpen
    assert unknown.noise == quiet


def test_the_eye_sees_best_near_eight_cycles_a_degree():
    grid = np.linspace(0.1, 60, 2000)
    assert 7 < grid[np.argmax(contrast_sensitivity(grid))] < 9


def test_the_boost_leaves_the_flat_and_lifts_the_fine():
    assert boost(np.array([0.0]), 0.1, 0.2)[0] == 0
    assert boost(np.array([1000.0]), 0.1, 0.2)[0] == pytest.approx(1)


@pytest.mark.parametrize("method", ["lanczos", "mitchell", "catmull-rom"])
def test_kernels(method):
    x = np.linspace(-4, 4, 801)
    values = kernel(method, x)
    assert (values[np.abs(x) >= kernels()[method].support] == 0).all()
    shifts = np.arange(-4, 5)[None, :] + np.linspace(0, 1, 50)[:, None]
    sums = kernel(method, shifts).sum(axis=1)
    assert np.allclose(sums, 1, atol=1e-12 if method != "lanczos" else 0.01)
    assert response(method, np.array([0.0]))[0] == pytest.approx(1, abs=1e-6)
    assert response(method, np.array([0.51]))[0] == 0
    assert 0.2 < response(method, np.array([0.4]))[0] < 0.95
