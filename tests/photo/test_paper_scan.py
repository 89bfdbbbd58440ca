"""Measuring a paper: the page printed and scanned in simulation, by a scanner that is no Gaussian."""

from __future__ import annotations

import json
from functools import cache

import numpy as np
import pytest
import tifffile
from scipy import ndimage

from zinc_margin.commands import main
from zinc_margin.handoff.paper_files import blur_sentence, keep_paper, read_scan, write_page
from zinc_margin.keeping.own import OwnPapers
from zinc_margin.measure import paper_page as layout
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.sizes import parse_size
from zinc_margin.photo.paper_scan import Blur, measured_blur
from zinc_margin.pixels.paper_page import codes, draw_page

PPI = 600


@cache
def scanned(sigma_mm: float, turn: float = 2.0, metal: bool = True, seed: int = 1) -> np.ndarray:
    """A print of the page with dot noise, on the glass of a scanner: values (H, W), 0 to 255."""
    rng = np.random.default_rng(seed)
    per = PPI / 25.4
    coded = codes(draw_page(300))[..., 0] / 65535.0
    light = np.where(coded <= 0.04045, coded / 12.92, ((coded + 0.055) / 1.055) ** 2.4)
    high, wide = int(layout.HEIGHT * per), int(layout.WIDTH * per)
    rows = np.minimum((np.arange(high) / per * 300 / 25.4).astype(int), light.shape[0] - 1)
    columns = np.minimum((np.arange(wide) / per * 300 / 25.4).astype(int), light.shape[1] - 1)
    light = light[rows][:, columns].astype(np.float32)
    light *= 1 + 0.03 * rng.standard_normal(light.shape, np.float32) * np.sqrt(
        np.clip(1 - light, 0, 1)
    )
    light = ndimage.gaussian_filter(light, sigma_mm * per)
    full = int((layout.HEIGHT + 20) * per), int((layout.WIDTH + 20) * per)
    y, x = np.mgrid[: full[0], : full[1]].astype(np.float32)
    angle = np.radians(turn)
    x, y = x - full[1] / 2, y - full[0] / 2
    u = x * np.cos(angle) + y * np.sin(angle) + wide / 2
    v = -x * np.sin(angle) + y * np.cos(angle) + high / 2
    glass = ndimage.map_coordinates(light, [v, u], order=1, mode="constant", cval=1.0)
    if metal:
        left, top, width, height = layout.METAL
        across, down = u / per - left - width / 2, v / per - top - height / 2 - 3
        share = np.clip((down - np.tan(np.radians(3)) * across) * per + 0.5, 0, 1)
        there = (np.abs(across) < 70) & (down < 9)
        glass = np.where(there, glass * (1 - share) + 0.18 * share, glass)
    seen = 0.7 * ndimage.gaussian_filter(glass, 0.5) + 0.3 * ndimage.uniform_filter(glass, 3)
    seen *= 1 - 0.12 * (np.mgrid[: full[0], : full[1]][1] / full[1]) ** 2
    values = np.clip(seen, 0, 1) ** (1 / 2.2) + 0.004 * rng.standard_normal(seen.shape)
    return np.clip(values * 225, 0, 255).round().astype(np.float32)


@pytest.mark.parametrize(("sigma", "turn"), [(0.055, 2.0), (0.08, 181.5)])
def test_a_paper_is_measured_within_eight_percent(sigma, turn):
    blur = measured_blur(scanned(sigma, turn), 300)
    assert blur.sigma_mm == pytest.approx(sigma, rel=0.08)
    assert not blur.too_fine and blur.confidence > 0.8
    assert blur.scan_ppi == pytest.approx(PPI, rel=0.003)


def test_what_is_too_fine_for_the_scanner_is_said():
    blur = measured_blur(scanned(0.025), 300)
    assert blur.too_fine or blur.sigma_mm == pytest.approx(0.025, rel=0.2)
    assert "Too fine for this scan" in blur_sentence(Blur(0.02, 0.3, 600.0, True))
    with pytest.raises(BadRequest, match="Nothing was saved"):
        keep_paper("my gloss", Blur(0.02, 0.3, 600.0, True))


