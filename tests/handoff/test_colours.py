"""Other formats and colours, read back by other libraries than the one that wrote them."""

from __future__ import annotations

import io
import json
from dataclasses import replace
from fractions import Fraction

import imagecodecs
import numpy as np
import pillow_jxl  # noqa: F401 - so that Pillow reads JPEG XL
import pyexiv2
import pypdfium2
import pytest
import tifffile
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageCms

from tests.conftest import photo_of, resampled
from tests.photo.test_reading import cmyk_profile
from zinc_margin.docket.docket import check_value
from zinc_margin.docket.document import from_json
from zinc_margin.facts.facts import Said
from zinc_margin.handoff import conversion, names
from zinc_margin.handoff.make import make_file
from zinc_margin.handoff.names import format_of
from zinc_margin.measure.errors import BadRequest
from zinc_margin.photo.colour import plain_grey, srgb, wide_rgb
from zinc_margin.photo.pixels import read_photo
from zinc_margin.pixels import render
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan
from zinc_margin.plan.file.name import ruled_name
from zinc_margin.plan.text.notes import note_text


def made(photo, tmp_path, ending, **file):
    form = format_of(tmp_path / f"made{ending}")
    one = plan(photo.facts, resampled("9x6cm", 100, file={"format": form} | file))
    out = tmp_path / f"made{ending}"
    make_file(photo, one, out, overwrite=True)
    return one, out


@pytest.fixture
def photo(scene):
    return photo_of(scene(400, 270))


@pytest.mark.parametrize("packing", ["deflate", "lzw", "zstd"])
@pytest.mark.parametrize("bits", [8, 16])
def test_a_packed_tiff_is_the_plain_one(photo, tmp_path, packing, bits):
    one, plain = made(photo, tmp_path, ".tif", bits=bits)
    first = tifffile.imread(plain)
    _, out = made(photo, tmp_path, ".tif", bits=bits, compression=packing)
    assert np.array_equal(tifffile.imread(out), first)
    with tifffile.TiffFile(out) as file:
        page = file.pages[0]
        assert page.predictor == 2 and page.compression.name.lower().endswith(packing)
        assert page.tags["InterColorProfile"].value == srgb().icc
    if bits == 8 and packing != "zstd":
        with Image.open(out) as read:
            assert np.array_equal(np.asarray(read), first)
    assert first.shape[:2] == (one.page.height, one.page.width)


def test_a_jpeg_keeps_colour_as_finely_as_asked(photo, tmp_path):
    from PIL.JpegImagePlugin import get_sampling

    for chroma, sampling in (("4:4:4", 0), ("4:2:2", 1), ("4:2:0", 2)):
        _, out = made(photo, tmp_path, ".jpg", subsampling=chroma)
        with Image.open(out) as read:
            assert get_sampling(read) == sampling and "progressive" not in read.info
    _, out = made(photo, tmp_path, ".jpg", progressive=True)
    with Image.open(out) as read:
        assert read.info["progressive"]


@pytest.mark.parametrize("ending", [".webp", ".jxl"])
def test_screen_formats_lossless_and_by_quality(photo, tmp_path, ending):
    one, out = made(photo, tmp_path, ending, lossless=True)
    expected = Renderer(photo, one).region(0, 0, one.pixels.width, one.pixels.height)
    decode = {".webp": imagecodecs.webp_decode, ".jxl": imagecodecs.jpegxl_decode}[ending]
    if expected.dtype == np.uint8:
        assert np.array_equal(decode(out.read_bytes())[..., :3], expected)
    whole = out.stat().st_size
    _, small = made(photo, tmp_path, ending, quality=60)
    found = decode(small.read_bytes())[..., :3].astype(int)
    assert np.abs(found - expected.astype(int)).mean() < 14  # it is a noisy picture
    assert small.stat().st_size < 0.6 * whole
    with pyexiv2.Image(str(small)) as image:
        assert image.read_exif()["Exif.Image.XResolution"] == "/".join(map(str, one.page.tag_x))
    if ending == ".webp":
        with Image.open(small) as read:
            assert read.info["icc_profile"] == srgb().icc


