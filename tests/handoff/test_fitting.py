"""Files of at most so many bytes."""

from __future__ import annotations

import itertools
from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest
from PIL import Image
from skimage import data

from tests.conftest import docket_of, photo_of, resampled
from zinc_margin.handoff.make import make_file
from zinc_margin.keeping.job import Job
from zinc_margin.measure.errors import Cancelled, CannotDo
from zinc_margin.photo.measuring import measure
from zinc_margin.plan.build import plan
from zinc_margin.plan.text.lines import total
from zinc_margin.plan.text.notes import note_text

ENDINGS = {"jpeg": "jpg", "png": "png", "tiff": "tif"}


@pytest.fixture(scope="module")
def photo():
    """Smooth and busy places, so that no format packs it away."""
    rng = np.random.default_rng(5)
    y, x = np.mgrid[0:600, 0:900]
    rings = 60 * np.sin(np.hypot(x - 450, y - 300) / 9) + x / 9
    codes = np.stack([rings + 90 + rng.normal(0, 6, rings.shape) + 9 * k for k in range(3)], -1)
    return photo_of(np.clip(codes, 0, 255).astype(np.uint8))


def made(photo, tmp_path, form, most, **file):
    docket = resampled("9x6cm", 254, file={"format": form, "max_bytes": most} | file)
    out = tmp_path / f"out.{ENDINGS[form]}"
    written = make_file(photo, plan(photo.facts, docket), out)
    assert [path.name for path in tmp_path.iterdir()] == [out.name]
    return written


@pytest.mark.parametrize(
    ("form", "most"),
    [("jpeg", 300_000), ("jpeg", 60_000), ("jpeg", 20_000), ("png", 400_000), ("tiff", 700_000)],
)
def test_the_limit_is_met_and_used(photo, tmp_path, form, most):
    written = made(photo, tmp_path, form, most)
    assert written.bytes == written.path.stat().st_size
    assert 0.97 * most <= written.bytes <= most
    with Image.open(written.path) as image:
        assert image.size == (written.plan.pixels.width, written.plan.pixels.height)
        image.load()


def test_quality_gives_way_before_pixels(photo, tmp_path):
    free = made(photo, tmp_path, "jpeg", 10_000_000)
    assert free.plan.file.quality == 95 and free.bytes < 9_000_000
    free.path.unlink()
    tight = made(photo, tmp_path, "jpeg", int(free.bytes * 0.8))
    assert 80 <= tight.plan.file.quality < 95
    assert tight.plan.pixels == free.plan.pixels
    tight.path.unlink()
    tiny = made(photo, tmp_path, "jpeg", int(free.bytes * 0.15))
    assert tiny.plan.file.quality >= 80
    assert tiny.plan.pixels.width < free.plan.pixels.width


def test_the_print_stays_as_large_as_it_was(photo, tmp_path):
    written = made(photo, tmp_path, "jpeg", 30_000)
    pixels = written.plan.pixels
    assert pixels.width * Fraction(254, 10) / Fraction(*pixels.tag_x) == 90
    assert (written.plan.size.width_mm, written.plan.size.height_mm) == (90, 60)


def test_a_limit_is_part_of_the_plan_before_anything_is_written(photo):
    docket = resampled("9x6cm", 254, file={"format": "jpeg", "max_bytes": 30_000})
    planned = plan(photo.facts, docket)
    fit = planned.file.fit
    assert planned.docket == docket and planned.file.bytes_estimate <= 30_000 < fit.free_bytes
    assert planned.file.quality == 80 and planned.pixels.width < 900
    ppi = planned.pixels.width / (90 / 25.4)
    assert fit.ppi[0] == pytest.approx(ppi / 1.12, 1e-3) and fit.ppi[1] == pytest.approx(
        ppi * 1.12, 1e-3
    )
    note = next(note for note in planned.notes if note.code == "byte-limit")
    assert "ppi instead of 254 ppi" in note_text(note) and "30 kB" in note_text(note)
    assert "–" in total(planned)[0] and "about" in total(planned)[1]
    loose = plan(photo.facts, resampled("9x6cm", 254, file={"max_bytes": 10**8}))
    assert loose.file.fit is None
    assert loose.file.bytes_estimate == loose.file.unlimited_bytes


