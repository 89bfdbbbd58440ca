"""Layered masters: their composite where they hold one, else what to save."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
import pytest
import tifffile
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tests.conftest import docket_of
from tests.photo.layered import master
from tests.photo.test_reading import cmyk_profile
from zinc_margin.commands.program import main
from zinc_margin.measure.errors import CannotDo
from zinc_margin.photo.colour import wide_rgb
from zinc_margin.photo.header import read_header
from zinc_margin.photo.pixels import read_photo
from zinc_margin.plan.build import plan


@pytest.mark.parametrize("big", [False, True])
@pytest.mark.parametrize("packed", [False, True])
@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
@pytest.mark.parametrize("kind", ["grey", "RGB"])
def test_the_composite_is_read(tmp_path, scene, kind, dtype, packed, big):
    codes = scene(61, 40).astype(dtype) * (257 if dtype == np.uint16 else 1)
    codes = codes[..., :1] if kind == "grey" else codes
    path = tmp_path / "master.psd"
    icc = wide_rgb().icc if kind == "RGB" else b""
    path.write_bytes(master(codes, kind, packed, big, layers=3, icc=icc, ppi=240))
    photo = read_photo(path)
    assert np.array_equal(photo.codes, codes)
    facts = photo.facts
    assert facts.format == "PSD" and facts.layered and facts.tag_x == facts.tag_y == 240
    assert facts.profile == ("Wide RGB" if icc else None)
    if dtype == np.uint8 and not big:  # as another reader has it
        with Image.open(path) as other:
            assert np.array_equal(np.asarray(other).reshape(codes.shape), codes)
    notes = [note.code for note in plan(facts, docket_of("6x4cm")).notes]
    assert "layers" in notes


def test_a_see_through_composite_lies_on_white_once(tmp_path, scene):
    """What the layers do not cover was laid on white when the file was saved."""
    colour = scene(60, 40).astype(np.float64)
    alpha = np.linspace(0, 255, 60)[None, :, None] + np.zeros((40, 1, 1))
    on_white = np.rint(colour * alpha / 255 + 255 - alpha).astype(np.uint8)
    path = tmp_path / "master.psd"
    path.write_bytes(master(np.dstack([on_white, np.rint(alpha).astype(np.uint8)]), layers=-2))
    photo = read_photo(path)
    assert photo.alpha is not None and photo.facts.alpha
    assert np.abs(photo.codes.astype(int) - on_white).max() <= 1


def test_a_saved_selection_is_no_transparency(tmp_path, scene):
    codes = np.dstack([scene(60, 40), np.zeros((40, 60), np.uint8)])
    path = tmp_path / "master.psd"
    path.write_bytes(master(codes, layers=2))
    photo = read_photo(path)
    assert photo.alpha is None and np.array_equal(photo.codes, codes[..., :3])


def test_without_a_composite_what_to_save_is_said(tmp_path, scene, capsys):
    path = tmp_path / "master.psd"
    path.write_bytes(master(scene(60, 40), layers=2, merged=False))
    with pytest.raises(CannotDo, match=r"no composite picture. Save it with one"):
        read_header(path)
    assert main(["inspect", str(path)]) == 0
    assert "PSD" in capsys.readouterr().out


@pytest.mark.parametrize(
    ("bits", "mode", "said"), [(32, 3, "32 bits"), (8, 9, "Lab"), (1, 0, "1-bit")]
)
def test_kinds_that_are_not_read_are_named(tmp_path, scene, bits, mode, said):
    data = bytearray(master(scene(60, 40)))
    data[22:26] = bits.to_bytes(2, "big") + mode.to_bytes(2, "big")
    path = tmp_path / "master.psd"
    path.write_bytes(bytes(data))
    with pytest.raises(CannotDo, match=said):
        read_header(path)


def test_cmyk_is_stored_as_what_is_left_of_the_paper(tmp_path, scene):
    codes = np.dstack([scene(60, 40), np.zeros((40, 60), np.uint8)])
    path, tiff, cmyk_icc = tmp_path / "master.psd", tmp_path / "flat.tif", cmyk_profile()
    path.write_bytes(master(codes, "CMYK", icc=cmyk_icc))
    tifffile.imwrite(tiff, codes, photometric="separated", iccprofile=cmyk_icc, metadata=None)
    assert np.array_equal(read_photo(path).codes, read_photo(tiff).codes)


def test_a_layered_tiff_is_said_to_be_one(tmp_path, scene):
    path = tmp_path / "master.tif"
    extra = [(37724, 7, 20, bytes(20), True)]
    tifffile.imwrite(path, scene(60, 40), photometric="rgb", metadata=None, extratags=extra)
    assert read_photo(path).facts.layered


DATA = master(np.arange(40 * 30 * 3, dtype=np.uint16).reshape(30, 40, 3), layers=-1, ppi=300)


@given(st.integers(0, len(DATA)), st.integers(0, 150), st.integers(0, 255))
def test_a_damaged_one_is_one_sentence(tmp_path_factory, cut, at, value):
    path = tmp_path_factory.mktemp("psd") / "a.psd"
    data = bytearray(DATA)
    data[at] = value
    for held in (bytes(data), DATA[:cut]):
        path.write_bytes(held)
        try:
            assert read_photo(path, measured=False).facts.tag_x != Fraction(0)
        except CannotDo as why:
            assert "a.psd" in str(why)
