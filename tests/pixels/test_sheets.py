"""Finished pages: the print untouched on them, sides that join, parts that agree to the bit."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction as F

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from tests.conftest import photo_of, resampled
from zinc_margin.docket.finish import Margins
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.sizes import parse_size
from zinc_margin.pixels.render import Renderer
from zinc_margin.pixels.sheets import page_of
from zinc_margin.plan.build import plan


@pytest.fixture
def photo(scene):
    return photo_of(scene(600, 400))


def made(photo, ppi=100, size="30x20cm", **finish):
    return plan(photo.facts, resampled(size, ppi, finish=finish, sharpen={"paper": "matt"}))


def whole(photo, one):
    return np.concatenate(list(page_of(photo, one).bands()))


def face(one, codes):
    sheet = one.sheet
    return codes[
        sheet.top : sheet.top + one.pixels.height, sheet.left : sheet.left + one.pixels.width
    ]


WRAP = {"wrap_mm": F(32), "tuck_mm": F(14)}


@pytest.mark.parametrize(
    "finish",
    [
        {"sheet": parse_size("A3"), "margins": Margins(F(20), F(20), F(30), F(20))},
        WRAP,
        WRAP | {"wrap_strip_mm": F(15), "wrap_soften_mm": F(12)},
        {"bleed_mm": F(3), "marks": True},
    ],
)
def test_the_print_is_the_same_to_the_bit_on_its_sheet(photo, finish):
    one = made(photo, **finish)
    plain = Renderer(photo, replace(one, sheet=None))
    expected = plain.region(0, 0, one.pixels.width, one.pixels.height)
    assert np.array_equal(face(one, whole(photo, one)), expected)


@pytest.mark.parametrize("strip", [None, F(40), F(10), F(3)])
@pytest.mark.parametrize("soften", [0, 20])
def test_sides_join_the_face_without_a_step(photo, strip, soften):
    one = made(photo, wrap_strip_mm=strip, wrap_soften_mm=F(soften), **WRAP)
    codes, sheet = whole(photo, one), one.sheet
    right, bottom = sheet.left + one.pixels.width, sheet.top + one.pixels.height
    rows, columns = slice(sheet.top, bottom), slice(sheet.left, right)
    assert np.array_equal(codes[rows, sheet.left - 1], codes[rows, sheet.left])
    assert np.array_equal(codes[rows, right], codes[rows, right - 1])
    assert np.array_equal(codes[sheet.top - 1, columns], codes[sheet.top, columns])
    assert np.array_equal(codes[bottom, columns], codes[bottom - 1, columns])


def test_a_plain_mirror_is_the_picture_turned_over(photo):
    one = made(photo, **WRAP)
    codes, sheet = whole(photo, one), one.sheet
    across, down = sheet.around.across, sheet.around.down
    assert np.array_equal(codes[:, :across], codes[:, across : 2 * across][:, ::-1])
    assert np.array_equal(codes[:down], codes[down : 2 * down][::-1])


def test_a_narrow_strip_is_drawn_out(photo):
    """With half the strip, what lies t outside is what lies t/2 inside."""
    one = made(photo, wrap_strip_mm=F(23), **WRAP)
    codes, sheet = whole(photo, one).astype(float), one.sheet
    row = sheet.top + 200
    inside = codes[row, sheet.left :]
    for t in (40, 120, 170):
        outside = codes[row, sheet.left - 1 - t]
        place = (t + 0.5) / 2 - 0.5
        low = int(place)
        expected = inside[low] + (place - low) * (inside[low + 1] - inside[low])
        assert np.abs(outside - expected).max() <= 0.51


def test_softening_grows_outwards_and_keeps_the_mean(photo):
    plain = whole(photo, made(photo, **WRAP)).astype(float)
    soft = whole(photo, made(photo, wrap_soften_mm=F(20), **WRAP)).astype(float)

    def rough(codes, columns):
        return float(np.abs(np.diff(codes[200:900, columns], axis=0)).mean())

    near, far = slice(150, 170), slice(0, 20)  # of 181 columns
    assert rough(soft, far) < 0.2 * rough(plain, far)
    assert rough(soft, near) > rough(soft, far)
    assert soft[:, :181].mean() == pytest.approx(plain[:, :181].mean(), abs=3)


def test_sides_of_one_colour_are_plain(photo):
    tone = {"wrap_tone": "#204060"}
    full = made(photo, **WRAP, **tone)
    codes = whole(photo, full)
    assert (codes[:100, :100] == (0x20, 0x40, 0x60)).all()
    mean = whole(photo, made(photo, wrap_tone="edge", **WRAP))[5, 5].astype(float)
    rim = face(full, codes).astype(float)
    edge = np.concatenate([rim[:16].reshape(-1, 3), rim[:, -16:].reshape(-1, 3)]).mean(0)
    assert np.abs(mean - edge).max() < 12


@settings(max_examples=25)
@given(st.integers(0, 1400), st.integers(0, 1000), st.integers(1, 500), st.integers(1, 400))
def test_any_region_is_part_of_the_whole(left, top, width, height):
    photo, one, codes = _sheet_once()
    width, height = min(width, one.page.width - left), min(height, one.page.height - top)
    part = page_of(photo, one).region(left, top, width, height)
    assert np.array_equal(part, codes[top : top + height, left : left + width])


_kept: list = []


def _sheet_once():
    if not _kept:
        rng = np.random.default_rng(8)
        photo = photo_of(rng.integers(0, 256, (400, 600, 3), np.uint8))
        one = made(
            photo,
            wrap_strip_mm=F(20),
            wrap_soften_mm=F(15),
            staple_mm=F(10),
            caption="{name}",
            line_mm=F(1),
            **WRAP,
        )
        _kept.extend((photo, one, whole(photo, one)))
        assert one.page.width > 1400 and one.page.height > 1000
    return _kept


def test_words_and_lines_are_drawn_in_their_tone(photo):
    one = made(
        photo,
        sheet=parse_size("A3"),
        tone="#f6f1e4",
        caption="Tidewater",
        line_mm=F(2),
        line_tone="#800000",
        line_gap_mm=F(2),
    )
    codes, sheet = whole(photo, one), one.sheet
    assert (codes[3, 3] == (0xF6, 0xF1, 0xE4)).all()
    assert (codes[sheet.top - 12, sheet.left + 50] == (0x80, 0, 0)).all()
    left, top, wide, high = sheet.words[0].box
    inked = codes[top : top + high, left : left + wide]
    assert inked.min() < 60 and inked.max() >= 0xF6


def test_pieces_hold_the_same_pixels_where_they_overlap(photo):
    one = made(photo, size="60x40cm", pieces=parse_size("A4"), edge_mm=F(5), join_mm=F(12))
    full = whole(photo, replace(one, pieces=None))
    joined = np.zeros_like(full)
    for piece in one.pieces.each:
        page = whole(photo, replace(one, cut=piece))
        assert page.shape[:2] == (piece.page.height, piece.page.width)
        x, y, wide, high = piece.part
        part = page[piece.top : piece.top + high, piece.left : piece.left + wide]
        assert np.array_equal(part, full[y : y + high, x : x + wide])
        joined[y : y + high, x : x + wide] = part
    assert np.array_equal(joined, full)


def test_sixteen_bits_and_grey_work_as_well(scene):
    for codes in (scene(200, 120, np.uint16), scene(200, 120)[..., 0]):
        photo = photo_of(codes)
        one = made(photo, ppi=50, caption="{name}", wrap_soften_mm=F(10), **WRAP)
        page = whole(photo, one)
        assert page.dtype == codes.dtype and page.shape[:2] == (one.page.height, one.page.width)


def marked(photo, **file):
    return plan(photo.facts, resampled("30x20cm", 100, file=file, sharpen={"on": False}))


@pytest.mark.parametrize(
    ("place", "across", "down"),
    [("top-left", 0, 0), ("bottom-right", 1, 1), ("middle", 0.5, 0.5), ("top", 0.5, 0)],
)
def test_a_mark_lies_where_it_is_asked_and_nowhere_else(photo, tmp_path, place, across, down):
    plain = plan(photo.facts, resampled("30x20cm", 100, sharpen={"on": False}))
    assert plain.sheet is None  # nothing is laid on unless it is asked for
    before = whole(photo, plain).astype(int)
    picture = tmp_path / "mark.png"
    Image.new("RGBA", (60, 30), (255, 0, 0, 255)).save(picture)
    for file in ({"watermark": "Tidewater Kilns"}, {"watermark_picture": str(picture)}):
        one = marked(photo, watermark_place=place, watermark_size=F(10), **file)
        after = whole(photo, one).astype(int)
        assert after.shape == before.shape
        y, x = np.nonzero(np.abs(after - before).max(axis=2) > 2)
        assert len(y) > 100
        high, wide = before.shape[:2]
        assert y.mean() / high == pytest.approx(0.08 + 0.84 * down, abs=0.06)
        assert x.mean() / wide == pytest.approx(0.15 + 0.7 * across, abs=0.15)
    full = whole(photo, marked(photo, watermark_picture=str(picture), watermark_strength=F(100)))
    assert (np.abs(full.astype(int) - (255, 0, 0)).max(axis=2) <= 1).sum() > 300


def test_a_mark_that_cannot_be_read_is_named(photo, tmp_path):
    with pytest.raises(BadRequest, match=r"nothing\.png could not be read"):
        page_of(photo, marked(photo, watermark_picture=str(tmp_path / "nothing.png")))