def test_jpeg_xl_is_always_srgb(scene, tmp_path):
    photo = photo_of(scene(200, 140, np.uint16), wide_rgb())
    facts = replace(photo.facts, profile="Wide RGB", profile_use="own")
    photo = replace(photo, facts=facts)
    one, out = made(photo, tmp_path, ".jxl", lossless=True)
    assert (one.file.colour, one.file.bits) == ("srgb", 8)
    assert "JPEG XL keeps only 8 bits" in " ".join(note_text(note) for note in one.notes)
    assert imagecodecs.jpegxl_decode(out.read_bytes()).shape == (236, 354, 3)
    with Image.open(out) as other:  # a reader that is not our writer's
        told = ImageCms.getProfileDescription(
            ImageCms.ImageCmsProfile(io.BytesIO(other.info["icc_profile"]))
        )
        assert told.strip() == "sRGB"
        assert abs(other.getexif()[282] - float(Fraction(*one.page.tag_x))) < 1e-3


def test_sixteen_bits_agree_with_little_cms_itself(scene, tmp_path):
    photo = photo_of(scene(300, 200, np.uint16), wide_rgb())
    one, out = made(photo, tmp_path, ".tif", colour="srgb")
    codes = Renderer(photo, replace(one, file=replace(one.file, colour="own"))).region(
        0, 0, one.pixels.width, one.pixels.height
    )
    reference = imagecodecs.cms_transform(
        codes / 65535,
        wide_rgb().icc,
        srgb().icc,
        colorspace="rgb",
        outcolorspace="rgb",
        outdtype="float64",
        intent=1,
    )
    found = tifffile.imread(out) / 65535
    assert np.abs(found - np.clip(reference, 0, 1)).max() < 1 / 4096
    with tifffile.TiffFile(out) as file:
        assert file.pages[0].tags["InterColorProfile"].value == srgb().icc


@pytest.mark.parametrize("ending", [".tif", ".jpg", ".pdf"])
def test_inks_through_an_icc_file(photo, tmp_path, ending):
    icc = tmp_path / "press.icc"
    icc.write_bytes(cmyk_profile())
    profile = conversion.read_profile(icc)
    assert profile.space == "CMYK"
    one, out = made(photo, tmp_path, ending, colour="icc", profile=profile)
    assert one.file.channels == 4
    codes = Renderer(photo, one).region(0, 0, one.pixels.width, one.pixels.height)
    goal = ImageCms.ImageCmsProfile(io.BytesIO(icc.read_bytes()))
    own = ImageCms.ImageCmsProfile(io.BytesIO(srgb().icc))
    turn = ImageCms.buildTransform(
        own,
        goal,
        "RGB",
        "CMYK",
        ImageCms.Intent.RELATIVE_COLORIMETRIC,
        ImageCms.Flags.BLACKPOINTCOMPENSATION,
    )
    ink = np.asarray(ImageCms.applyTransform(Image.fromarray(codes), turn)).astype(int)
    if ending == ".tif":
        found = tifffile.imread(out).astype(int)
    elif ending == ".jpg":
        with Image.open(out) as read:
            assert read.mode == "CMYK" and read.info["icc_profile"] == icc.read_bytes()
            found = np.asarray(read).astype(int)
    else:
        assert len(pypdfium2.PdfDocument(out)) == 1
        return
    assert np.abs(found - ink).mean() < 3
    back = read_photo(out)
    assert back.facts.kind == "CMYK"


def test_what_a_format_cannot_hold_is_said_beforehand(photo, tmp_path):
    icc = tmp_path / "press.icc"
    icc.write_bytes(cmyk_profile())
    profile = conversion.read_profile(icc)
    with pytest.raises(BadRequest, match="PNG cannot hold CMYK"):
        made(photo, tmp_path, ".png", colour="icc", profile=profile)
    icc.unlink()
    with pytest.raises(BadRequest, match="There is no colour profile"):
        made(photo, tmp_path, ".tif", colour="icc", profile=profile)
    other = tmp_path / "text.icc"
    other.write_text("not a profile" * 30)
    with pytest.raises(BadRequest, match="is not an ICC profile"):
        conversion.read_profile(other)


