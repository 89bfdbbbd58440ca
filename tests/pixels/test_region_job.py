"""Rendering and its job: cancelled regions, the reach of Gaussians, codes of another depth."""

from __future__ import annotations

import numpy as np
import pytest

from tests.conftest import docket_of, photo_of, resampled
from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.measure.errors import Cancelled
from zinc_margin.photo.colour import as_sixteen
from zinc_margin.pixels.render import Renderer
from zinc_margin.pixels.shared_pages import convert
from zinc_margin.pixels.sheets import page_of
from zinc_margin.pixels.weights import gaussian
from zinc_margin.plan.build import plan

PHOTO = photo_of(np.random.default_rng(4).integers(0, 256, (200, 300, 3)).astype(np.uint8))


@pytest.mark.parametrize(
    "docket",
    [
        resampled("12x8in", 100, pixels={"method": "lanczos"}),
        docket_of("12x8in", finish={"line_mm": 1, "line_gap_mm": 5}),
        docket_of("12x8in", size={"maker": "canvas"}),
    ],
    ids=["print", "sheet", "canvas"],
)
def test_a_cancelled_region_is_not_rendered(docket):
    page = page_of(PHOTO, plan(PHOTO.facts, docket))
    job = Job()
    assert page.region(0, 0, 60, 40, job).shape == (40, 60, 3)
    job.cancel()
    with pytest.raises(Cancelled):
        page.region(0, 0, page.shape[1], page.shape[0], job)
    with pytest.raises(Cancelled):
        list(page.bands(job))


def test_a_region_stops_between_its_tiles(monkeypatch):
    renderer = Renderer(PHOTO, plan(PHOTO.facts, resampled("24x16in", 100)), threads=1)
    job, fill, tiles = Job(), Renderer._fill, []

    def counted(self, *arguments):
        tiles.append(arguments)
        job.cancel()
        fill(self, *arguments)

    monkeypatch.setattr(Renderer, "_fill", counted)
    with pytest.raises(Cancelled):
        renderer.region(0, 0, 2400, 1600, job)
    assert len(tiles) == 1


def test_the_idle_job_belongs_to_all():
    with pytest.raises(RuntimeError):
        IDLE.cancel()
    assert not IDLE.cancelled


@pytest.mark.parametrize("sigma", [0.6, 1.0, 1.37, 2.0, 4.8])
def test_a_gaussian_reaches_three_sigma_and_keeps_the_mean(sigma):
    weights = gaussian(sigma).astype(float)
    reach = len(weights) - 1
    assert reach == int(np.ceil(3 * sigma))
    assert weights[0] + 2 * weights[1:].sum() == pytest.approx(1, abs=1e-6)
    places = np.arange(reach + 1)
    assert 2 * (weights * places**2).sum() == pytest.approx(sigma**2, rel=0.06)


def test_eight_bits_become_sixteen_and_return():
    codes = np.arange(256, dtype=np.uint8).reshape(16, 16, 1)
    deep = as_sixteen(codes)
    assert (deep[0, 0, 0], deep[-1, -1, 0]) == (0, 65535)  # black stays black, white stays white
    assert np.array_equal(deep, codes.astype(np.uint16) * 257)
    grey = PHOTO.colour
    assert np.array_equal(convert(deep, grey, grey, np.dtype(np.uint8)), codes)
    assert np.array_equal(convert(codes, grey, grey, np.dtype(np.uint16)), deep)
