"""The stand-ins: what comes off them is what the plan said beforehand."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction as F

import numpy as np
import pytest
from PIL import Image

from tests.conftest import photo_of, resampled
from zinc_margin.commands.program import main
from zinc_margin.handoff.make import make_file
from zinc_margin.handoff.printer import print_sheet, project
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.makers import find_maker
from zinc_margin.measure.sizes import parse_size
from zinc_margin.photo.pixels import read_photo
from zinc_margin.plan.build import plan

DESK, A4 = find_maker("desk"), parse_size("A4")


def printed(tmp_path, docket, codes=None, **known):
    photo = photo_of(np.full((300, 420, 3), 60, np.uint8) if codes is None else codes)
    one = plan(photo.facts, docket)
    out = tmp_path / "file.tif"
    make_file(photo, one, out, overwrite=True)
    return one, print_sheet(read_photo(out, measured=False), DESK, A4, ppi=F(72), **known)


def dark_mm(sheet):
    """How much of the sheet is inked, each way, in mm."""
    ink = sheet.codes[..., 0] < 150
    per_mm = sheet.codes.shape[1] / float(sheet.paper.width_mm)
    return [float(ink.any(axis=axis).sum()) / per_mm for axis in (0, 1)]


def test_a_smaller_picture_comes_out_at_its_true_size(tmp_path):
    _, sheet = printed(tmp_path, resampled("15x10cm", 100))
    assert sheet.scale == 1 and dark_mm(sheet) == pytest.approx([150, 100], abs=0.8)


def test_a_picture_as_large_as_the_paper_loses_what_the_plan_said(tmp_path):
    docket = resampled("A4", 72, size={"maker": "desk"}, finish={"sheet": A4})
    one, sheet = printed(tmp_path, docket)
    top, right, bottom, left = (float(mm) for mm in one.sheet.lost_mm)
    assert (top, right, bottom, left) == (3, 3, 5, 3)
    assert dark_mm(sheet) == pytest.approx([297 - left - right, 210 - top - bottom], abs=1.2)


def test_the_way_out_of_the_note_survives_whole(tmp_path):
    photo = photo_of(np.full((300, 420, 3), 60, np.uint8))
    one = plan(photo.facts, resampled("A4", 72, size={"maker": "desk"}, finish={"sheet": A4}))
    (note,) = [note for note in one.notes if note.code == "unprintable-edge"]
    whole = plan(photo.facts, note.remedies[0].docket)
    _, sheet = printed(tmp_path, note.remedies[0].docket)
    assert dark_mm(sheet) == pytest.approx(
        [float(whole.size.width_mm), float(whole.size.height_mm)], abs=1.2
    )


def test_borderless_loses_the_rim_unless_it_is_made_up_for(tmp_path):
    ramp = np.tile(np.linspace(0, 255, 420).astype(np.uint8), (300, 1))
    codes = np.repeat(ramp[..., None], 3, axis=2)
    docket = resampled("A4", 72, size={"overspill_mm": F(4)}, sharpen={"on": False})
    one, sheet = printed(tmp_path, docket, codes, overspill_mm=F(4))
    assert sheet.scale > 1.02
    lost = float(one.unseen_mm.left) / 297 * 255
    assert sheet.codes[100, 0, 0] == pytest.approx(lost, abs=2)
    made_up = replace(docket, finish=replace(docket.finish, make_up=True))
    _, sheet = printed(tmp_path, made_up, codes, overspill_mm=F(4))
    assert sheet.scale == pytest.approx(1, abs=1e-6)
    assert sheet.codes[100, 0, 0] <= 2 and sheet.codes[100, -1, 0] >= 253


def test_rougher_paper_is_softer(tmp_path, scene):
    photo = photo_of(scene(300, 200))
    out = tmp_path / "file.tif"
    make_file(photo, plan(photo.facts, resampled("5x3cm", 300)), out)
    file = read_photo(out, measured=False)
    rough = {}
    for surface in ("gloss", "canvas"):
        sheet = print_sheet(file, DESK, parse_size("7x5cm"), surface)
        rough[surface] = np.abs(np.diff(sheet.codes[..., 1].astype(float), axis=1)).mean()
    assert rough["canvas"] < 0.8 * rough["gloss"]


def test_a_file_without_a_size_is_not_guessed_at(scene):
    with pytest.raises(BadRequest, match="has no resolution"):
        print_sheet(photo_of(scene()), DESK, A4)


def test_a_projector_shows_pixels_as_they_are(scene):
    photo = photo_of(scene(300, 200))
    screen = project(photo, 400, 300)
    assert np.array_equal(screen[50:250, 50:350], photo.codes)
    assert not screen[:50].any() and not screen[:, :50].any()
    assert project(photo, 150, 100).shape == (100, 150, 3)


def test_the_command(jpeg, tmp_path, capsys):
    out = tmp_path / "sheet.png"
    made = tmp_path / "made.tif"
    assert main(["make", str(jpeg), "--size", "15x10cm", "--out", str(made)]) == 0
    asked = ["proof-print", str(made), "--by", "desk", "--out", str(out)]
    assert main([*asked, "--paper-size", "A5"]) == 0
    assert "15 × 10 cm of picture at its true size on 21 × 14.8 cm" in capsys.readouterr().out
    with Image.open(out) as sheet:
        assert sheet.size == (2976, 2098)
    assert main(asked) == 2
