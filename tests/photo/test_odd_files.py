"""Valid pictures of kinds that are met with seldom, against another reader's values."""

from __future__ import annotations

import struct
import zlib
from pathlib import Path

import imagecodecs
import numpy as np
import pytest
import tifffile
from PIL import Image, PngImagePlugin

from tests.photo.test_reading import cmyk_profile
from zinc_margin.measure.errors import CannotDo
from zinc_margin.photo.colour import srgb
from zinc_margin.photo.pixels import read_photo, set_upright

UNSPECIFIED, MULTIPLIED, STRAIGHT = 0, 1, 2


def samples(channels, bits=8, high=40, wide=60):
    return (
        np.random.default_rng(7).integers(0, 2**bits, (high, wide, channels)).astype(f"uint{bits}")
    )


def tiff(path, codes, extra=(), **known):
    known = {"photometric": "rgb", "planarconfig": "contig"} | known
    extratags = known.pop("extratags", [])
    if extra:
        tifffile.imwrite(path, codes, extrasamples=extra, extratags=extratags, **known)
    else:
        tifffile.imwrite(path, codes, extratags=extratags, **known)
    return path


# extra samples


@pytest.mark.parametrize("bits", [8, 16])
@pytest.mark.parametrize("extra", [(0,), (0, 0)])
@pytest.mark.parametrize("own", [1, 3])
def test_a_saved_selection_is_no_transparency(tmp_path, bits, extra, own):
    codes = samples(own + len(extra), bits)
    kind = "minisblack" if own == 1 else "rgb"
    photo = read_photo(tiff(tmp_path / "a.tif", codes, extra, photometric=kind), measured=False)
    assert not photo.facts.alpha and photo.alpha is None
    assert np.array_equal(photo.codes, codes[..., :own])


@pytest.mark.parametrize("planar", ["contig", "separate"])
@pytest.mark.parametrize(("extra", "at"), [((2,), 3), ((0, 2), 4), ((2, 0), 3), ((0, 2, 0), 4)])
def test_only_the_sample_that_says_so_is_the_alpha(tmp_path, extra, at, planar):
    codes = samples(3 + len(extra))
    path = tmp_path / "a.tif"
    stored = np.moveaxis(codes, -1, 0) if planar == "separate" else codes
    tiff(path, stored, extra, planarconfig=planar)
    photo = read_photo(path, measured=False)
    assert photo.facts.alpha and np.array_equal(photo.alpha, codes[..., at])
    alpha = codes[..., at : at + 1] / 255
    assert np.abs(photo.codes - (codes[..., :3] * alpha + 255 * (1 - alpha))).max() <= 0.5 + 1e-6


@pytest.mark.parametrize("extra", [MULTIPLIED, STRAIGHT])
def test_alphas_of_both_kinds_are_as_another_reader_has_them(tmp_path, extra):
    codes = samples(4)
    if extra == MULTIPLIED:
        codes[..., :3] = np.rint(codes[..., :3] * (codes[..., 3:] / 255.0))
    path = tiff(tmp_path / "a.tif", codes, (extra,))
    photo = read_photo(path, measured=False)
    with Image.open(path) as image:
        other = np.asarray(image.convert("RGBA")).astype(float)
    assert np.array_equal(photo.alpha, other[..., 3])
    share = other[..., 3:] / 255
    assert np.abs(photo.codes - (other[..., :3] * share + 255 * (1 - share))).max() <= 1.5


def test_a_multiplied_alpha_lies_on_white_as_it_was(tmp_path):
    """On white nothing has to be divided: what was multiplied, and white for what is missing."""
    codes = samples(4, 16)
    codes[..., :3] = np.rint(codes[..., :3] * (codes[..., 3:] / 65535.0))
    photo = read_photo(tiff(tmp_path / "a.tif", codes, (MULTIPLIED,)), measured=False)
    expected = codes[..., :3].astype(float) + (65535 - codes[..., 3:].astype(float))
    assert np.abs(photo.codes - expected).max() <= 1


