"""A person's own sizes, and the file that holds them."""

from __future__ import annotations

import json
from fractions import Fraction

import pytest

from zinc_margin.keeping.own import OwnSizes
from zinc_margin.measure.errors import BadRequest, CannotDo
from zinc_margin.measure.sizes import parse_size
from zinc_margin.measure.ways import Way, mat_of


@pytest.fixture
def own(tmp_path):
    return OwnSizes(tmp_path / "kept" / "sizes.json")


def test_sizes_and_mats_are_kept_and_read_back(own):
    own.add("House size", parse_size("54x36cm"))
    own.add("Show mat", mat_of("27x36cm", "6mm", None))
    again = OwnSizes(own.path).all
    assert [size.label for size in again] == ["House size", "Show mat"]
    assert again == own.all and all(size.family == "mine" for size in again)
    assert again[0].width_mm == 540
    assert isinstance(again[1], Way) and again[1].values == (270, 360, 6)
    raw = json.loads(own.path.read_text())
    assert raw["zinc_margin_sizes"] == 1 and raw["sizes"][0]["label"] == "House size"


def test_rename_and_remove(own):
    own.add("House", parse_size("54x36cm"))
    own.add("Card", parse_size("10x15cm"))
    own.rename("house", "House size")
    own.remove("CARD")
    assert [size.label for size in OwnSizes(own.path).all] == ["House size"]
    with pytest.raises(BadRequest, match="You have no size"):
        own.remove("card")


@pytest.mark.parametrize("name", ["", "   ", "x" * 61, "A4", "12 x 9", "house"])
def test_names_that_cannot_be(own, name):
    own.add("House", parse_size("54x36cm"))
    with pytest.raises(BadRequest):
        own.add(name, parse_size("10x15cm"))
    assert len(own.all) == 1


def test_lists_can_be_handed_on(own, tmp_path):
    own.add("House", parse_size("54x36cm"))
    own.write(tmp_path / "mine.json")
    other = OwnSizes(tmp_path / "other.json")
    other.add("house", parse_size("1x1m"))
    other.add("Roll end", parse_size("61x30cm"))
    assert other.take_in(tmp_path / "mine.json") == (0, 1)
    assert other.all[0].width_mm == Fraction(1000)
    assert own.take_in(other.path) == (1, 1)


@pytest.mark.parametrize(
    "text",
    [
        "",
        "{",
        "[]",
        "{}",
        '{"zinc_margin_sizes": 2, "sizes": []}',
        '{"zinc_margin_sizes": 1}',
        '{"zinc_margin_sizes": 1, "sizes": [{"label": "x", "width_mm": 0, "height_mm": 1}]}',
        '{"zinc_margin_sizes": 1, "sizes": [7]}',
        '{"zinc_margin_sizes": 1, "sizes": [{"kind": "width", "mm": 5}]}',
    ],
)
def test_broken_files_are_named_and_left(tmp_path, text):
    path = tmp_path / "sizes.json"
    path.write_text(text)
    with pytest.raises(BadRequest, match=r"sizes\.json.*left unchanged"):
        OwnSizes.read(path)
    assert path.read_text() == text


def test_a_folder_that_cannot_be_written_is_said(tmp_path):
    blocked = tmp_path / "file"
    blocked.write_text("")
    own = OwnSizes(blocked / "sizes.json")
    with pytest.raises(CannotDo, match="Nothing was changed"):
        own.add("House", parse_size("54x36cm"))
    assert own.all == ()


def test_they_live_in_the_xdg_folder(monkeypatch, tmp_path):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    assert OwnSizes.usual_file() == tmp_path / "zinc-margin" / "sizes.json"
