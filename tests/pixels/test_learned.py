"""Repaired and doubled sources: the same bits for any part, and what they do to pictures."""

from __future__ import annotations

import io
import sys
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import numpy as np
import pytest
from PIL import Image, ImageDraw, ImageFont
from scipy import ndimage

import zinc_margin
from tests.conftest import photo_of, resampled
from zinc_margin.demo.texture import cloud
from zinc_margin.facts.measurements import Measured
from zinc_margin.handoff.machine import this_machine
from zinc_margin.keeping.job import Job
from zinc_margin.measure.errors import Cancelled, CannotDo
from zinc_margin.photo.measuring import measure
from zinc_margin.pixels import nets, render, tiles
from zinc_margin.pixels.new_detail import compare, invention
from zinc_margin.pixels.render import Renderer
from zinc_margin.pixels.repair import Repaired, RepairedTwice
from zinc_margin.pixels.source import Stored
from zinc_margin.pixels.upscale import double
from zinc_margin.plan.build import plan
from zinc_margin.plan.crop.rotation import Turned
from zinc_margin.plan.parts import Repair
from zinc_margin.plan.pixels import networks

FONTS = Path(zinc_margin.__file__).parent / "fonts"
UNTOUCHED = {"clean": Fraction(0), "denoise": Fraction(0), "dehalo": Fraction(0)}


def scene_of(width, height):
    """Edges, fine texture and a gradient, (height, width, 3) uint8."""
    y, x = np.mgrid[:height, :width].astype(np.float32)
    texture = cloud(5, 1.1, 1024)[:height, :width]
    field = 110 + 25 * texture + 40 * np.sign(np.sin(x / 23 + y / 61)) + x / width * 30
    return np.clip(np.stack([field, field * 0.9 + 10, field * 0.7 + 30], 2), 0, 255).astype(
        np.uint8
    )


PICTURE = scene_of(330, 290)
PHOTO = photo_of(PICTURE)
# what asks many times over is shown less, of more tiles than one all the same
FEW = (184, 168)
SMALL = photo_of(PICTURE[: FEW[1], : FEW[0]])


def docket(scale, size=(330, 290), **lines):
    """A docket that makes a photo of this many pixels so many times as large."""
    pixels = UNTOUCHED | {"method": "ai"} | lines.pop("pixels", {})
    return resampled(
        f"{size[0]}x{size[1]}mm", Fraction(scale) * Fraction("25.4"), pixels=pixels, **lines
    )


def enlarged(codes, scale, **pixels):
    photo = photo_of(codes)
    asked = docket(scale, photo.codes.shape[1::-1], pixels=pixels, sharpen={"on": False})
    made = plan(photo.facts, asked, this_machine())
    return Renderer(photo, made).region(0, 0, made.pixels.width, made.pixels.height)


def psnr(one, other):
    one, other = (each[8:-8, 8:-8].astype(float) for each in (one, other))
    return 10 * np.log10(255**2 / np.mean((one - other) ** 2))


DOCKETS = {
    "twice": docket(2),
    "by 1.7": docket("1.7"),
    "by 3.3, finer": docket("3.3", FEW, pixels={"method": "ai-fine"}),
    "turned": docket("1.9", crop={"turn": Fraction(7)}),
    "on its side": docket("1.9", crop={"turn": Fraction(90)}),
    "mended, Lanczos": docket(
        2, pixels={"method": "lanczos", "clean": Fraction(60), "dehalo": Fraction(50)}
    ),
    "cleaned, twice": docket(2, FEW, pixels={"clean": Fraction(60)}),
    "cleaned, by 2.6, finer": docket(
        "2.6", FEW, pixels={"method": "ai-fine", "clean": Fraction(50)}
    ),
    "denoised, by 3.3, finer": docket(
        "3.3", FEW, pixels={"method": "ai-fine", "denoise": Fraction(30)}
    ),
    "mended, kept": docket(1, pixels={"choice": "keep", "denoise": Fraction(40)}),
    "smooth": docket(2, pixels={"hardness": Fraction(-60)}),
}


