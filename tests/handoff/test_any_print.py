"""Whatever a docket says, its files are whole, as large as was planned, and nothing else is left.

A lab reads them, by other means than what wrote them.
"""

from __future__ import annotations

import tempfile
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import imagecodecs
import numpy as np
import pypdfium2
import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st
from PIL import Image

from tests.dockets import dockets
from zinc_margin.handoff import checking, delivery
from zinc_margin.measure.errors import ZincError
from zinc_margin.measure.formats import formats
from zinc_margin.photo.pixels import read_photo
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan

PPI = Fraction(12)
"""So few that a print of any size is made at once."""
few = settings(
    max_examples=25, suppress_health_check=[HealthCheck.too_slow, HealthCheck.filter_too_much]
)


@pytest.fixture(scope="module")
def photo(tmp_path_factory):
    rng = np.random.default_rng(5)
    path = tmp_path_factory.mktemp("photos") / "kiln.png"
    Image.fromarray(rng.integers(0, 256, (40, 60, 3), np.uint8)).save(path)
    return read_photo(path)


def small(docket, form):
    """The docket of a file of few pixels, in a format."""
    way = docket.size.way
    if way is not None and way.kind in ("scale", "megapixels", "screen"):
        docket = replace(docket, size=replace(docket.size, way=None))
    return replace(
        docket,
        size=replace(docket.size, ppi=PPI),
        pixels=replace(docket.pixels, choice="resample", target=None),
        file=replace(docket.file, format=form, max_bytes=None),
    )


def planned(facts, docket, form):
    try:
        made = plan(facts, small(docket, form))
    except ZincError:
        assume(False)
    assume(made.page.width * made.page.height < 300_000)
    assume(made.pieces is None or len(made.pieces.each) <= 6)
    return made


@few
@given(dockets(), st.sampled_from(tuple(formats())))
def test_a_file_is_what_was_planned(photo, docket, form):
    made = planned(photo.facts, docket, form)
    before = photo.facts.path.read_bytes()
    with tempfile.TemporaryDirectory() as folder:
        goal = Path(folder)
        if not delivery.many_files(made):
            goal /= f"print{formats()[form].endings[0]}"
        try:
            written = delivery.deliver(photo, made, goal)
        except ZincError as why:
            assert str(why).endswith(".") and "\n" not in str(why)
            assert list(Path(folder).iterdir()) == []
            return
        files = {one.path for one in written}
        left = set(Path(folder).rglob("*"))
        assert files <= left and all(path.stat().st_size for path in files)
        # besides them a map of the pieces and a slip; never a partial file
        assert not any(path.name.startswith(".") for path in left)
        if form == "pdf":
            pages = pypdfium2.PdfDocument(goal)
            # pieces are pages behind their map
            assert len(pages) == (1 if made.pieces is None else 1 + len(made.pieces.each))
            pages.close()
        elif form == "jxl" and made.pieces is None:
            codes = imagecodecs.jpegxl_decode(goal.read_bytes())
            assert codes.shape[:2] == (made.page.height, made.page.width)
        elif made.pieces is None:
            seen = checking.read_as_lab(goal)
            assert (seen.width, seen.height) == (made.page.width, made.page.height)
            assert seen.bits == made.file.bits
            if seen.ppi is not None:
                # a JPEG's own note is whole
                assert seen.ppi == pytest.approx(float(Fraction(*made.page.tag_x)), abs=0.51)
    assert photo.facts.path.read_bytes() == before


@few
@given(dockets(), st.data())
def test_a_part_is_the_same_bits_as_the_whole(photo, docket, data):
    made = planned(photo.facts, docket, "tiff")
    width, height = made.pixels.width, made.pixels.height
    renderer = Renderer(photo, replace(made, sheet=None, pieces=None))
    whole = np.concatenate(list(renderer.bands()))
    assert whole.shape == (height, width, whole.shape[2])
    left = data.draw(st.integers(0, width - 1))
    top = data.draw(st.integers(0, height - 1))
    wide = data.draw(st.integers(1, width - left))
    high = data.draw(st.integers(1, height - top))
    part = renderer.region(left, top, wide, high)
    assert np.array_equal(part, whole[top : top + high, left : left + wide])