def test_see_through_grey_that_counts_from_white(tmp_path):
    codes = samples(2)
    path = tiff(tmp_path / "a.tif", codes, (STRAIGHT,), photometric="miniswhite")
    photo = read_photo(path, measured=False)
    assert np.array_equal(photo.alpha, codes[..., 1])
    alpha = codes[..., 1:] / 255
    assert np.abs(photo.codes - ((255 - codes[..., :1]) * alpha + 255 * (1 - alpha))).max() <= 0.51


def test_see_through_ink_lies_on_paper_not_on_black(tmp_path):
    codes = np.zeros((8, 8, 5), np.uint8)
    codes[..., :4] = 200
    path = tiff(
        tmp_path / "a.tif", codes, (STRAIGHT,), photometric="separated", iccprofile=cmyk_profile()
    )
    photo = read_photo(path, measured=False)
    assert photo.codes.min() > 60000  # paper white, in wide RGB of 16 bits


# orientation


def stored(kind, path, orientation):
    tags = [(274, 3, 1, orientation, True)]
    codes = samples(3)
    if kind == "palette":
        picture = Image.fromarray(codes).quantize(64)
        exif = Image.Exif()
        exif[274] = orientation
        picture.save(path, exif=exif)
    elif kind == "bilevel":
        exif = Image.Exif()
        exif[274] = orientation
        Image.fromarray(codes[..., 0] > 127).save(path, exif=exif, compression="group4")
    elif kind == "jpeg":
        smooth = np.kron(samples(3, high=5, wide=8), np.ones((8, 8, 1), np.uint8))
        tiff(path, smooth, compression="jpeg", photometric="ycbcr", extratags=tags)
    elif kind == "planes":
        tiff(path, np.moveaxis(codes, -1, 0), planarconfig="separate", extratags=tags)
    elif kind == "16":
        tiff(path, samples(3, 16), compression="zlib", predictor=True, extratags=tags)
    elif kind == "grey":
        tiff(path, codes[..., 0], photometric="minisblack", extratags=tags)
    elif kind == "white-is-0":
        tiff(path, codes[..., 0], photometric="miniswhite", extratags=tags)
    elif kind == "tiles":
        tiff(path, codes, tile=(16, 16), extratags=tags)
    elif kind == "cmyk":
        tiff(path, samples(4), photometric="separated", iccprofile=cmyk_profile(), extratags=tags)
    return path


KINDS = ("palette", "bilevel", "jpeg", "planes", "16", "grey", "white-is-0", "tiles", "cmyk")


@pytest.mark.parametrize("orientation", range(1, 9))
@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_of_tiff_comes_upright_once(tmp_path, kind, orientation):
    plain = read_photo(stored(kind, tmp_path / "plain.tif", 1), measured=False)
    turned = read_photo(stored(kind, tmp_path / "turned.tif", orientation), measured=False)
    assert turned.facts.orientation == orientation
    assert np.array_equal(turned.codes, set_upright(plain.codes, orientation))
    assert turned.codes.shape[:2] == (turned.facts.height, turned.facts.width)


# JPEGs with a second picture, PNGs, strips


def test_a_jpeg_that_holds_a_second_picture_is_a_jpeg(tmp_path):
    pictures = [
        Image.fromarray(np.kron(samples(3, high=5, wide=8), np.ones((8, 8, 1), np.uint8)))
        for _ in range(2)
    ]
    exif = Image.Exif()
    exif[0x010F], exif[0x011A], exif[0x011B], exif[0x0128] = "Tidewater", 300.0, 300.0, 2
    exif.get_ifd(0x8769)[0xA001] = 0xFFFF  # uncalibrated: what the next says
    exif.get_ifd(0xA005)[1] = "R03"
    single, double = tmp_path / "one.jpg", tmp_path / "two.jpg"
    pictures[0].save(single, exif=exif, quality=88)
    pictures[0].save(
        double, format="MPO", save_all=True, append_images=pictures[1:], exif=exif, quality=88
    )
    with Image.open(double) as image:
        assert image.format == "MPO" and image.n_frames == 2
    one, two = (read_photo(path, measured=False) for path in (single, double))
    assert np.array_equal(one.codes, two.codes)
    for name in ("format", "profile", "profile_use", "jpeg_quality", "tag_x", "kind"):
        assert getattr(one.facts, name) == getattr(two.facts, name), name
    assert two.facts.format == "JPEG"