def test_grey_has_one_channel_and_its_own_profile(photo, tmp_path):
    _, out = made(photo, tmp_path, ".tif", colour="grey")
    with tifffile.TiffFile(out) as file:
        assert file.asarray().ndim == 2
        assert file.pages[0].tags["InterColorProfile"].value == plain_grey().icc


def test_colours_beyond_a_goal_are_found():
    codes = np.zeros((2, 2, 3), np.uint16)
    codes[0] = (0, 65535, 0)
    codes[1] = (30000, 30000, 30000)
    found = conversion.out_of_gamut(codes, wide_rgb(), (srgb().icc, "RGB"))
    assert found.tolist() == [[True, True], [False, False]]
    assert not conversion.out_of_gamut(codes, srgb(), (wide_rgb().icc, "RGB")).any()
    shown = conversion.soft_proof(codes, wide_rgb(), (srgb().icc, "RGB"), "relative", False)
    assert shown.dtype == np.uint8 and shown[0, 0, 1] == 255 and shown[0, 0, 0] < 10


def tagged(tmp_path, scene):
    path = tmp_path / "kiln.jpg"
    Image.fromarray(scene(300, 200)).save(path)
    with pyexiv2.Image(str(path)) as image:
        image.modify_exif(
            {
                "Exif.Image.Artist": "Tidewater",
                "Exif.Image.Copyright": "made up",
                "Exif.Image.Model": "Box",
                "Exif.GPSInfo.GPSLatitude": "51/1 30/1 0/1",
            }
        )
        image.modify_iptc({"Iptc.Application2.City": "Kilnmouth"})
        image.modify_xmp({"Xmp.dc.title": "The kiln"})
    return read_photo(path)


@pytest.mark.parametrize("ending", [".jpg", ".png", ".tif", ".webp"])
def test_metadata_are_kept_back_as_asked(tmp_path, scene, ending):
    photo = tagged(tmp_path, scene)

    def tags(**file):
        _, out = made(photo, tmp_path, ending, **file)
        with pyexiv2.Image(str(out)) as image:
            return image.read_exif() | image.read_iptc() | image.read_xmp()

    everything = tags()
    assert everything["Exif.Image.Model"] == "Box" and "Exif.GPSInfo.GPSLatitude" in everything
    nowhere = tags(places=False)
    assert nowhere["Exif.Image.Model"] == "Box"
    assert not any("GPS" in key or "City" in key for key in nowhere)
    rights = tags(metadata="copyright")
    assert rights["Exif.Image.Copyright"] == "made up" and "Exif.Image.Model" not in rights
    assert not any("GPS" in key or "City" in key or "title" in key for key in rights)
    nothing = tags(metadata="none")
    assert "Exif.Image.Artist" not in nothing
    assert nothing["Exif.Image.XResolution"] == everything["Exif.Image.XResolution"]


@pytest.mark.parametrize("ending", [".jpg", ".png", ".tif", ".webp"])
def test_exif_never_gainsays_the_profile(tmp_path, scene, ending):
    path = tmp_path / "kiln.jpg"
    Image.fromarray(scene(300, 200)).save(path)
    with pyexiv2.Image(str(path)) as image:
        image.modify_exif({"Exif.Iop.InteroperabilityIndex": "R03"})
    photo = read_photo(path)
    for colour, name, code in (("own", "opRGB", "65535"), ("srgb", "sRGB", "1")):
        _, out = made(photo, tmp_path, ending, colour=colour)
        assert read_photo(out).facts.profile == name
        with pyexiv2.Image(str(out)) as image:
            exif = image.read_exif()
        assert exif["Exif.Photo.ColorSpace"] == code
        assert not any(key.startswith("Exif.Iop") for key in exif)


