"""Real files in, through other libraries' writers."""

from __future__ import annotations

import io
import os
import struct
import zlib
from fractions import Fraction

import imagecodecs
import numpy as np
import pillow_heif
import pyexiv2
import pytest
import tifffile
from PIL import Image, ImageCms

from zinc_margin.measure.errors import BadRequest, CannotDo, ZincError
from zinc_margin.photo import colour as colours
from zinc_margin.photo import icc
from zinc_margin.photo.header import read_header
from zinc_margin.photo.icc import STEPS
from zinc_margin.photo.pixels import read_photo, set_upright
from zinc_margin.photo.subject import choose, mark, with_mark
from zinc_margin.pixels.display import Screen


def save(path, picture, **options):
    Image.fromarray(picture).save(path, **options)
    return path


def test_a_jpeg(jpeg, scene):
    photo = read_photo(jpeg)
    facts = photo.facts
    assert (facts.format, facts.width, facts.height, facts.bits, facts.kind) == (
        "JPEG",
        600,
        400,
        8,
        "RGB",
    )
    assert facts.tag_x == 72
    assert (facts.profile, facts.profile_use) == ("sRGB", "own")
    assert photo.codes.shape == (400, 600, 3)
    assert np.abs(photo.codes.astype(int) - scene(600, 400)).mean() < 8
    assert facts.measured is not None and facts.measured.noise > 0


@pytest.mark.parametrize("channels", [1, 3])
@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
@pytest.mark.parametrize("ending", ["png", "tif"])
def test_depth_and_channels_are_kept_to_the_bit(tmp_path, scene, ending, dtype, channels):
    picture = scene(61, 47, dtype)[..., :channels]
    picture = picture[..., 0] if channels == 1 else picture
    path = tmp_path / f"a.{ending}"
    if ending == "png":
        path.write_bytes(imagecodecs.png_encode(np.ascontiguousarray(picture)))
    else:
        tifffile.imwrite(path, picture, photometric="rgb" if channels == 3 else "minisblack")
    photo = read_photo(path)
    assert photo.codes.dtype == dtype
    assert np.array_equal(photo.codes.squeeze(), picture)
    assert photo.facts.bits == 8 * np.dtype(dtype).itemsize
    assert photo.facts.profile_use == "assumed"


@pytest.mark.parametrize("compression", ["zlib", "lzw", "zstd"])
@pytest.mark.parametrize("layout", [{}, {"tile": (64, 64)}, {"planarconfig": "separate"}])
def test_tiff_layouts(tmp_path, scene, compression, layout):
    picture = scene(150, 90, np.uint16)
    path = tmp_path / "a.tif"
    data = np.moveaxis(picture, -1, 0) if "planarconfig" in layout else picture
    tifffile.imwrite(path, data, photometric="rgb", compression=compression, **layout)
    assert np.array_equal(read_photo(path).codes, picture)


@pytest.mark.parametrize("orientation", range(1, 9))
def test_all_eight_orientations(tmp_path, orientation):
    picture = np.zeros((24, 40, 3), np.uint8)
    picture[:8, :8] = 255  # the stored top left
    picture[:8, -8:] = (255, 0, 0)
    exif = Image.Exif()
    exif[0x0112] = orientation
    path = save(tmp_path / "a.png", picture, exif=exif)
    photo = read_photo(path)
    stored = Image.open(path)
    from PIL import ImageOps

    upright = np.asarray(ImageOps.exif_transpose(stored))
    assert photo.facts.orientation == orientation
    assert (photo.facts.height, photo.facts.width) == upright.shape[:2]
    assert np.array_equal(photo.codes, upright)
    tags = tmp_path / "a.tif"
    tifffile.imwrite(tags, picture, extratags=[(274, 3, 1, orientation, True)])
    assert np.array_equal(read_photo(tags).codes, upright)


