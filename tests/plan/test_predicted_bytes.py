"""About how many bytes a file will have: known answers, and what more of anything does."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import docket_of, facts_of
from zinc_margin.docket.file import FORMATS
from zinc_margin.facts.measurements import Coded, Measured
from zinc_margin.gate.values import Wrong
from zinc_margin.handoff.make import make_file
from zinc_margin.measure.formats import formats
from zinc_margin.photo import colour as colours
from zinc_margin.photo.coding_cost import coded_size
from zinc_margin.photo.measuring import measure
from zinc_margin.photo.pixels import Photo
from zinc_margin.plan.build import plan
from zinc_margin.plan.file.prediction import pixel_bytes

CODED = Coded((1.2, 1.6, 2.0, 2.4), (4.0, 4.5, 5.0, 5.2))


def guess(key, samples=3_000_000, bits=8, quality=90, compression="none", channels=3, **kept):
    form = formats()[key]
    asked = quality if form.lossy(False, True) else None
    return pixel_bytes(
        form,
        samples,
        bits,
        kept.get("coded", CODED),
        kept.get("scale", 1.0),
        kept.get("sharpened", 0.0),
        asked,
        compression,
        kept.get("chroma", "4:4:4"),
        channels,
    )


@given(
    st.sampled_from(FORMATS),
    st.integers(1000, 10**9),
    st.integers(2, 100),
    st.floats(0.05, 20),
    st.floats(0, 3),
)
def test_more_pixels_quality_or_sharpening_never_predict_fewer_bytes(
    key, samples, quality, scale, amount
):
    usual = guess(key, samples, quality=quality, scale=scale, sharpened=amount)
    assert usual > 0
    assert guess(key, 2 * samples, quality=quality, scale=scale, sharpened=amount) >= usual
    assert guess(key, samples, quality=quality - 1, scale=scale, sharpened=amount) <= usual
    assert guess(key, samples, quality=quality, scale=scale) <= usual


def test_a_plain_tiff_is_known_to_the_byte_but_for_its_head():
    form = formats()["tiff"]
    assert guess("tiff", 3000, bits=16, coded=None) - form.overhead == 6000
    assert guess("tiff", 30000, compression="deflate") - form.overhead == 16650


@pytest.mark.parametrize("key", ["jpeg", "png"])
@pytest.mark.parametrize("busy", [3.0, 12.0])
def test_what_was_measured_tells_calm_photos_from_busy_ones(key, busy, tmp_path):
    """The bytes that come out lie within a third of those that were told."""
    rng = np.random.default_rng(4)
    rows = np.linspace(0, 200, 900)[:, None, None]
    codes = np.clip(rows + rng.normal(0, busy, (900, 1350, 1)) + np.zeros(3), 0, 255).astype(
        np.uint8
    )
    facts = replace(facts_of(1350, 900), measured=measure(codes, colours.srgb()))
    made = plan(
        facts,
        docket_of(
            "15x10cm", file={"format": key}, pixels={"choice": "keep"}, sharpen={"on": False}
        ),
    )
    written = make_file(Photo(facts, codes, colours.srgb()), made, tmp_path / f"one.{key}")
    assert 2 / 3 < made.file.bytes_estimate / written.bytes < 4 / 3


def test_the_smallest_photos_are_not_measured_and_levels_rise():
    assert coded_size(np.zeros((100, 400, 3), np.uint8)) is None
    noise = np.random.default_rng(1).integers(0, 256, (512, 512, 3), np.uint8)
    found = coded_size(noise)
    assert 8 < found.packed[0] < 8.2 and found.lossy[0] > 5


def test_coded_bits_go_round_with_what_was_measured():
    measured = Measured(0.2, coded=CODED)
    assert Measured.from_plain(measured.plain()) == measured
    broken = measured.plain() | {"coded": {"lossy": [1.0], "packed": [1.0]}}
    with pytest.raises(Wrong, match="must be a list of 4"):
        Measured.from_plain(broken)
