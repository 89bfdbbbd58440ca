"""A rack in one file: moved with its photos it still finds them."""

from __future__ import annotations

import json
from dataclasses import replace
from fractions import Fraction

import pytest
from PIL import Image

from tests.conftest import docket_of
from zinc_margin.commands.program import main
from zinc_margin.docket import racks
from zinc_margin.docket.docket import Docket
from zinc_margin.measure.errors import BadRequest, CannotDo


@pytest.fixture
def rack(tmp_path, scene):
    folder = tmp_path / "kiln"
    (folder / "in").mkdir(parents=True)
    for name in ("in/a.png", "b.png"):
        Image.fromarray(scene(90, 60)).save(folder / name)
    Image.fromarray(scene(60, 90)).save(tmp_path / "outside.png")
    small = docket_of("9x6cm", size={"ppi": Fraction(50)}, pixels={"choice": "resample"})
    kept = [
        (folder / "in" / "a.png", (small, replace(small, version="entry"))),
        (folder / "b.png", (Docket(),)),
        (tmp_path / "outside.png", (small,)),
    ]
    racks.save(kept, folder / "photos.rack.json")
    return folder, kept


def test_a_rack_goes_round_and_moves_with_its_photos(rack, tmp_path):
    folder, kept = rack
    assert racks.load(folder / "photos.rack.json") == tuple(kept)
    folder.rename(tmp_path / "moved")
    found = racks.load(tmp_path / "moved" / "photos.rack.json")
    assert [path for path, _ in found] == [
        tmp_path / "moved" / "in" / "a.png",
        tmp_path / "moved" / "b.png",
        tmp_path / "outside.png",
    ]
    assert [dockets for _, dockets in found] == [dockets for _, dockets in kept]
    raw = json.loads((tmp_path / "moved" / "photos.rack.json").read_text())
    assert raw["photos"][0]["photo"] == "in/a.png"


def test_a_rack_is_run_with_its_own_dockets(rack, tmp_path, capsys):
    folder, _ = rack
    out = tmp_path / "out"
    assert main(["batch", str(folder / "photos.rack.json"), "--out", str(out)]) == 0
    assert "4 made" in capsys.readouterr().out
    made = sorted(path.name for path in out.glob("*.tif"))
    assert len(made) == 4 and made[:2] == ["a-9x6cm.tif", "a-entry-9x6cm.tif"]


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("{", "not readable JSON"),
        ("[]", "not a rack of Zinc Margin"),
        ('{"zinc_margin_rack": 2}', "version 2"),
        ('{"zinc_margin_rack": 1, "photos": {}}', "must be a list"),
        ('{"zinc_margin_rack": 1, "photos": [{"photo": ""}]}', "photo 1 has no path"),
        ('{"zinc_margin_rack": 1, "photos": [{"photo": "a"}]}', "photo 1 is not a docket"),
        ('{"zinc_margin_rack": 1, "photos": ["a"]}', "photo 1 has no path"),
    ],
)
def test_a_broken_rack_is_named_and_left(tmp_path, text, why):
    path = tmp_path / "x.rack.json"
    path.write_text(text)
    with pytest.raises(BadRequest, match=why):
        racks.load(path)
    assert path.read_text() == text


def test_a_rack_that_cannot_be_written_leaves_the_old_one(rack, tmp_path):
    folder, kept = rack
    with pytest.raises(CannotDo, match="could not be written"):
        racks.save(kept, tmp_path / "gone" / "x.rack.json")
    assert racks.load(folder / "photos.rack.json") == tuple(kept)