@pytest.mark.parametrize("quality", [15, 40, 75, 88, 95])
def test_a_jpeg_tells_its_quality(tmp_path, scene, quality):
    picture = scene()
    grey = save(tmp_path / "grey.jpg", picture[..., 0], quality=quality)
    path = save(tmp_path / "a.jpg", picture, quality=quality, subsampling=0)
    assert read_photo(path).facts.jpeg_quality == quality == read_photo(grey).facts.jpeg_quality
    # a maker's own tables are taken for what is nearest
    own = [[min(255, 3 + at // 2) for at in range(64)]] * 2
    other = save(tmp_path / "own.jpg", picture, qtables=own)
    assert 70 < read_photo(other).facts.jpeg_quality < 95
    assert read_photo(save(tmp_path / "a.png", picture)).facts.jpeg_quality is None


def test_orientation_is_a_view_of_the_same_pixels():
    codes = np.arange(24).reshape(2, 4, 3)
    assert np.array_equal(set_upright(codes, 6), np.rot90(codes, -1))
    assert np.array_equal(set_upright(codes, 8), np.rot90(codes))


def test_tags_turn_with_the_picture(tmp_path):
    path = tmp_path / "a.tif"
    tifffile.imwrite(
        path,
        np.zeros((20, 30), np.uint8),
        resolution=((300, 1), (150, 1)),
        resolutionunit=2,
        extratags=[(274, 3, 1, 6, True)],
    )
    facts = read_header(path).facts
    assert (facts.width, facts.height) == (20, 30)
    assert (facts.tag_x, facts.tag_y) == (150, 300)


def test_resolution_in_cm_and_per_metre(tmp_path):
    path = tmp_path / "a.tif"
    tifffile.imwrite(
        path, np.zeros((8, 8), np.uint8), resolution=((100, 1), (100, 1)), resolutionunit=3
    )
    assert read_header(path).facts.tag_x == 254
    png = save(tmp_path / "a.png", np.zeros((8, 8), np.uint8), dpi=(300, 300))
    assert abs(read_header(png).facts.tag_x - 300) < Fraction(1, 50)
    plain = save(tmp_path / "b.png", np.zeros((8, 8), np.uint8))
    assert read_header(plain).facts.tag_x is None


@pytest.mark.parametrize("value", [(1, 0), (0, 1), (0, 0), (4_000_000_000, 1)])
def test_nonsense_resolutions_are_no_tag(tmp_path, value):
    path = tmp_path / "a.tif"
    tifffile.imwrite(
        path, np.zeros((8, 8), np.uint8), resolution=((300, 1), (300, 1)), resolutionunit=2
    )
    with tifffile.TiffFile(path) as tiff:
        places = [tiff.pages[0].tags[code].valueoffset for code in (282, 283)]
    raw = bytearray(path.read_bytes())
    for place in places:
        raw[place : place + 8] = struct.pack("<II", *value)
    path.write_bytes(bytes(raw))
    assert read_header(path).facts.tag_x is None
    exif = Image.Exif()
    exif[0x011A], exif[0x0128] = 0.0, 2
    jpeg = save(tmp_path / "a.jpg", np.zeros((16, 16), np.uint8), exif=exif)
    assert read_header(jpeg).facts.tag_x is None


def test_alpha_is_laid_on_white(tmp_path):
    picture = np.full((10, 10, 4), 200, np.uint8)
    picture[:5, :, 3] = 0
    picture[5:, :, 3] = 255
    photo = read_photo(save(tmp_path / "a.png", picture))
    assert photo.facts.alpha
    assert photo.codes.shape == (10, 10, 3)
    assert (photo.codes[:5] == 255).all() and (photo.codes[5:] == 200).all()


def test_palettes_and_bilevel(tmp_path):
    image = Image.fromarray(np.arange(256, dtype=np.uint8).reshape(16, 16)).convert("P")
    image.save(tmp_path / "p.png")
    image.convert("1").save(tmp_path / "1.png")
    image.convert("1").save(tmp_path / "1.tif", compression="group4")
    assert read_photo(tmp_path / "p.png").codes.shape == (16, 16, 3)
    for name in ("1.png", "1.tif"):
        assert set(np.unique(read_photo(tmp_path / name).codes)) <= {0, 255}


def test_white_is_zero(tmp_path):
    path = tmp_path / "a.tif"
    tifffile.imwrite(path, np.array([[0, 255], [10, 20]], np.uint8), photometric="miniswhite")
    assert read_photo(path).codes.squeeze().tolist() == [[255, 0], [245, 235]]


def test_one_pixel(tmp_path):
    photo = read_photo(save(tmp_path / "a.png", np.full((1, 1, 3), 7, np.uint8)))
    assert photo.codes.tolist() == [[[7, 7, 7]]]


# colours


def cmyk_profile() -> bytes:
    """A tiny CMYK profile of lookup tables: ink takes light away, plainly."""
    grid = 2
    nodes = np.array(
        [[c, m, y, k] for c in (0, 1) for m in (0, 1) for y in (0, 1) for k in (0, 1)], float
    )
    light = 1 - np.clip(nodes[:, :3] * 0.9 + nodes[:, 3:] * 0.95, 0, 1)
    lightness = np.clip(light.mean(1), 0, 1)
    a = np.clip(128 + 80 * (light[:, 0] - light[:, 1]), 0, 255)
    b = np.clip(128 + 80 * (light.min(1) - light[:, 2]), 0, 255)
    table = np.stack([lightness * 255, a, b], 1).round().astype(np.uint8)
    ramp = bytes(range(256))
    body = b"mft1" + bytes(4) + bytes((4, 3, grid, 0))
    body += b"".join(struct.pack(">i", v) for v in (65536, 0, 0, 0, 65536, 0, 0, 0, 65536))
    body += ramp * 4 + table.tobytes() + ramp * 3
    back = b"mft1" + bytes(4) + bytes((3, 4, 5, 0))
    back += b"".join(struct.pack(">i", v) for v in (65536, 0, 0, 0, 65536, 0, 0, 0, 65536))
    steps = np.linspace(0, 1, 5)
    lab = np.array([[el, a, b] for el in steps for a in steps for b in steps])
    red, green = lab[:, 0] + 0.8 * (lab[:, 1] - 0.5), lab[:, 0] - 0.8 * (lab[:, 1] - 0.5)
    light = np.stack([red, green, lab[:, 0] - 0.8 * (lab[:, 2] - 0.5)], 1)
    ink = np.clip((1 - light) / 0.9, 0, 1)
    inks = np.concatenate([ink, np.zeros((len(ink), 1))], 1)
    back += ramp * 3 + (inks * 255).round().astype(np.uint8).tobytes() + ramp * 4
    described = b"desc" + bytes(4) + struct.pack(">I", 10) + b"Made inks\0" + bytes(78)
    white = b"XYZ " + bytes(4) + b"".join(struct.pack(">i", round(v * 65536)) for v in icc.D50)
    tags = [
        (b"desc", described),
        (b"wtpt", white),
        (b"A2B0", body),
        (b"B2A0", back),
        (b"cprt", b"text" + bytes(4) + b"free\0"),
    ]
    head = struct.pack(">I", len(tags))
    data, start = b"", 132 + 12 * len(tags)
    for sign, part in tags:
        head += sign + struct.pack(">II", start + len(data), len(part))
        data += part + bytes(-len(part) % 4)
    header = bytearray(128)
    header[0:4] = struct.pack(">I", start + len(data))
    header[8:12] = bytes((2, 0x40, 0, 0))
    header[12:24] = b"prtrCMYKLab "
    header[24:36] = struct.pack(">6H", 2026, 1, 1, 0, 0, 0)
    header[36:40] = b"acsp"
    header[68:80] = b"".join(struct.pack(">i", round(v * 65536)) for v in icc.D50)
    return bytes(header) + head + data


@pytest.mark.parametrize("ending", ["jpg", "tif"])
def test_cmyk_goes_through_its_profile(tmp_path, ending):
    ink = np.zeros((32, 32, 4), np.uint8)
    ink[:, 16:, 3] = 255
    path = tmp_path / f"a.{ending}"
    if ending == "jpg":
        Image.fromarray(ink, "CMYK").save(path, quality=95, icc_profile=cmyk_profile())
    else:
        tifffile.imwrite(path, ink, photometric="separated", iccprofile=cmyk_profile())
    photo = read_photo(path)
    assert photo.facts.kind == "CMYK"
    assert photo.facts.profile_use == "converted"
    assert photo.codes.dtype == np.uint16 and photo.codes.shape == (32, 32, 3)
    assert photo.codes[4, 4].min() > 60000
    assert photo.codes[4, 28].max() < 25000


def test_cmyk_without_a_profile_is_refused(tmp_path):
    path = tmp_path / "a.jpg"
    Image.new("CMYK", (16, 16)).save(path)
    with pytest.raises(CannotDo, match="CMYK and it has no profile"):
        read_photo(path)


def test_a_damaged_profile_is_told_and_the_photo_opens(tmp_path):
    path = save(tmp_path / "a.jpg", np.zeros((16, 16, 3), np.uint8), icc_profile=b"nonsense" * 30)
    facts = read_photo(path).facts
    assert (facts.profile, facts.profile_use) == (None, "damaged")
    half = colours.srgb().icc[:200]
    path = save(tmp_path / "b.png", np.zeros((16, 16, 3), np.uint8), icc_profile=half)
    assert read_photo(path).facts.profile_use == "damaged"


def test_a_grey_profile_on_colour_is_no_use(tmp_path):
    grey = colours.plain_grey().icc
    path = save(tmp_path / "a.png", np.zeros((16, 16, 3), np.uint8), icc_profile=grey)
    assert read_photo(path).facts.profile_use == "damaged"


@pytest.mark.parametrize("gamma", [1.8, 2.2, 1.0])
def test_profiles_that_we_make_are_read_back_and_by_others(gamma):
    from PIL import ImageCms

    raw = icc.make("Made space", gamma, icc.primaries(colours.BT2020))
    space = colours.from_icc(raw)
    assert space.name == "Made space"
    assert np.allclose(space.matrix.sum(1), icc.D50, atol=1e-9)
    assert abs(space.curves[0][STEPS // 2] - 0.5 ** (round(gamma * 256) / 256)) < 1e-9
    assert "Made space" in ImageCms.getProfileDescription(ImageCms.ImageCmsProfile(io.BytesIO(raw)))


def test_our_srgb_agrees_with_another_librarys():
    ramp = np.stack([np.arange(256, dtype=np.uint8)] * 3, -1)[None]
    other = imagecodecs.cms_transform(
        ramp,
        imagecodecs.cms_profile("srgb"),
        colours.srgb().icc,
        colorspace="rgb",
        outcolorspace="rgb",
    )
    assert np.abs(other.astype(int) - ramp).max() <= 1


def test_parametric_curves(tmp_path):
    parts = [2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045]
    tag = b"para" + bytes(4) + struct.pack(">HH", 3, 0)
    tag += b"".join(struct.pack(">i", round(part * 65536)) for part in parts)
    curve = icc._curve(tag)
    grid = np.linspace(0, 1, len(curve))
    assert np.abs(curve - icc.srgb_curve(grid)).max() < 1e-4


# what goes wrong


def expect_refusal(path, *words):
    with pytest.raises(ZincError) as why:
        read_photo(path)
    sentence = str(why.value)
    assert "\n" not in sentence and "Traceback" not in sentence
    for word in words:
        assert word in sentence
    return sentence


def test_what_is_no_photo(tmp_path):
    (tmp_path / "text.jpg").write_text("hello, this is a letter")
    expect_refusal(tmp_path / "text.jpg", "text.jpg", "is not a JPEG, PNG, TIFF")
    (tmp_path / "empty.jpg").touch()
    expect_refusal(tmp_path / "empty.jpg", "empty")
    with pytest.raises(BadRequest, match="folder"):
        read_photo(tmp_path)
    with pytest.raises(BadRequest, match="no file"):
        read_photo(tmp_path / "gone.jpg")


@pytest.mark.parametrize("ending", ["jpg", "png", "tif"])
@pytest.mark.parametrize("share", [0.02, 0.3, 0.7, 0.97])
def test_truncated_files(tmp_path, scene, ending, share):
    whole = save(tmp_path / f"whole.{ending}", scene(300, 200))
    raw = whole.read_bytes()
    cut = tmp_path / f"cut.{ending}"
    cut.write_bytes(raw[: int(len(raw) * share)])
    expect_refusal(cut, "cut.")


@pytest.mark.parametrize("seed", range(12))
def test_scrambled_files_never_raise_anything_else(tmp_path, scene, seed):
    rng = np.random.default_rng(seed)
    ending = ("jpg", "png", "tif")[seed % 3]
    raw = bytearray(save(tmp_path / f"a.{ending}", scene(80, 60)).read_bytes())
    for place in rng.integers(4, min(len(raw), 400), 12):
        raw[place] = rng.integers(256)
    path = tmp_path / f"b.{ending}"
    path.write_bytes(bytes(raw))
    try:
        photo = read_photo(path)
    except ZincError as why:
        assert "\n" not in str(why)
    else:
        assert photo.codes.ndim == 3


def bomb(path, width, height):
    def chunk(kind, data):
        return (
            struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))
        )

    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    path.write_bytes(
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", head)
        + chunk(b"IDAT", zlib.compress(bytes(1000)))
        + chunk(b"IEND", b"")
    )
    return path


def test_a_header_bomb_is_refused_before_any_decoding(tmp_path):
    sentence = expect_refusal(bomb(tmp_path / "bomb.png", 60000, 60000), "60000 × 60000")
    assert "forged" in sentence or "memory" in sentence


def test_an_honest_large_panorama_passes_the_limit(tmp_path):
    from zinc_margin.photo.limits import check_declared

    check_declared(tmp_path / "pano.jpg", 30000, 10000, 3, 60_000_000)


def test_more_than_the_memory_is_refused(tmp_path, monkeypatch):
    from zinc_margin.photo import limits

    monkeypatch.setattr(limits, "memory_available", lambda: 100_000_000)
    with pytest.raises(CannotDo, match="this machine has only"):
        limits.check_declared(tmp_path / "big.tif", 10000, 10000, 6, 600_000_000)


def test_odd_tiffs_are_refused_in_words(tmp_path):
    tifffile.imwrite(tmp_path / "float.tif", np.zeros((8, 8), np.float32))
    expect_refusal(tmp_path / "float.tif", "float.tif")
    tifffile.imwrite(tmp_path / "deep.tif", np.zeros((8, 8), np.uint32))
    expect_refusal(tmp_path / "deep.tif", "bits")


@pytest.mark.skipif(os.geteuid() == 0, reason="root may read everything")
def test_no_permission(tmp_path, scene):
    path = save(tmp_path / "a.png", scene())
    path.chmod(0)
    expect_refusal(path, "permission to read")


@pytest.mark.parametrize("ending", ["webp", "avif", "jxl"])
def test_screen_formats_are_read(tmp_path, scene, ending):
    codes = scene(120, 80)
    path = tmp_path / f"kiln.{ending}"
    if ending == "jxl":
        path.write_bytes(imagecodecs.jpegxl_encode(codes, lossless=True))
    elif ending == "webp":
        Image.fromarray(codes).save(path, lossless=True, icc_profile=colours.srgb().icc)
    else:
        Image.fromarray(codes).save(path, quality=95)
    photo = read_photo(path)
    assert (photo.facts.width, photo.facts.height, photo.facts.bits) == (120, 80, 8)
    off = np.abs(photo.codes.astype(int) - codes)
    assert off.max() == 0 if ending != "avif" else off.mean() < 12
    path.write_bytes(path.read_bytes()[: path.stat().st_size // 2])
    with pytest.raises(CannotDo):
        read_photo(path)


@pytest.mark.parametrize(("bits", "channels"), [(10, 3), (12, 3), (10, 4), (10, 1)])
def test_a_deep_avif_stays_deep(tmp_path, bits, channels):
    ramp = np.linspace(0, 2**bits - 1, 60 * 40).astype(np.uint16).reshape(40, 60)
    codes = ramp if channels == 1 else np.repeat(ramp[..., None], channels, 2)
    if channels == 4:
        codes[..., 3] = 2**bits - 1
    path = tmp_path / "deep.avif"
    path.write_bytes(imagecodecs.avif_encode(codes, level=100, bitspersample=bits))
    photo = read_photo(path)
    assert (photo.facts.bits, photo.codes.dtype) == (16, np.uint16)
    assert photo.codes.shape == (40, 60, 1 if channels == 1 else 3)
    wanted = ramp[..., None] / (2**bits - 1) * 65535
    assert np.abs(photo.codes - wanted).max() <= 65535 / 2**bits
    assert len(np.unique(photo.codes)) > 2 ** (bits - 1)


def test_a_deep_grey_jpeg_xl_stays_deep(tmp_path, scene):
    codes = scene(60, 40, np.uint16)[..., 0]
    path = tmp_path / "deep.jxl"
    path.write_bytes(imagecodecs.jpegxl_encode(codes, lossless=True))
    photo = read_photo(path)
    assert photo.facts.kind == "grey" and np.array_equal(photo.codes[..., 0], codes)


def test_a_jpeg_xl_in_linear_light_is_not_taken_for_srgb(tmp_path):
    # the encoder takes deep codes for linear light and says so in the file alone
    ramp = np.linspace(0, 65535, 256).astype(np.uint16)[None, :, None].repeat(8, 0).repeat(3, 2)
    path = tmp_path / "linear.jxl"
    path.write_bytes(imagecodecs.jpegxl_encode(ramp, lossless=True))
    photo = read_photo(path)
    assert photo.facts.profile is not None and photo.facts.bits == 16
    shown = Screen(photo.colour, photo.codes.dtype).show(photo.codes)[0, :, 0] / 255
    light = np.linspace(0, 1, 256)
    encoded = np.where(light < 0.0031308, 12.92 * light, 1.055 * light ** (1 / 2.4) - 0.055)
    assert np.abs(shown - encoded).max() < 0.01


def test_a_jpeg_packed_as_jpeg_xl_keeps_its_profile_and_resolution(tmp_path, scene):
    jpeg, path = tmp_path / "kiln.jpg", tmp_path / "kiln.jxl"
    icc = colours.wide_rgb().icc
    exif = Image.Exif()
    exif[282] = exif[283] = 240.0
    exif[296] = 2
    Image.fromarray(scene(120, 80)).save(jpeg, quality=90, icc_profile=icc, exif=exif)
    path.write_bytes(imagecodecs.jpegxl_encode_jpeg(jpeg.read_bytes(), usecontainer=True))
    photo, like = read_photo(path), read_photo(jpeg)
    assert photo.facts.profile == like.facts.profile == "Wide RGB"
    assert photo.facts.tag_x == like.facts.tag_x == 240
    assert np.abs(photo.codes.astype(int) - like.codes).mean() < 1  # chroma is enlarged otherwise


def named_png(path, picture, primaries, transfer):
    """A PNG that names its colours by code points."""
    picture.save(path)
    data = path.read_bytes()
    chunk = b"cICP" + bytes([primaries, transfer, 0, 1])
    named = struct.pack(">I", 4) + chunk + struct.pack(">I", zlib.crc32(chunk))
    path.write_bytes(data[:33] + named + data[33:])  # behind IHDR


def named_heif(path, picture, primaries, transfer):
    pillow_heif.from_pillow(picture).save(
        path, quality=95, color_primaries=primaries, transfer_characteristics=transfer
    )


@pytest.mark.parametrize(("ending", "write"), [("png", named_png), ("heic", named_heif)])
def test_colours_that_are_named_by_numbers_are_not_taken_for_srgb(tmp_path, ending, write):
    path = tmp_path / f"kiln.{ending}"
    green = Image.new("RGB", (64, 64), (120, 180, 100))
    write(path, green, 12, 13)
    photo = read_photo(path)
    assert photo.facts.profile == "Display P3"
    shown = Screen(photo.colour, photo.codes.dtype).show(photo.codes)[32, 32, 2::-1]
    # by hand, from the primaries of both and the curve that they share
    assert np.abs(shown.astype(int) - (100, 182, 89)).max() <= 2
    write(path, green, 1, 13)
    assert read_header(path).facts.profile == "sRGB"
    write(path, green, 9, 16)
    expect_refusal(path, "high dynamic range")
    write(path, green, 11, 13)  # colours that we do not know
    assert read_header(path).facts.profile in (None, "sRGB")


def test_a_cameras_op_rgb_is_known_by_its_exif(tmp_path):
    path = tmp_path / "kiln.jpg"
    as_a_camera = {"Exif.Photo.ColorSpace": "65535", "Exif.Iop.InteroperabilityIndex": "R03"}
    Image.new("RGB", (64, 64), (120, 180, 100)).save(path, quality=95)
    with pyexiv2.Image(str(path)) as image:
        image.modify_exif(as_a_camera)
    photo = read_photo(path)
    assert photo.facts.profile == "opRGB"
    shown = Screen(photo.colour, photo.codes.dtype).show(photo.codes)[32, 32, 2::-1]
    assert np.abs(shown.astype(int) - (81, 181, 94)).max() <= 2
    with pyexiv2.Image(str(path)) as image:
        image.modify_icc(colours.srgb().icc)
    assert read_header(path).facts.profile == "sRGB"  # what is embedded wins


@pytest.fixture
def pages(tmp_path, scene):
    """A TIFF of three pictures, with a small copy of the first behind it."""
    path = tmp_path / "roll.tif"
    with tifffile.TiffWriter(path) as tiff:
        for at, (wide, high) in enumerate([(120, 80), (60, 90), (100, 100)]):
            tiff.write(scene(wide, high, np.uint16), photometric="rgb", resolution=(300, 300))
            if at == 0:
                tiff.write(scene(30, 20), photometric="rgb", subfiletype=1)
    return path


def test_any_page_of_a_tiff_is_a_photo_and_small_copies_are_none(pages, scene):
    for page, size in ((1, (120, 80)), (2, (60, 90)), (3, (100, 100))):
        photo = read_photo(pages, page=page)
        assert (photo.facts.page, photo.facts.pages) == (page, 3)
        assert np.array_equal(photo.codes, scene(*size, np.uint16))
    # what was measured of one page is not taken for another's
    assert read_photo(pages, page=2).facts.measured != read_photo(pages, page=3).facts.measured
    with pytest.raises(BadRequest, match=r"roll\.tif has 3 pages, so there is no page 4\."):
        read_header(pages, 4)


def test_pages_of_palettes_are_read_by_their_place_among_all(tmp_path, scene):
    first, second = (Image.fromarray(scene(*size)).convert("P") for size in ((50, 40), (40, 50)))
    first.save(tmp_path / "p.tif", save_all=True, append_images=[second])
    photo = read_photo(tmp_path / "p.tif", page=2)
    assert np.array_equal(photo.codes, np.asarray(second.convert("RGB")))


def test_the_page_that_was_chosen_is_the_photo_from_then_on(pages, jpeg):
    choose(pages, 2)
    assert read_header(pages).facts.height == 90
    assert read_header(pages, 1).facts.height == 80
    mark(read_header(pages).facts, (Fraction(1, 4), Fraction(1, 2)))
    assert with_mark(read_header(pages).facts).subject == (Fraction(1, 4), Fraction(1, 2))
    assert with_mark(read_header(pages, 1).facts).subject is None
    with pytest.raises(BadRequest, match="one page"):
        read_header(jpeg, 2)


def test_a_phones_heif_is_read_in_its_own_depth_upright_with_its_profile(tmp_path, scene):
    picture = Image.fromarray(scene(96, 64))
    exif = picture.getexif()
    exif[274], exif[306] = 6, "2026:05:09 08:00:00"
    profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    pillow_heif.from_pillow(picture).save(
        tmp_path / "a.heic", quality=-1, chroma=444, exif=exif.tobytes(), icc_profile=profile
    )
    photo = read_photo(tmp_path / "a.heic")
    facts = photo.facts
    assert (facts.format, facts.bits, facts.kind, facts.profile_use) == ("HEIF", 8, "RGB", "own")
    # the library has turned what it wrote by its flag; whichever way, once and not twice
    held = np.asarray(pillow_heif.open_heif(tmp_path / "a.heic"))
    assert photo.codes.shape == held.shape and np.array_equal(photo.codes, held)
    assert facts.said.date == "2026-05-09"

    white = np.full((64, 96, 3), 65535, np.uint16)
    white[:32] = 32768
    pillow_heif.from_bytes(mode="RGB;16", size=(96, 64), data=white.tobytes()).save(
        tmp_path / "b.heic", quality=-1, chroma=444
    )
    photo = read_photo(tmp_path / "b.heic")
    assert photo.codes.dtype == np.uint16 and photo.facts.bits == 16
    assert photo.codes[-1].max() == 65535 and abs(int(photo.codes[0].mean()) - 32768) < 400

    whole = (tmp_path / "b.heic").read_bytes()
    (tmp_path / "cut.heic").write_bytes(whole[: len(whole) // 2])
    with pytest.raises(CannotDo, match=r"cut\.heic is (damaged|cut short)"):
        read_photo(tmp_path / "cut.heic")
