"""`inspect`: what a file is, in plain words, whether it can be opened here or not."""

from __future__ import annotations

import json

import numpy as np
import pytest
import tifffile
from PIL import Image

from zinc_margin.commands.program import main
from zinc_margin.photo.colour import srgb


@pytest.fixture
def told(tmp_path, scene, capsys, monkeypatch):
    """What is said of a picture saved under a name, in a mode."""
    monkeypatch.chdir(tmp_path)

    def told(name, mode="RGB", *more, **known):
        picture = Image.fromarray(scene(90, 60)).convert(mode)
        picture.save(name, **known)
        code = main(["inspect", name, *more])
        return code, capsys.readouterr()

    return told


@pytest.mark.parametrize(
    ("name", "mode", "words"),
    [
        ("kiln.gif", "P", "a GIF of 90 × 60 px (0.01 MP, 3:2), 8-bit palette"),
        ("kiln.bmp", "RGB", "a BMP of 90 × 60 px (0.01 MP, 3:2), 8-bit RGB"),
        ("kiln.jp2", "RGB", "a JPEG 2000 of 90 × 60 px (0.01 MP, 3:2), 8-bit RGB"),
        ("kiln.jpg", "CMYK", "a JPEG of 90 × 60 px (0.01 MP, 3:2), 8-bit CMYK"),
    ],
)
def test_a_picture_that_is_not_opened_is_told_of_all_the_same(told, name, mode, words):
    code, said = told(name, mode)
    assert code == 0 and f"{name} is {words}" in said.out and "cannot print it" in said.out
    code, said = told(name, mode, "--json")
    plain = json.loads(said.out)
    assert not plain["opened"] and (plain["width_px"], plain["height_px"]) == (90, 60)
    assert name in plain["why"]


def test_floating_point_is_named(tmp_path, capsys):
    path = tmp_path / "kiln.tif"
    tifffile.imwrite(path, np.zeros((600, 400, 3), np.float32), photometric="rgb")
    assert main(["inspect", str(path)]) == 0
    assert "TIFF of 400 × 600 px (0.24 MP, 2:3), floating-point RGB" in capsys.readouterr().out


def test_what_no_reader_knows_is_refused(tmp_path, capsys):
    path = tmp_path / "kiln.gif"
    path.write_bytes(b"GIF89a")
    assert main(["inspect", str(path)]) != 0
    assert "kiln.gif" in capsys.readouterr().err


def test_flags_profiles_and_see_through_parts(told):
    turned = Image.Exif()
    turned[0x0112] = 6
    _, said = told("turned.jpg", "RGB", exif=turned)
    assert "JPEG of 60 × 90 px" in said.out and "the size given here is upright" in said.out
    _, said = told("clear.png", "RGBA", icc_profile=srgb().icc)
    assert "Parts of it are transparent." in said.out and "Its colour profile is sRGB." in said.out
    _, said = told("grey.png", "L", icc_profile=srgb().icc)  # a profile of another kind
    assert "damaged or of the wrong kind" in said.out
    _, said = told("plain.webp", "RGB")
    assert "a WebP of" in said.out and "has no colour profile" in said.out