def test_without_a_metal_edge_or_a_page_it_is_one_sentence():
    with pytest.raises(BadRequest, match="metal edge"):
        measured_blur(scanned(0.055, metal=False), 300)
    with pytest.raises(BadRequest, match="four squares"):
        measured_blur(np.full((900, 700), 200, np.float32), 300)


def test_the_page_is_written_at_its_true_size(tmp_path):
    out = write_page(tmp_path / "page.tif", parse_size("Letter"), 300)
    with tifffile.TiffFile(out) as file:
        tags = file.pages[0].tags
        assert tags["XResolution"].value == (300, 1) and file.pages[0].shape[:2] == (3300, 2550)
    with pytest.raises(BadRequest, match="too small"):
        write_page(tmp_path / "small.tif", parse_size("A5"), 300)
    with pytest.raises(BadRequest, match=r"a \.tif or \.png"):
        write_page(tmp_path / "page.jpg", parse_size("A4"), 300)
    with pytest.raises(BadRequest):
        write_page(out, parse_size("A4"), 300)  # it is there already


def test_the_command_writes_measures_and_keeps(tmp_path, capsys):
    page, scan = tmp_path / "page.png", tmp_path / "scan.tif"
    assert main(["measure-paper", "--page", str(page), "--ppi", "300"]) == 0 and page.exists()
    tifffile.imwrite(scan, scanned(0.055).astype(np.uint8), compression="deflate")
    capsys.readouterr()
    words = ["measure-paper", str(scan), "--ppi", "300", "--keep", "kiln rag", "--json"]
    assert main(words) == 0
    report = json.loads(capsys.readouterr().out)
    assert report["sigma_mm"] == pytest.approx(0.055, rel=0.08) and report["kept"] == "kiln rag"
    assert float(OwnPapers().find("kiln rag").sigma_mm) == pytest.approx(report["sigma_mm"])
    assert read_scan(scan, 300).sigma_mm == report["sigma_mm"]
    assert main(["measure-paper"]) == 2


@pytest.mark.parametrize("seed", range(12))
def test_any_picture_is_measured_or_refused_in_a_sentence(seed):
    rng = np.random.default_rng(seed)
    values = scanned(0.055, metal=bool(seed % 3))[::3, ::3].copy()
    high, wide = values.shape
    for _ in range(rng.integers(1, 4)):
        attack = rng.integers(0, 7)
        if attack == 0:
            top, left = rng.integers(0, high // 2), rng.integers(0, wide // 2)
            values[top : top + high // 3, left : left + wide // 3] = rng.choice([0, 255])
        elif attack == 1:
            values = values + rng.normal(0, rng.choice([5, 80]), values.shape)
        elif attack == 2:
            values = 255 - values
        elif attack == 3:
            values = np.where(values > rng.integers(20, 200), 255.0, 0.0)
        elif attack == 4:
            values = values * rng.choice([0.0, 0.01, 3])
        elif attack == 5:
            values = values[:, ::-1]
        else:
            values = values[: rng.integers(2, high), : rng.integers(2, wide)]
    try:
        blur = measured_blur(values, 300)
    except BadRequest as why:
        assert str(why).endswith(".")
    else:
        assert np.isfinite(blur.sigma_mm) and 0 <= blur.confidence <= 1


def test_a_scan_without_a_ruler_says_how_to_lay_it():
    blank = scanned(0.055, metal=False).copy()
    per = PPI / 25.4
    blank[int((layout.METAL[1] - 4) * per) :] = 224  # not even the box is printed
    with pytest.raises(BadRequest, match=r"No page|Lay a metal ruler|cannot be measured"):
        measured_blur(blank, 300)
    with pytest.raises(BadRequest, match="Lay a metal ruler"):
        measured_blur(scanned(0.055, metal=False), 300)
