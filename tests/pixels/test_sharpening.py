"""Output sharpening: the target it meets, and what it leaves alone."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest

from tests.conftest import UNSHARPENED, docket_of, photo_of
from zinc_margin.measure.distances import Seen
from zinc_margin.photo import colour as colours
from zinc_margin.photo.sample import lightness
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan
from zinc_margin.plan.sharpen.eye import contrast_sensitivity

GREY = colours.plain_grey()


def kept(size, **sharpen):
    return docket_of(size, pixels={"choice": "keep"}, sharpen=sharpen)


def render(photo, docket, change=None):
    made = plan(photo.facts, docket)
    if change:
        made = replace(made, sharpen=replace(made.sharpen, **change))
    return Renderer(photo, made).region(0, 0, made.pixels.width, made.pixels.height)


def code_of(l_star):
    light = ((l_star + 16) / 116) ** 3
    codes = np.interp(light, GREY.curves[0], np.linspace(0, 65535, len(GREY.curves[0])))
    return np.round(codes).astype(np.uint16)


def test_strength_nothing_is_the_identity(scene):
    for dtype in (np.uint8, np.uint16):
        photo = photo_of(scene(120, 80, dtype))
        assert np.array_equal(render(photo, kept("12x8cm", strength=Fraction(0))), photo.codes)
        off = render(photo, docket_of("12x8cm", pixels={"choice": "keep"}, sharpen=UNSHARPENED))
        assert np.array_equal(off, photo.codes)


def test_flat_areas_do_not_move():
    codes = np.full((80, 120), 90, np.uint8)
    codes[:, 60:] = 180
    found = render(photo_of(codes), kept("12x8cm", paper="canvas"))[..., 0]
    assert (found[:, :35] == 90).all() and (found[:, 85:] == 180).all()
    assert found[40, 58] < 90 and found[40, 61] > 180


def test_half_strength_moves_half_as_far():
    codes = code_of(np.where(np.arange(200) < 100, 48.0, 52.0))[None, :].repeat(40, 0)
    photo = photo_of(codes)

    def gain(strength):
        found = render(photo, kept("20x4cm", strength=Fraction(strength)), {"noise": 0.001})
        return lightness(found, GREY)[20] - lightness(codes[..., None], GREY)[20]

    full, half = gain(100), gain(50)
    assert np.abs(full).max() > 0.2
    assert np.abs(half - full / 2).max() < 0.02


def test_rougher_paper_gets_more(scene):
    photo = photo_of(scene(120, 80))

    def moved(paper):
        found = render(photo, kept("0.4x0.26667in", paper=paper))
        return np.abs(found.astype(int) - photo.codes).mean()

    amounts = [moved(paper) for paper in ("gloss", "lustre", "matt", "cotton rag", "canvas")]
    assert amounts == sorted(amounts) and amounts[-1] > amounts[0]


def test_overshoot_is_bounded():
    codes = code_of(np.where(np.arange(120) < 60, 30.0, 70.0))[None, :].repeat(40, 0)
    found = lightness(
        render(photo_of(codes), kept("6x2cm", paper="newsprint"), {"amount": 3.0}), GREY
    )
    assert found.max() <= 70 + 9.01 and found.min() >= 30 - 9.01
    assert found.max() > 74


def test_white_and_black_are_never_passed():
    codes = code_of(np.where(np.arange(120) < 60, 2.0, 99.0))[None, :].repeat(40, 0)
    found = render(photo_of(codes), kept("6x2cm", paper="canvas"), {"amount": 3.0})
    assert (found[:, 40:55] <= code_of(np.array([3.0]))[0] + 200).all()
    # the light side keeps its tone: no clipped rim
    assert (found[:, 61:70] < 65535).all()


def test_noise_is_left_alone_and_edges_are_not():
    rng = np.random.default_rng(6)
    base = np.where(np.arange(240) < 120, 45.0, 60.0)[None, :].repeat(120, 0)
    noisy = base + rng.normal(0, 0.4, base.shape)
    photo = photo_of(code_of(noisy), noise=0.4)
    found = lightness(render(photo, kept("6x3cm", paper="matt")), GREY)
    unheld = lightness(render(photo, kept("6x3cm", paper="matt"), {"noise": 0.001}), GREY)
    flat = (slice(10, 110), slice(10, 100))
    assert found[flat].std() < 1.25 * noisy[flat].std()
    assert unheld[flat].std() > 1.4 * noisy[flat].std()
    edge = (slice(10, 110), slice(118, 123))
    assert np.abs(found[edge] - noisy[edge]).max() > 1.5


def test_deep_shadows_are_held_back():
    def moved(low, high):
        base = np.where(np.arange(120) < 60, low, high)[None, :].repeat(40, 0)
        codes = code_of(base)
        before = lightness(codes[..., None], GREY)
        return np.abs(lightness(render(photo_of(codes), kept("6x2cm")), GREY) - before).max()

    assert moved(4.0, 6.0) < 0.5 * moved(40.0, 42.0)


def lab(codes, colour):
    linear = np.stack(
        [
            np.interp(
                codes[..., c] / 65535, np.linspace(0, 1, len(colour.curves[c])), colour.curves[c]
            )
            for c in range(3)
        ],
        -1,
    )
    xyz = linear @ (colour.matrix / colours.icc_profiles.D50[:, None]).T
    f = np.where(
        xyz > (6 / 29) ** 3, np.cbrt(np.maximum(xyz, 0)), xyz / (3 * (6 / 29) ** 2) + 4 / 29
    )
    return np.stack(
        [116 * f[..., 1] - 16, 500 * (f[..., 0] - f[..., 1]), 200 * (f[..., 1] - f[..., 2])], -1
    )


def test_colour_stays(scene):
    photo = photo_of(scene(200, 140, np.uint16))
    found = render(photo, kept("5x3.5cm", paper="canvas"))
    before, after = lab(photo.codes, photo.colour), lab(found, photo.colour)
    chroma, chroma_after = (
        np.hypot(*np.moveaxis(before[..., 1:], -1, 0)),
        np.hypot(*np.moveaxis(after[..., 1:], -1, 0)),
    )
    hue = np.degrees(
        np.arctan2(before[..., 2], before[..., 1]) - np.arctan2(after[..., 2], after[..., 1])
    )
    hue = np.abs((hue + 180) % 360 - 180)
    unclipped = ((found > 0) & (found < 65535) & (photo.codes > 0) & (photo.codes < 65535)).all(-1)
    moving = unclipped & (chroma > 10) & (np.abs(after[..., 0] - before[..., 0]) > 0.5)
    assert moving.sum() > 1000
    assert np.abs(chroma - chroma_after)[moving].max() < 2
    assert hue[moving].max() < 2


def test_lightness_is_that_of_the_photos_own_profile():
    wide = colours.from_icc(
        colours.icc_profiles.make("w", 1.8, colours.icc_profiles.primaries(colours.BT2020))
    )
    codes = np.full((40, 120, 3), 20000, np.uint16)
    codes[:, 60:] = 30000
    found = lightness(render(photo_of(codes, wide), kept("4.2x1.4cm", paper="canvas")), wide)
    step = lightness(codes, wide)
    assert found[20, 61] > step[20, 61] + 0.5
    assert np.ptp(render(photo_of(codes, wide), kept("4.2x1.4cm")), axis=-1).max() <= 2


# the proof: a slanted edge, printed (blurred in reflectance) and seen


def edge_response(l_values, oversample=4):
    """Spectrum of a 5-degree edge, in reflected light, by frequency in cycles per output pixel."""
    light = ((l_values + 16) / 116) ** 3
    height, width = light.shape
    y, x = np.mgrid[0:height, 0:width]
    distance = (x - width / 2) * np.cos(np.radians(5)) + (y - height / 2) * np.sin(np.radians(5))
    bins = np.floor(distance * oversample).astype(int)
    reach = 40 * oversample
    profile = np.array([light[bins == b].mean() for b in range(-reach, reach)])
    spread = np.diff(profile) * np.hanning(2 * reach - 1)
    spectrum = np.abs(np.fft.rfft(spread, 4096))
    return np.fft.rfftfreq(4096, 1 / oversample), spectrum / spectrum[0]


@pytest.mark.parametrize("paper", ["gloss", "lustre", "matt", "cotton rag"])
@pytest.mark.parametrize(("ppi", "distance"), [(300, 450), (360, 350), (300, 900)])
def test_the_print_is_as_crisp_as_the_model_says(paper, ppi, distance):
    size = 200
    y, x = np.mgrid[0:size, 0:size]
    along = (x - size / 2) * np.cos(np.radians(5)) + (y - size / 2) * np.sin(np.radians(5))
    ramp = np.clip(along + 0.5, 0, 1)
    photo = photo_of(code_of(45 + 10 * ramp))
    inch = f"{size / ppi:.6f}"
    docket = docket_of(
        f"{inch}x{inch}in",
        size={"distance": Seen.at(distance)},
        pixels={"choice": "keep"},
        sharpen={"paper": paper},
    )
    made = plan(photo.facts, docket)
    assert made.effective_ppi == pytest.approx(ppi, rel=1e-3)
    sharp = Renderer(photo, made).region(0, 0, size, size)
    plain = photo.codes
    sigma = made.sharpen.paper_mm / 25.4 * ppi
    # the pixel grid's own edge is taken for perfect, as the model takes it; paper then blurs it
    frequency, perfect = edge_response(lightness(plain, GREY))
    printed = np.exp(-2 * (np.pi * sigma * frequency) ** 2) * (frequency <= 0.5)
    sensitivity = contrast_sensitivity(frequency * ppi / 25.4 * distance * np.pi / 180)

    def acutance(codes):
        chain = edge_response(lightness(codes, GREY))[1] / np.maximum(perfect, 0.05) * printed
        return (chain * sensitivity).sum() / sensitivity.sum()

    assert acutance(plain) == pytest.approx(made.sharpen.acutance_before, abs=0.03)
    assert acutance(sharp) == pytest.approx(made.sharpen.acutance_after, abs=0.06)
