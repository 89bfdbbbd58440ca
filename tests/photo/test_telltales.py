"""Detectors on pictures that were damaged by known amounts, and on clean ones."""

from __future__ import annotations

import io
import json

import numpy as np
import pytest
from PIL import Image, ImageFilter
from scipy import ndimage

from zinc_margin.demo import bench, estuary, tiles
from zinc_margin.demo.texture import cloud, stretch
from zinc_margin.facts.measurements import Measured
from zinc_margin.gate.values import Wrong
from zinc_margin.photo import colour as colours
from zinc_margin.photo import measuring
from zinc_margin.photo.fact_cache import recall
from zinc_margin.photo.header import read_header
from zinc_margin.photo.measuring import measure
from zinc_margin.photo.pixels import measured_photo, read_photo
from zinc_margin.plan.photo.findings import (
    BLOCKS_FROM,
    ENLARGED_UNDER,
    HALO_FROM,
    NOISE_FROM,
    SOFT_FROM,
)

WIDE, HIGH = 1152, 768


def wall_of(wide, high):
    """A leaning wall of kiln brick: edges at an angle, soft tones, texture, a camera's grain."""
    rng = np.random.default_rng(11)
    y, x = np.arange(high, dtype=np.float32), np.arange(wide, dtype=np.float32)
    soft = 0.35 + 0.12 * stretch(cloud(21, 1.6), y / 2, x / 2)
    soft = soft + 0.05 * stretch(cloud(22, 1.1), y, x) * (x > wide * 0.6)
    across = (x[None] * 0.995 + y[:, None] * 0.09) / 118
    down = (-x[None] * 0.09 + y[:, None] * 0.995) / 74
    across = across + 0.5 * (np.floor(down) % 2)
    u, v = np.abs(across % 1 - 0.5) * 2, np.abs(down % 1 - 0.5) * 2
    inside = np.minimum(0.9 - u, (0.86 - v) * 0.63) * 59
    tones = np.random.default_rng(3).uniform(-0.14, 0.22, (64, 64))
    tone = tones[np.floor(across).astype(int) % 64, np.floor(down).astype(int) % 64]
    light = soft * 0.35 + 0.08 + np.clip(inside / 1.1 + 0.5, 0, 1) * (0.14 + tone + soft * 0.35)
    codes = np.clip(light, 0.02, 0.98) ** (1 / 1.6) * 255 + rng.normal(0, 0.7, light.shape)
    return Image.fromarray(np.clip(codes, 0, 255).astype(np.uint8)).convert("RGB")


@pytest.fixture(scope="module")
def wall():
    return wall_of(WIDE, HIGH)


def found(picture) -> Measured:
    return measure(np.ascontiguousarray(np.asarray(picture)), colours.srgb())


def pressed(picture: Image.Image, quality: int) -> Image.Image:
    buffer = io.BytesIO()
    picture.save(buffer, "JPEG", quality=quality)
    return Image.open(buffer).convert("RGB")


def alarms(measured: Measured) -> set[str]:
    told = {
        "blocks": measured.blocks > BLOCKS_FROM,
        "halo": measured.halo > HALO_FROM,
        "soft": (measured.edge_px or 0) > SOFT_FROM,
        "enlarged": measured.true_share < ENLARGED_UNDER,
        "noise": measured.noise > NOISE_FROM,
    }
    return {name for name, on in told.items() if on}


def test_a_clean_picture_raises_no_alarm(wall):
    assert alarms(found(wall)) == set()
    assert alarms(found(pressed(wall, 95))) == set()


@pytest.mark.parametrize(
    ("module", "height"),
    # strips of the real things, at their real scale; the estuary's shapes would be squeezed
    [(tiles, 750), (bench, 750), (estuary, estuary.HEIGHT)],
)
def test_the_clean_demo_pictures_raise_no_alarm(monkeypatch, module, height):
    monkeypatch.setattr(module, "HEIGHT", height)
    codes = module.draw(lambda _: None)
    colour = colours.wide_rgb()
    if codes.dtype == np.uint8:
        codes, colour = np.asarray(pressed(Image.fromarray(codes), 93)), colours.srgb()
    assert alarms(measure(codes, colour)) == set()


def test_more_jpeg_more_blocks(wall):
    steps = [found(pressed(wall, quality)).blocks for quality in (95, 70, 50, 30)]
    assert steps == sorted(steps)
    assert alarms(found(pressed(wall, 70))) == {"blocks"}
    assert steps[-1] > 2 * BLOCKS_FROM


def test_blocks_are_found_when_the_picture_was_cropped_off_the_grid(wall):
    measured = found(pressed(wall, 50).crop((3, 5, WIDE - 2, HIGH - 1)))
    assert "blocks" in alarms(measured)
    assert measured.grid == (8 - 3, 8 - 5)
    assert Measured.from_plain(measured.plain()) == measured


