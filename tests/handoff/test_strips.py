"""Test strips: laid out, rendered at the print's own scale, and written."""

from __future__ import annotations

import io
from fractions import Fraction

import numpy as np
import pikepdf
import pypdfium2
import pytest
import tifffile
from PIL import Image

from tests.conftest import docket_of, photo_of
from zinc_margin.handoff.formats.pdf_pages import PdfPage, Picture, pdf_data
from zinc_margin.handoff.strip_files import render_strip, write_strip
from zinc_margin.measure.errors import BadRequest, CannotDo
from zinc_margin.measure.sizes import parse_size
from zinc_margin.photo.colour import srgb
from zinc_margin.pixels.drawing import ink_of
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan
from zinc_margin.plan.sharpen.strip import lay_out, usual_places

A5 = parse_size("A5")


@pytest.fixture
def photo(scene):
    return photo_of(scene(900, 600))


def laid(photo, sheet=A5, places=((0.5, 0.5),), **what):
    docket = docket_of("15x10cm", pixels={"choice": "keep"})
    return lay_out(plan(photo.facts, docket), sheet, places, **what)


def test_patches_are_the_prints_own_pixels(photo):
    strip = laid(photo, places=((0.3, 0.4), (0.7, 0.6)), strengths=[Fraction(0), Fraction(100)])
    sheet = render_strip(photo, strip)
    assert sheet.shape == (strip.height, strip.width, 3)
    assert strip.width / strip.px_per_mm == pytest.approx(210, abs=0.1)
    width, height = strip.side
    for patch in strip.patches:
        expected = Renderer(photo, strip.plans[patch.variant]).region(
            patch.from_left, patch.from_top, width, height
        )
        found = sheet[patch.top : patch.top + height, patch.left : patch.left + width]
        assert np.array_equal(found, expected)
    assert len(strip.patches) == 4
    # labels, a title and a ruler stand outside the patches
    assert (sheet[: strip.patches[0].top] < 100).any()
    assert (sheet[strip.ruler_top :] < 100).any()


def test_nothing_overlaps_and_all_is_on_the_sheet(photo):
    for count in (1, 3, 5, 7):
        strip = laid(
            photo, places=((0.2, 0.2), (0.5, 0.5), (0.8, 0.8)),
            strengths=[Fraction(50 + 10 * n) for n in range(count)], sheet=parse_size("A4"),
        )  # fmt: skip
        taken = np.zeros((strip.height, strip.width), int)
        for patch in strip.patches:
            taken[
                patch.top : patch.top + strip.side[1], patch.left : patch.left + strip.side[0]
            ] += 1
        assert (
            taken.max() == 1 and taken.sum() == len(strip.patches) * strip.side[0] * strip.side[1]
        )
        assert strip.patches[-1].top + strip.side[1] < strip.ruler_top


def test_papers_instead_of_strengths(photo):
    strip = laid(photo, papers=["gloss", "canvas"])
    assert strip.labels == ("gloss", "canvas")
    assert strip.plans[0].sharpen.amount < strip.plans[1].sharpen.amount


def test_too_much_for_a_sheet_is_said(photo):
    with pytest.raises(BadRequest, match="does not fit"):
        laid(photo, sheet=parse_size("9x6cm"), strengths=[Fraction(n) for n in range(0, 300, 20)])


def test_places_worth_testing(photo):
    made = plan(photo.facts, docket_of("15x10cm"))
    assert usual_places(made) == ((0.5, 0.5),)


@pytest.mark.parametrize("ending", ["tif", "png", "pdf"])
def test_files_have_the_true_size(photo, tmp_path, ending):
    strip = laid(photo)
    out = write_strip(tmp_path / f"strip.{ending}", photo, strip)
    if ending == "pdf":
        with pikepdf.open(out) as pdf:
            box = pdf.pages[0].MediaBox
            assert float(box[2]) / 72 * 25.4 == pytest.approx(210, abs=0.1)
            assert pdf.Root.ViewerPreferences.PrintScaling == "/None"
        page = pypdfium2.PdfDocument(out)[0]
        assert page.get_size()[1] / 72 * 25.4 == pytest.approx(148, abs=0.1)
    elif ending == "tif":
        with tifffile.TiffFile(out) as tiff:
            tag = tiff.pages[0].tags["XResolution"].value
            assert strip.width / (tag[0] / tag[1]) * 25.4 == pytest.approx(210, abs=0.1)
    else:
        image = Image.open(out)
        assert image.size == (strip.width, strip.height)
        assert image.width / image.info["dpi"][0] * 25.4 == pytest.approx(210, abs=0.2)


def test_bad_goals(photo, tmp_path):
    strip = laid(photo)
    with pytest.raises(BadRequest, match=r"\.tif, \.png or \.pdf"):
        write_strip(tmp_path / "strip.gif", photo, strip)
    with pytest.raises(CannotDo, match="There is no folder"):
        write_strip(tmp_path / "nowhere" / "strip.png", photo, strip)
    assert list(tmp_path.iterdir()) == []


@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
@pytest.mark.parametrize("channels", [1, 3])
def test_a_pdf_keeps_every_pixel(dtype, channels):
    rng = np.random.default_rng(5)
    codes = rng.integers(0, np.iinfo(dtype).max + 1, (40, 60, channels)).astype(dtype)
    packed = Picture.of_bands([codes[:17], codes[17:18], codes[18:]])
    page = PdfPage(
        Fraction(100),
        Fraction(80),
        (Fraction(20), Fraction(10), Fraction(60), Fraction(40)),
        packed,
        srgb().icc,
    )
    data = pdf_data([page, page], "Tidewater Kilns")
    with pikepdf.open(io.BytesIO(data)) as pdf:
        assert len(pdf.pages) == 2
        picture = pdf.pages[1].Resources.XObject.P
        raw = np.frombuffer(picture.read_bytes(), ">u2" if dtype == np.uint16 else np.uint8)
        assert np.array_equal(raw.reshape(codes.shape), codes)
        assert picture.ColorSpace[1].read_bytes() == srgb().icc
        assert pdf.Root.OutputIntents[0].DestOutputProfile.read_bytes() == srgb().icc
    shown = pypdfium2.PdfDocument(data)[0].render(scale=25.4 / 72 * 10).to_numpy()
    dark = np.argwhere(shown[..., 0] < 250)
    # 10 px a millimetre: the picture lies 20 mm from the left, 10 mm from the top
    assert dark[:, 1].min() == pytest.approx(200, abs=12) and dark[:, 0].min() == pytest.approx(
        100, abs=12
    )


def test_words_are_cut_to_their_room():
    assert ink_of("A", 30).shape[0] == 30
    assert ink_of("Tidewater Kilns " * 20, 30, widest=200).shape[1] <= 203