def test_a_plain_tiff_has_exactly_the_planned_pixels(photo, tmp_path):
    for most in (500_000, 700_000, 1_234_567):
        docket = resampled("9x6cm", 254, file={"format": "tiff", "max_bytes": most})
        planned = plan(photo.facts, docket)
        assert planned.file.fit.exact
        written = make_file(photo, planned, tmp_path / f"{most}.tif")
        with Image.open(written.path) as image:
            assert image.size == (planned.pixels.width, planned.pixels.height)
        assert 0.98 * most < written.bytes <= most


def test_a_limit_that_costs_the_minimum_needs_a_look_and_a_jpeg_is_the_way_out(photo):
    docket = resampled("9x6cm", 254, file={"format": "tiff", "max_bytes": 100_000})
    planned = plan(photo.facts, docket)
    free = plan(photo.facts, resampled("9x6cm", 254, file={"format": "tiff"}))
    assert (free.grade, planned.grade) == ("ample", "too few pixels")
    note = next(note for note in planned.notes if note.code == "byte-limit")
    assert note.grave
    jpeg, lifted = (plan(photo.facts, remedy.docket) for remedy in note.remedies)
    assert jpeg.file.format == "jpeg" and jpeg.pixels.width > planned.pixels.width
    assert lifted.file.max_bytes is None and lifted.grade == "ample"


def test_what_bytes_make_uncertain_lies_within_the_stated_range_on_photographs(tmp_path):
    within = []
    for number, codes in enumerate((data.astronaut(), data.chelsea(), data.coffee())):
        photo = photo_of(np.ascontiguousarray(codes))
        facts = replace(photo.facts, measured=measure(photo.codes, photo.colour))
        for form, share in itertools.product(("jpeg", "png"), (0.2, 0.5, 0.9)):
            free = plan(
                facts, docket_of("8x8cm", pixels={"method": "lanczos"}, file={"format": form})
            )
            file = {"format": form, "max_bytes": int(free.file.unlimited_bytes * share)}
            planned = plan(facts, docket_of("8x8cm", pixels={"method": "lanczos"}, file=file))
            out = tmp_path / f"{number} {share}.{ENDINGS[form]}"
            made = make_file(replace(photo, facts=facts), planned, out).plan
            fit, ppi = planned.file.fit, made.pixels.tag_x[0] / made.pixels.tag_x[1]
            within.append(
                fit.ppi[0] * 0.999 <= ppi <= fit.ppi[1] * 1.001
                and fit.quality[0] <= made.file.quality <= fit.quality[1]
            )
            assert fit.ppi[1] <= 1.13**2 * fit.ppi[0]
    assert sum(within) >= 0.95 * len(within) - 1


def test_what_cannot_fit_is_said_and_leaves_nothing(photo, tmp_path):
    profile = (20_000).to_bytes(4, "big") + photo.colour.icc[4:]  # alone more than the limit
    photo = replace(photo, colour=replace(photo.colour, icc=profile.ljust(20_000, b"\0")))
    docket = resampled("9x6cm", 254, file={"format": "jpeg", "max_bytes": 10_000})
    with pytest.raises(CannotDo, match="Choose a higher limit"):
        make_file(photo, plan(photo.facts, docket), tmp_path / "out.jpg")
    assert list(tmp_path.iterdir()) == []


def test_it_can_be_stopped(photo, tmp_path):
    docket = resampled("9x6cm", 254, file={"format": "jpeg", "max_bytes": 20_000})
    told = []

    def show(share, left):
        told.append(share)
        job.cancel()

    job = Job(show, every_s=0)

    with pytest.raises(Cancelled):
        make_file(photo, plan(photo.facts, docket), tmp_path / "out.jpg", False, job)
    assert list(tmp_path.iterdir()) == [] and told == sorted(told)