def test_the_docket_travels_in_the_file(photo, tmp_path):
    one, out = made(photo, tmp_path, ".jpg", embed=True)
    with pyexiv2.Image(str(out)) as image:
        text = image.read_xmp()["Xmp.zincmargin.docket"]
    assert from_json(text) == one.docket
    assert json.loads(text)["zinc_margin_docket"] == 1


@given(
    st.text(max_size=80),
    st.text(max_size=300),
    st.sampled_from(
        ["{name}", "{title} {author}", "{text}-{counter}", "{project}/x", "..", "{date}"]
    ),
)
def test_no_name_leaves_its_folder_whatever_is_in_it(title, text, rule):
    from pathlib import Path

    photo = photo_of(np.zeros((4, 6, 3), np.uint8))
    facts = replace(photo.facts, said=Said(title, text[:10], text))
    docket = resampled("15x10cm", 50, file={"rule": rule, "note": text or None, "project": text})
    name = ruled_name(Path("/photos/a b.jpg"), plan(facts, docket))
    assert name and "/" not in name and "\0" not in name and name not in (".", "..")
    assert len(name.encode()) <= 200
    assert (Path("/out") / f"{name}.tif").parent == Path("/out")


def test_a_taken_name_counts_up(photo, tmp_path):
    facts = replace(photo.facts, path=tmp_path / "kiln.jpg")
    docket = resampled("15x10cm", 50, file={"rule": "{name} {counter}"})
    one = plan(facts, docket)
    assert names.goal(facts.path, one).name == "kiln 001.tif"
    (tmp_path / "kiln 001.tif").touch()
    assert names.goal(facts.path, one).name == "kiln 002.tif"
    with pytest.raises(BadRequest, match=r"file\.rule"):
        check_value("file", "rule", "{shutter}")


def dark_ramp():
    return np.linspace(0, 60, 90 * 60).astype(np.uint8).reshape(60, 90, 1).repeat(3, 2)


@pytest.mark.parametrize("black_point", [True, False])
def test_black_points_are_compensated_as_asked(tmp_path, black_point):
    icc = tmp_path / "press.icc"
    icc.write_bytes(cmyk_profile())
    photo = photo_of(dark_ramp())
    profile = conversion.read_profile(icc)
    how = {"colour": "icc", "profile": profile, "black_point": black_point}
    one, out = made(photo, tmp_path, ".tif", **how)
    codes = Renderer(photo, one, bits=16).region(0, 0, one.pixels.width, one.pixels.height)

    def by_little_cms(flags):
        return imagecodecs.cms_transform(
            codes, srgb().icc, icc.read_bytes(), colorspace="rgb", outcolorspace="cmyk",
            outdtype="uint16", intent=1, flags=0x0100 | flags,
        ) / 65535  # fmt: skip

    with_it = by_little_cms(imagecodecs.CMS.FLAGS.BLACKPOINTCOMPENSATION)
    without = by_little_cms(0)
    assert np.abs(with_it - without).max() > 0.03
    found = tifffile.imread(out) / 255
    wanted, other = (with_it, without) if black_point else (without, with_it)
    assert np.abs(found - wanted).mean() < 0.004
    assert np.abs(found - other).mean() > 0.01


def test_dither_runs_on_over_the_bands_of_a_converted_file(tmp_path, scene, monkeypatch):
    codes = scene(90, 60, np.uint16).astype(np.float64)
    photo = photo_of((20000 + codes / 80).astype(np.uint16), wide_rgb())
    _, out = made(photo, tmp_path, ".tif", colour="srgb", bits=8)
    whole = tifffile.imread(out)
    monkeypatch.setattr(render, "BAND_ROWS", 16)
    _, out = made(photo, tmp_path, ".tif", colour="srgb", bits=8)
    assert np.array_equal(tifffile.imread(out), whole)
    deep = np.full((40, 50, 3), 20100, np.uint16)
    dithered = conversion.eight_bits(deep, 0)
    assert np.array_equal(conversion.eight_bits(deep[24:], 24), dithered[24:])
    assert not np.array_equal(conversion.eight_bits(deep[24:], 0), dithered[24:])
    assert dithered.mean() == pytest.approx(20100 / 257, abs=0.05)
