"""A print on a photographed wall, as a picture that is measured."""

from __future__ import annotations

import json
from fractions import Fraction as F
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from tests.conftest import docket_of, photo_of
from zinc_margin.commands import main
from zinc_margin.demo import hall
from zinc_margin.handoff.on_wall import hang_in, read_room, small_page
from zinc_margin.keeping.own_walls import OwnWall, OwnWalls
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.room_marks import RoomMarks
from zinc_margin.plan.build import plan


@pytest.fixture
def wall(tmp_path):
    """A plain wall, 1200 px wide, brighter at its left end."""
    codes = np.full((800, 1200, 3), 200, np.uint8)
    codes[:] = np.linspace(225, 165, 1200).astype(np.uint8)[None, :, None]
    path = tmp_path / "hall.png"
    Image.fromarray(codes).save(path)
    return path


def red(wide=600, high=400):
    codes = np.zeros((high, wide, 3), np.uint8)
    codes[..., 0] = 210
    return photo_of(codes)


def reddish(out):
    return (out[..., 0].astype(int) - out[..., 1]) > 90


MARKS = RoomMarks(1200, 800, ((100.0, 600.0), (1100.0, 600.0)), F(2500))  # 0.4 px a mm


def test_it_covers_as_much_of_the_wall_as_it_is_large(wall):
    photo, room = red(), read_room(wall)
    made = plan(photo.facts, docket_of("60x40cm"))
    page = small_page(photo, made.small(900))
    out = hang_in(room.codes, MARKS, page, made, (600.0, 300.0))
    there = reddish(out)
    rows, columns = np.flatnonzero(there.any(axis=1)), np.flatnonzero(there.any(axis=0))
    # 1 mm before the wall it looks a thousandth larger
    assert columns[-1] - columns[0] + 1 == pytest.approx(240, abs=2)
    assert rows[-1] - rows[0] + 1 == pytest.approx(160, abs=2)
    assert (columns[0] + columns[-1]) / 2 == pytest.approx(600, abs=1)
    assert there.sum() == pytest.approx(240 * 160, rel=0.02)
    # the room is as it was where nothing hangs and no shadow falls
    assert np.array_equal(out[:150], room.codes[:150]) and np.array_equal(
        out[:, :400], room.codes[:, :400]
    )
    # darker below, where it keeps light off, and lit as the wall is: brighter at the left
    assert out[rows[-1] + 3, 600].mean() < room.codes[rows[-1] + 3, 600].mean() - 5
    assert out[300, columns[0] + 5, 0] > out[300, columns[-1] - 5, 0]


def test_a_canvas_shows_its_side_and_a_mat_its_frame(wall):
    photo, room = red(), read_room(wall)
    canvas = plan(photo.facts, docket_of("60x40cm", finish={"wrap_mm": F(40)}))
    page = small_page(photo, canvas.small(900))
    out = hang_in(room.codes, MARKS, page, canvas, (1000.0, 300.0))
    there = np.flatnonzero(reddish(out)[300])
    front = out[300, there[-1] - 20, 0]
    side = out[300, there[0] + 1, 0]
    assert side < front - 8  # turned from the light
    assert there[-1] - there[0] + 1 > 243


def test_what_it_says_is_written_whole(wall, jpeg, tmp_path, capsys, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    out = tmp_path / "hung.png"
    line = ["hang", str(jpeg), "--size", "60x40cm", "--room", str(wall)]
    marked = ["--points", "100,600 1100,600", "--apart", "250cm"]
    assert main([*line, *marked, "--keep-wall", "the hall", "--out", str(out)]) == 0
    assert "60 × 40 cm at true size" in capsys.readouterr().out
    with Image.open(out) as image:
        assert image.size == (1200, 800) and image.info["icc_profile"] and not image.getexif()
    # the wall was kept, and is found again
    again = tmp_path / "again.png"
    assert (
        main(["hang", str(jpeg), "--size", "60x40cm", "--wall", "The hall", "--out", str(again)])
        == 0
    )
    assert again.read_bytes() == out.read_bytes()
    capsys.readouterr()
    more = ["--wall", "the hall", "--overwrite", "--json", "--out", str(again)]
    assert main(["hang", str(jpeg), "--size", "60x40cm", *more]) == 0
    assert json.loads(capsys.readouterr().out)["hung_mm"] == [600, 400]
    for wrong, said in (
        ([*line, "--out", str(tmp_path / "x.png")], "Mark two places"),
        ([*line, *marked, "--out", str(tmp_path / "x.jpg")], "must be a .png"),
        ([*line, *marked, "--overwrite", "--out", str(wall)], "original"),
        ([*line, *marked, "--out", str(out)], "already exists"),
        (
            [*line[:-2], "--wall", "oven", "--out", str(again)],
            "You have no wall called “oven”",
        ),
        ([*line[:-2], "--out", str(again)], "Give the room"),
        ([*line, "--corners", "1,2 3,4", "--out", str(again)], "has 2 places instead of 4"),
    ):
        capsys.readouterr()
        assert main(wrong) == 2 and said in capsys.readouterr().err


def test_walls_are_kept_and_broken_ones_said(tmp_path):
    walls = OwnWalls(tmp_path / "walls.json")
    corners = ((1.5, 2.0), (90.0, 3.0), (91.0, 80.0), (2.0, 79.0))
    marks = RoomMarks(1200, 800, ((1.0, 2.0), (3.0, 4.0)), F(2400), corners, None, 950.5)
    wall = OwnWall("Small hall", Path("/made/up/hall.jpg"), marks, (600.0, 300.0))
    walls.keep(wall)
    walls.keep(OwnWall("Stairs", Path("/made/up/stairs.jpg"), RoomMarks(10, 10)))
    assert OwnWalls(walls.path).find("small HALL") == wall
    raw = json.loads(walls.path.read_text("utf-8"))
    raw["walls"][0]["corners"] = [[1, 2]]
    walls.path.write_text(json.dumps(raw), "utf-8")
    left = OwnWalls(walls.path)
    assert [one.name for one in left.all] == ["Stairs"] and "4 entries" in left.broken[0]
    left.remove("Stairs")
    with pytest.raises(BadRequest):
        left.keep(OwnWall("", Path("x"), RoomMarks(1, 1)))


def test_a_focal_length_is_taken_from_the_photograph(tmp_path):
    exif = Image.Exif()
    exif.get_ifd(0x8769)[0xA405] = 26
    path = tmp_path / "room.jpg"
    Image.new("RGB", (1200, 900)).save(path, exif=exif)
    assert read_room(path).marks.focal_px == pytest.approx(26 / 43.27 * 1500, rel=1e-3)
    Image.new("RGB", (1200, 900)).save(tmp_path / "bare.png")
    assert read_room(tmp_path / "bare.png").marks.focal_px is None


def test_the_demos_hall_is_seen_as_its_door_says():
    corners = hall.door_corners()
    wide, high = hall.SIZE
    assert all(0 < x < wide and 0 < y < high for x, y in corners)
    picture = hall.draw()
    assert picture.shape == (high, wide, 3)
    (x0, y0), (x1, y1) = corners[0], corners[2]
    inside = picture[int(y0) + 20 : int(y1) - 120, int(x0) + 15 : int(x1) - 15].mean()
    assert inside < picture[int(y0), int(x0) - 300 : int(x0) - 120].mean() - 15