@pytest.mark.parametrize("channels", [1, 2, 3, 4])
def test_pngs_of_16_bits(tmp_path, channels):
    codes = samples(channels, 16)
    path = tmp_path / "a.png"
    path.write_bytes(imagecodecs.png_encode(codes.squeeze()))
    photo = read_photo(path, measured=False)
    assert photo.facts.kind == ("grey" if channels < 3 else "RGB") and photo.facts.bits == 16
    if channels in (1, 3):
        assert np.array_equal(photo.codes, codes)
    else:
        assert np.array_equal(photo.alpha, codes[..., -1])
        alpha = codes[..., -1:] / 65535
        expected = codes[..., :-1] * alpha + 65535 * (1 - alpha)
        assert np.abs(photo.codes - expected).max() <= 0.51


@pytest.mark.parametrize("how", ["plain", "packed", "international"])
def test_a_long_text_says_nothing_against_a_png(tmp_path, how):
    info, text = PngImagePlugin.PngInfo(), "x" * 3_000_000
    if how == "international":
        info.add_itxt("note", text, zip=True)
    else:
        info.add_text("note", text, zip=how == "packed")
    codes = samples(3)
    Image.fromarray(codes).save(tmp_path / "a.png", pnginfo=info)
    assert np.array_equal(read_photo(tmp_path / "a.png", measured=False).codes, codes)


def with_last_strip(path: Path, change) -> None:
    """Put another last strip into a TIFF, at its end."""
    with tifffile.TiffFile(path) as file:
        page = file.pages[0]
        start, count = page.dataoffsets[-1], page.databytecounts[-1]
        tags, at = (page.tags[273], page.tags[279]), len(page.dataoffsets) - 1
    raw = bytearray(path.read_bytes())
    strip = change(bytes(raw[start : start + count]))
    for tag, value in zip(tags, (len(raw), len(strip)), strict=True):
        form = {3: "<H", 4: "<I"}[int(tag.dtype)]
        struct.pack_into(form, raw, tag.valueoffset + at * struct.calcsize(form), value)
    path.write_bytes(raw + strip)


@pytest.mark.parametrize("bits", [8, 16])
@pytest.mark.parametrize("predictor", [False, True])
@pytest.mark.parametrize("planar", ["contig", "separate"])
@pytest.mark.parametrize(
    "change",
    [
        lambda strip: strip + b"behind it",
        lambda strip: zlib.compress(zlib.decompress(strip) + bytes(3000)),
        lambda strip: zlib.compress(zlib.decompress(strip) + bytes(99)) + b"\0\0",
    ],
)
def test_what_lies_behind_the_last_strip_is_left(tmp_path, bits, predictor, planar, change):
    codes = samples(3, bits, high=41)
    path = tmp_path / "a.tif"
    data = np.moveaxis(codes, -1, 0) if planar == "separate" else codes
    tiff(path, data, compression="zlib", rowsperstrip=16, predictor=predictor, planarconfig=planar)
    with_last_strip(path, change)
    assert np.array_equal(read_photo(path, measured=False).codes, codes)


def test_a_strip_that_ends_early_is_still_damage(tmp_path):
    path = tiff(tmp_path / "a.tif", samples(3), compression="zlib", rowsperstrip=16)
    with_last_strip(path, lambda strip: zlib.compress(zlib.decompress(strip)[:-300]))
    with pytest.raises(CannotDo, match="incomplete or damaged"):
        read_photo(path, measured=False)


def test_profiles_are_kept_beside_extra_samples(tmp_path):
    path = tiff(tmp_path / "a.tif", samples(4), (UNSPECIFIED,), iccprofile=srgb().icc)
    assert read_photo(path, measured=False).facts.profile_use == "own"