@pytest.mark.parametrize("name", DOCKETS)
def test_any_part_is_the_same_to_the_bit(monkeypatch, name):
    monkeypatch.setattr(Repaired, "largest", 160)  # so that there are several
    photo = SMALL if "finer" in name or "cleaned" in name else PHOTO
    made = plan(photo.facts, DOCKETS[name])
    assert made.pixels.doublings or made.pixels.repair.any
    whole = np.concatenate(list(Renderer(photo, made, threads=1).bands()))
    monkeypatch.setattr(render, "BAND_ROWS", 129)
    monkeypatch.setattr(render, "TILE_COLUMNS", 201)
    assert np.array_equal(whole, np.concatenate(list(Renderer(photo, made, threads=3).bands())))
    height, width = whole.shape[:2]
    rng = np.random.default_rng(3)
    for _ in range(4):
        left, top = int(rng.integers(width - 60)), int(rng.integers(height - 60))
        part = Renderer(photo, made).region(left, top, 60, 55)
        assert np.array_equal(part, whole[top : top + 55, left : left + 60])


@pytest.mark.parametrize("name", ["by 3.3, finer", "turned", "cleaned, twice", "mended, kept"])
def test_a_region_can_be_had_early_with_nearly_the_same_pixels(name):
    photo = SMALL if "finer" in name or "cleaned" in name else PHOTO
    made = plan(photo.facts, DOCKETS[name])
    height, width = made.pixels.height, made.pixels.width
    box = width // 2 - 20, height // 2 - 30, 40, 60
    whole = Renderer(photo, made)
    assert not whole.holds(width // 2, height // 2)
    early = Renderer(photo, made, nearby=True).region(*box).astype(int)
    assert np.abs(early - whole.region(*box)).max() <= 2  # of 255; dither alone moves by 1
    assert whole.holds(width // 2, height // 2)


def test_a_region_is_filled_part_by_part_with_the_same_bits():
    made = plan(PHOTO.facts, docket("3.3"))
    whole = Renderer(PHOTO, made).region(0, 0, 1000, 900)
    out, states = np.zeros_like(whole), []
    Renderer(PHOTO, made).region(
        0, 0, 1000, 900, out=out, arrived=lambda: states.append(np.mean(out == whole))
    )
    assert len(states) > 3 and states[0] < 0.9 and states[-1] == 1 and sorted(states) == states


def test_few_tiles_are_kept_and_none_is_wrong(monkeypatch):
    made = plan(PHOTO.facts, docket(2))
    whole = Renderer(PHOTO, made).region(0, 0, 660, 580)
    monkeypatch.setattr(tiles, "_MOST_BYTES", 1)
    small = Renderer(PHOTO, made)
    assert small._source._most == 3
    assert np.array_equal(small.region(0, 0, 660, 580), whole)
    assert len(small._source._tiles) <= 3


def test_grey_and_deep_photos(scene):
    grey = enlarged(PICTURE[..., 0], 2)
    assert grey.shape == (580, 660, 1)
    deep = enlarged(PICTURE.astype(np.uint16) * 257, 2)
    shallow = enlarged(PICTURE, 2)
    assert deep.dtype == np.uint16
    assert np.abs(deep / 257 - shallow).max() <= 1  # eight bits are dithered


def test_it_beats_lanczos_on_what_it_never_saw():
    low = np.asarray(Image.fromarray(PICTURE).resize((165, 145), Image.Resampling.BICUBIC))
    true = PICTURE
    plain = enlarged(low, 2, method="lanczos")
    for method in ("ai", "ai-fine"):
        assert psnr(enlarged(low, 2, method=method), true) > psnr(plain, true) + 0.5


def test_crisp_goes_from_classical_to_more():
    low = np.asarray(Image.fromarray(PICTURE).resize((165, 145), Image.Resampling.BICUBIC))
    plain = enlarged(low, 2, method="lanczos").astype(float)
    moved = [
        np.abs(enlarged(low, 2, hardness=Fraction(crisp)) - plain).mean()
        for crisp in (-100, 0, 100)
    ]
    assert moved[0] < 0.35 * moved[1] < moved[1] < moved[2]


def test_networks_add_to_plain_lanczos_whose_ringing_is_left_to_them():
    plane = np.zeros((1, 40, 40), np.float32)
    plane[0, :, 20:] = 1
    apart = 5.75 + np.arange(56)[:, None] / 2 - np.arange(40)
    weights = np.where(np.abs(apart) < 3, np.sinc(apart) * np.sinc(apart / 3), 0)
    expected = weights / weights.sum(1, keepdims=True) @ plane[0, 0]
    for rows in (double(plane, 6)[0], double(plane.transpose(0, 2, 1), 6)[0].T):
        assert np.allclose(rows, expected, atol=1e-6)
    assert expected.min() < -0.05 and expected.max() > 1.05


def test_flat_tones_and_ramps_stay():
    ramp = np.repeat(np.linspace(30, 220, 200)[None], 60, 0)[..., None].repeat(3, 2)
    made = enlarged(np.rint(ramp).astype(np.uint8), 2).astype(float)
    expected = np.interp((np.arange(400) + 0.5) / 2 - 0.5, np.arange(200), np.rint(ramp)[0, :, 0])
    assert np.abs(made[20:-20, 20:-20] - expected[20:-20, None]).max() < 3


def invented(period, **pixels):
    """The strongest wave that enlarging adds to one, in dB beside it."""
    x = np.arange(256)
    wave = 128 + 60 * np.sin(2 * np.pi * x / period)
    codes = np.repeat(np.rint(wave).astype(np.uint8)[None], 96, 0)[..., None].repeat(3, 2)
    made = enlarged(codes, 2, **pixels)[96, 40:-40, 0].astype(float)
    window = np.hanning(len(made))
    spectrum = np.abs(np.fft.rfft((made - made.mean()) * window))
    frequency = np.fft.rfftfreq(len(made))
    own = np.abs(frequency - 1 / (2 * period)) < 0.012
    # its own harmonics may come from held ringing; what has nothing to do with it may not
    harmonic = np.zeros_like(own)
    for k in range(2, 12):
        at = (k / (2 * period)) % 1
        harmonic |= np.abs(frequency - min(at, 1 - at)) < 0.012
    return 20 * np.log10(spectrum[~own & ~harmonic].max() / spectrum[own].max())


@pytest.mark.parametrize("period", [3.0, 4.3, 6.0])
def test_a_grating_gets_no_frequency_that_was_not_there(period):
    assert invented(period, method="ai") < -30


def text_picture(side=200):
    font = ImageFont.truetype(str(FONTS / "SourceSerif4-Regular.otf"), 26)
    image = Image.new("L", (side, side), 255)
    pen = ImageDraw.Draw(image)
    for row in range(6):
        pen.text((6, 4 + 32 * row), "Tidewater Kilns & Co. 1874", 20, font)
    pen.line((10, 190, 190, 120), 0, 2)
    return np.asarray(image)[..., None].repeat(3, 2)


@pytest.mark.parametrize("factor", [2, 3])
def test_lettering_gains_at_least_a_decibel(factor):
    true = text_picture(198)
    small = Image.fromarray(true).resize((198 // factor,) * 2, Image.Resampling.BOX)
    low = np.asarray(small)
    plain = psnr(enlarged(low, factor, method="lanczos", kind="lettering"), true)
    assert psnr(enlarged(low, factor, kind="lettering"), true) > plain + 1
    assert psnr(enlarged(low, factor, method=None, kind="lettering"), true) > plain + 1


def as_jpeg(codes, quality):
    held = io.BytesIO()
    Image.fromarray(codes).save(held, "JPEG", quality=quality)
    return np.asarray(Image.open(held))


def steps(codes):
    """How much the borders of JPEG's squares step, against the rest."""
    rows = np.abs(np.diff(codes[..., 0].astype(float), axis=1)).mean(0)
    at = np.arange(len(rows)) % 8 == 7
    return rows[at].mean() - rows[~at].mean()


def test_cleaning_takes_blocks_away_and_brings_the_picture_nearer():
    # a sky beside a hard ridge, where blocks show first
    y, x = np.mgrid[:256, :384].astype(np.float32)
    sky = 150 + 40 * (y / 256) + 6 * cloud(9, 1.8, 1024)[:256, :384]
    true = np.where(y > 170 + 20 * np.sin(x / 40), 40 + 10 * cloud(4, 1.0)[:256, :384], sky)
    true = np.clip(true, 0, 255).astype(np.uint8)[..., None].repeat(3, 2)
    worn = as_jpeg(true, 25)
    kept = {"choice": "keep", "method": None}
    repaired = enlarged(worn, 1, **kept, clean=Fraction(100))
    assert psnr(repaired, true) > psnr(worn, true) + 0.6
    assert steps(repaired) < 0.4 * steps(worn)
    half = enlarged(worn, 1, **kept, clean=Fraction(50))
    assert steps(repaired) <= steps(half) < steps(worn)
    # the ridge stays as hard as it was
    edge = np.abs(np.diff(true[..., 0].astype(float), axis=0)).max()
    assert np.abs(np.diff(repaired[..., 0].astype(float), axis=0)).max() > 0.85 * edge


@pytest.mark.parametrize("zoom", [1, 2])
def test_squares_are_taken_away_wherever_the_grid_lies(zoom):
    worn = as_jpeg(PICTURE, 30)
    how = {"choice": "keep", "method": None} if zoom == 1 else {"method": "ai"}
    mends = how | {"clean": Fraction(100)}
    whole = enlarged(worn, zoom, **mends)
    true = enlarged(PICTURE, zoom, **how)[3 * zoom :, 5 * zoom :]
    cut = photo_of(worn[3:, 5:])
    asked = docket(zoom, cut.codes.shape[1::-1], pixels=mends, sharpen={"on": False})
    far = slice(80 * zoom, None), slice(80 * zoom, None)

    def repaired(**known):
        facts = replace(cut.facts, measured=Measured(0.0, **known))
        made = plan(facts, asked)
        return Renderer(cut, made).region(0, 0, made.pixels.width, made.pixels.height)

    # found again, it is mended as the whole was; taken for another, worse
    found, lost = repaired(blocks=1.0, grid=(3, 5)), repaired()
    there = whole[3 * zoom :, 5 * zoom :][far]
    told = psnr(found[far], there)
    assert told > 50
    assert psnr(lost[far], there) < told - 6
    assert psnr(found, true) > psnr(lost, true)


@pytest.mark.parametrize("zoom", [1, 2])
def test_tiles_of_what_is_mended_meet_without_a_seam(zoom):
    rng = np.random.default_rng(4)
    soft = ndimage.gaussian_filter(rng.normal(0, 60, (300, 300)), 4) * 4 + 128
    worn = as_jpeg(np.clip(soft, 0, 255).astype(np.uint8)[..., None].repeat(3, 2), 25)

    def repaired(codes):
        height, width = codes.shape[:2]
        given = Stored(photo_of(codes), Turned(width, height)), Repair(clean=100.0), ("blocks",)
        source = Repaired(*given) if zoom == 1 else RepairedTwice(*given, ("mended",), 1.0)
        return source.block(0, 0, zoom * height, zoom * width)

    # the same places in other tiles: the picture lies some squares further on
    moved = repaired(np.pad(worn, ((64, 0), (128, 0), (0, 0)), "symmetric"))
    difference = moved[zoom * 64 :, zoom * 128 :].astype(float) - repaired(worn)
    difference = np.abs(difference[zoom * 100 :, zoom * 100 :])
    assert difference.max() < 257 / 4  # of a step of 8 bits


def colour_of(codes):
    """Red and blue against lightness."""
    planes = codes.astype(float) / np.iinfo(codes.dtype).max
    light = planes @ (0.299, 0.587, 0.114)
    return np.stack([planes[..., 0] - light, planes[..., 2] - light])


def repaired(codes):
    return enlarged(codes, 1, choice="keep", method=None, clean=Fraction(86))


def test_colour_bleeds_less_over_hard_edges():
    y, x = np.mgrid[:256, :256]
    # glazed tiles: every colour has a lightness of its own
    tiles = np.array([[150, 60, 40], [40, 70, 110], [200, 190, 160], [60, 110, 80]], np.uint8)
    goal = tiles[((x + y // 3) // 37 + 2 * (y // 41)) % 4]
    soft = np.stack([ndimage.gaussian_filter(goal[..., c].astype(float), 0.6) for c in range(3)], 2)
    goal = np.rint(soft).astype(np.uint8)
    jpeg = as_jpeg(goal, 40)
    truth, before, after = (colour_of(each) for each in (goal, jpeg, repaired(jpeg)))
    edge = ndimage.gaussian_gradient_magnitude(goal.mean(axis=2), 1.0) > 12
    off = [np.abs(each - truth)[:, edge].mean() for each in (before, after)]
    assert edge.mean() > 0.02 and off[1] < 0.75 * off[0]


def test_lightness_alone_tints_nothing():
    """Lettering on grey paper: colour is led by lightness, and there is none to be led."""
    goal = np.repeat(text_picture()[..., :1], 3, axis=2) // 2 + 60
    jpeg = as_jpeg(np.ascontiguousarray(goal), 40)
    tint = np.abs(colour_of(repaired(jpeg)))
    assert tint.max() < 0.012 and tint.mean() < 0.002  # what eight bits leave


def test_mending_and_doubling_at_once_is_one_after_the_other_but_for_what_is_told(monkeypatch):
    asked = {"clean": Fraction(60), "dehalo": Fraction(40), "method": "ai"}
    monkeypatch.setattr(networks, "_TIMES_ASKED", {})
    told = enlarged(PICTURE, 2, **asked)
    agreed = nets.mean_correction

    def silent(*given, **more):
        answer = agreed(*given, **more)
        return answer._replace(seen=tuple(np.zeros_like(each) for each in answer.seen))

    monkeypatch.setattr(nets, "mean_correction", silent)
    at_once = enlarged(PICTURE, 2, **asked)
    monkeypatch.setattr(networks, "enlargers_with_seen", lambda *asked: ())
    apart = enlarged(PICTURE, 2, **asked)
    # beside the picture's rim, beyond which each of them looks at other things
    inside = slice(24, -24), slice(24, -24)
    assert np.abs(at_once.astype(int) - apart)[inside].max() <= 1
    assert np.abs(told.astype(int) - apart)[inside].max() > 1


def test_what_was_cleaned_is_enlarged_by_what_knows_it(monkeypatch):
    low = np.asarray(Image.fromarray(PICTURE).resize((165, 145), Image.Resampling.BICUBIC))
    worn = as_jpeg(low, 40)
    cleaned = {"clean": Fraction(86)}
    plain = psnr(enlarged(worn, 2, method="lanczos", **cleaned), PICTURE)
    made = psnr(enlarged(worn, 2, **cleaned), PICTURE)
    finer = psnr(enlarged(worn, 2, method="ai-fine", **cleaned), PICTURE)
    assert made > plain + 0.1 and finer > made - 0.02
    assert networks.enlargers("ai", "lettering", True) == networks.enlargers(
        "ai", "lettering", False
    )
    usual = networks.enlargers("ai", "photo", False)
    monkeypatch.setattr(networks, "enlargers", lambda *asked: usual)
    assert psnr(enlarged(worn, 2, **cleaned), PICTURE) < made


def test_who_waits_longer_is_asked_for_more_and_a_fine_jpeg_asks_for_less():
    def times(method, clean, pixels=6_000_000):
        return len(networks.cleaners(method, Repair(clean=clean), pixels))

    for method in ("ai", "ai-fine"):
        assert times(method, 86.0) == 2 * times(method, 30.0) >= 2
    assert times("ai-fine", 86.0) > times("ai", 86.0)
    # nor is there long to wait for a web copy
    assert times("ai", 86.0, 640 * 427) == times("ai-fine", 86.0)
    assert times("lanczos", 86.0) == times("lanczos", 86.0, 640 * 427) == 1
    assert networks.cleaners("ai", Repair(clean=86.0, denoise=20.0), 1) == ("clean",)


def test_noise_goes_and_texture_stays():
    rng = np.random.default_rng(2)
    # tiles with a soft mottle, as a camera sees them
    y, x = np.mgrid[:290, :330].astype(np.float32)
    tiles = 110 + 40 * np.tanh(8 * np.sin(x / 23 + y / 61)) + 12 * cloud(5, 1.7)[:290, :330]
    true = np.clip(tiles, 0, 255)[..., None].repeat(3, 2).astype(np.uint8)
    worn = np.clip(true + rng.normal(0, 8, true.shape), 0, 255).astype(np.uint8)
    kept = {"choice": "keep", "method": None}
    repaired = enlarged(worn, 1, **kept, denoise=Fraction(40))
    assert psnr(repaired, true) > psnr(worn, true) + 1
    flat = np.full((128, 128, 3), 120, np.uint8)
    worn = np.clip(flat + rng.normal(0, 8, flat.shape), 0, 255).astype(np.uint8)
    assert enlarged(worn, 1, **kept, denoise=Fraction(40)).std() < 0.4 * worn.std()


def test_strength_nought_is_the_photo_itself():
    made = plan(PHOTO.facts, docket(1, pixels={"choice": "keep", "method": None}))
    assert not made.pixels.repair.any
    assert np.array_equal(enlarged(PICTURE, 1, choice="keep", method=None), PICTURE)


def test_old_halos_are_taken_back():
    true = np.where(np.arange(200) < 100, 70.0, 180.0)[None].repeat(80, 0)
    true = ndimage.gaussian_filter(true, (0, 0.8))
    blurred = ndimage.gaussian_filter(true, (0, 1.6))
    haloed = np.clip(true + 1.5 * (true - blurred), 0, 255)
    codes = np.rint(haloed).astype(np.uint8)[..., None].repeat(3, 2)
    over = codes.max() - 180
    assert over > 10
    photo = replace(photo_of(codes))
    photo = replace(photo, facts=replace(photo.facts, measured=measure(codes, photo.colour)))
    asked = docket(
        1,
        (200, 80),
        pixels={"choice": "keep", "method": None, "dehalo": Fraction(100)},
        sharpen={"on": False},
    )
    made = Renderer(photo, plan(photo.facts, asked)).region(0, 0, 200, 80)
    assert made.max() - 180 < 0.4 * over and 70 - made.min() < 0.4 * (70 - codes.min())
    assert np.abs(made[:, :90].astype(int) - codes[:, :90]).max() <= 1


def test_it_stops_when_it_is_told_to():
    stop = Job()
    stop.cancel()
    made = plan(PHOTO.facts, docket(2))
    renderer = Renderer(PHOTO, made)
    with pytest.raises(Cancelled):
        renderer.region(0, 0, 200, 200, stop)
    # and what was given up is worked out when it is wanted after all
    assert renderer.region(0, 0, 200, 200).shape == (200, 200, 3)


def test_a_library_that_cannot_be_loaded_is_told_once(monkeypatch):
    assert nets.absent() is None  # it is there, and then does not load
    monkeypatch.setitem(sys.modules, "onnxruntime", None)
    nets.session.cache_clear()
    try:
        with pytest.raises(CannotDo, match="another method"):
            enlarged(PICTURE, 2)
        assert nets.absent() is not None
        # from now on the plan does without it
        assert enlarged(PICTURE, 2).shape == (580, 660, 3)
    finally:
        nets.tell_absent(None)
        nets.session.cache_clear()


def test_inventions_are_mapped():
    low = np.asarray(Image.fromarray(PICTURE).resize((165, 145), Image.Resampling.BICUBIC))
    photo = photo_of(low)
    made = plan(photo.facts, docket(2, (165, 145)))
    found = invention(photo, made, (20, 30, 200, 120))
    assert found.moved.shape == (120, 200) and 0 < found.share < 1
    plain = np.full((90, 90), 50.0)
    assert compare(plain, plain).share == 0 and not compare(plain, plain).fine
    letters = text_picture(120)[..., 0] / 2.55
    rng = np.random.default_rng(4)
    assert compare(letters + rng.normal(0, 12, letters.shape), letters).fine