def test_an_unsharp_mask_leaves_halos():
    wall = wall_of(1536, 1024)  # so many edges are looked for
    halos = [
        found(wall.filter(ImageFilter.UnsharpMask(radius, percent, 0))).halo
        for radius, percent in ((1, 60), (1.5, 150), (2, 250))
    ]
    assert found(wall).halo < halos[0] < HALO_FROM < halos[1] < halos[2]


@pytest.mark.parametrize("sigma", [1, 2, 3])
def test_the_width_of_blurred_edges_is_measured(wall, sigma):
    blurred = found(wall.filter(ImageFilter.GaussianBlur(sigma)))
    assert blurred.edge_px == pytest.approx(sigma, rel=0.15)
    assert ("soft" in alarms(blurred)) == (sigma > 1)
    assert blurred.true_share == 1


@pytest.mark.parametrize(
    ("times", "kernel"),
    [(1.5, Image.BICUBIC), (2, Image.LANCZOS), (2, Image.BILINEAR), (3, Image.BICUBIC)],
)
def test_an_enlarged_picture_tells_by_how_much(wall, times, kernel):
    larger = wall.resize((int(WIDE * times), int(HIGH * times)), kernel)
    assert found(larger).true_share == pytest.approx(1 / times, abs=0.01)


def test_noise_is_measured_and_placed(wall):
    rng = np.random.default_rng(0)
    codes = np.asarray(wall).astype(float)
    figures = []
    for sigma in (2, 5, 9):
        noisy = np.clip(codes + rng.normal(0, sigma, codes.shape), 0, 255).astype(np.uint8)
        measured = found(noisy)
        figures.append(measured.noise)
        x, y = next((x, y) for name, x, y in measured.places if name == "noise")
        assert 0 <= x < WIDE and 0 <= y < HIGH
    assert figures == sorted(figures)
    assert figures[1] > NOISE_FROM > found(wall).noise


def test_the_place_of_blocks_is_where_they_are(wall):
    mixed = wall.copy()
    half = pressed(wall, 20).crop((WIDE // 2, 0, WIDE, HIGH))
    mixed.paste(half, (WIDE // 2, 0))
    x = next(x for name, x, _ in found(mixed).places if name == "blocks")
    assert x > WIDE // 2


def test_what_was_measured_is_remembered_until_the_file_changes(tmp_path, jpeg, monkeypatch):
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    unmeasured = read_photo(jpeg, measured=False)
    assert unmeasured.facts.measured is None
    first = measured_photo(unmeasured).facts
    assert first.measured is not None and first.digest is not None
    again = read_photo(jpeg, measured=False).facts
    assert (again.measured, again.digest) == (first.measured, first.digest)
    with jpeg.open("ab") as file:
        file.write(b"\0")
    assert read_photo(jpeg, measured=False).facts.measured is None
    kept = next((tmp_path / "cache").rglob("*.json"))
    kept.write_text(json.dumps({"state": 1}))
    assert recall(read_header(jpeg).facts).measured is None


def test_a_photo_that_was_moved_is_known_again(tmp_path, jpeg, monkeypatch):
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    first = read_photo(jpeg).facts
    moved = jpeg.rename(tmp_path / "kiln-2.jpg")
    monkeypatch.setattr(measuring, "measure", lambda *_: pytest.fail("it was measured again"))
    again = read_photo(moved).facts
    assert (again.measured, again.digest) == (first.measured, first.digest)


def test_figures_go_round_as_json():
    told = Measured(0.5, 0.1, 0.02, 0.7, 0.5, (("noise", 4, 5), ("blocks", 1, 2)))
    assert Measured.from_plain(json.loads(json.dumps(told.plain()))) == told
    with pytest.raises(Wrong, match="lacks"):
        Measured.from_plain({"noise": 1})
    with pytest.raises(Wrong, match="true_share"):
        Measured.from_plain(told.plain() | {"true_share": 0})


def test_fineness_tells_smeared_detail():
    rng = np.random.default_rng(4)
    fine = np.clip(cloud(6, 1.2, 1024)[:600, :800] * 30 + 120, 0, 255)
    figures = []
    for smear in (0.0, 0.6, 1.0):
        soft = ndimage.gaussian_filter(fine, smear) + rng.normal(0, 0.3, fine.shape)
        codes = np.clip(soft, 0, 255).astype(np.uint8)[..., None].repeat(3, 2)
        figures.append(measure(codes, colours.srgb()).fineness)
    assert (
        figures == sorted(figures, reverse=True)
        and figures[0] > 0.3 > 0.24 > figures[1] > 0.17 > figures[2]
    )
    flat = np.full((300, 300, 3), 90, np.uint8)
    assert measure(flat, colours.srgb()).fineness is None
