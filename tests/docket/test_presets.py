"""Preset dockets: what stays of a photo's own, and files that come and go."""

from __future__ import annotations

import json
from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import docket_of
from zinc_margin.docket import presets
from zinc_margin.docket.crop import Frame
from zinc_margin.docket.docket import Docket
from zinc_margin.docket.finish_input import parse_share
from zinc_margin.docket.photo import PhotoLine
from zinc_margin.docket.presets import Preset
from zinc_margin.facts.measurements import Measured
from zinc_margin.measure.errors import BadRequest, CannotDo

names = st.text(min_size=1, max_size=60).filter(lambda text: text.strip() == text)


@pytest.fixture(autouse=True)
def own_folder(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))


@given(
    names,
    st.text(max_size=200),
    st.sampled_from(presets.TOO_SMALL),
    st.none() | st.fractions(0, 1, max_denominator=1000),
)
def test_what_is_written_is_read_back_equal(name, about, small, most):
    docket = docket_of("15x10cm", file={"format": "jpeg"}, crop={"fit": "whole"})
    one = Preset(name, about, replace(docket, photo=PhotoLine()), small, most)
    assert presets.from_json(presets.to_json(one)) == one


def test_a_photos_own_turn_mirror_and_figures_stay_under_a_standing_docket():
    own = docket_of(
        "20x20cm",
        crop={
            "turn": Fraction(3, 2),
            "mirror": True,
            "fit": "trim",
            "frame": Frame(*map(Fraction, (1, 2, 30, 30))),
        },
        photo={"digest": "ab", "measured": Measured(0.5), "page": 3},
    )
    applied = presets.find("Album print, 15 × 10 cm").docket_for(own)
    assert (applied.crop.turn, applied.crop.mirror, applied.crop.frame) == (
        Fraction(3, 2),
        True,
        None,
    )
    assert applied.photo == own.photo
    assert {applied.size.size.width_mm, applied.size.size.height_mm} == {100, 150}


def test_own_ones_are_kept_found_first_handed_on_and_removed(tmp_path):
    shipped = presets.shipped_presets()[0]
    mine = replace(shipped, about="Mine, of the same name", most_trimmed=Fraction(1, 10))
    path = presets.keep(mine)
    assert presets.find(shipped.name) == mine and presets.own() == (mine,)
    presets.save(mine, tmp_path / "on.json")
    presets.remove(mine.name)
    assert presets.find(shipped.name) == shipped and not path.exists()
    assert presets.load(tmp_path / "on.json") == mine
    with pytest.raises(CannotDo, match="could not be removed"):
        presets.remove(mine.name)


def test_a_broken_one_is_passed_over_and_named_when_it_is_asked_for(tmp_path):
    presets.keep(replace(presets.shipped_presets()[0], name="good"))
    folder = presets.usual_folder()
    (folder / "bad.json").write_text("[")
    (folder / "worse.json").write_bytes(b"\xff\xfe")
    (folder / "other.json").write_text('{"zinc_margin_docket": 1}')
    assert [each.name for each in presets.own()] == ["good"]
    for name, why in (
        ("bad", "not readable JSON"),
        ("worse", "not readable JSON"),
        ("other", "not a preset"),
    ):
        with pytest.raises(BadRequest, match=why):
            presets.find(str(folder / f"{name}.json"))
    with pytest.raises(BadRequest, match="There is no preset"):
        presets.load(folder / "gone.json")
    with pytest.raises(BadRequest, match=r"Unknown preset “nothing like it”. Choose one of: good"):
        presets.find("nothing like it")


@pytest.mark.parametrize(
    ("field", "value", "why"),
    [
        ("name", "", "name must be a short text"),
        ("name", "x" * 101, "name must be"),
        ("about", 3, "about must be a text"),
        ("too_small", "shrink", "one of skip, make, enlarge"),
        ("most_trimmed", 2, "must be from 0 to 1, or null"),
        ("most_trimmed", "1/0", "must be from 0 to 1, or null"),
        ("docket", [], "docket must contain lines"),
        ("zinc_margin_preset", 9, "version 9"),
    ],
)
def test_wrong_values_are_named(field, value, why):
    raw = json.loads(presets.to_json(presets.shipped_presets()[0])) | {field: value}
    with pytest.raises(BadRequest, match=why):
        presets.from_json(json.dumps(raw))


def test_a_share_is_typed_in_percent():
    assert parse_share("25 %") == Fraction(1, 4) and parse_share("0") == 0
    assert parse_share("12.5%") == Fraction(1, 8)
    for wrong in ("101", "-1", "many", ""):
        with pytest.raises(BadRequest):
            parse_share(wrong)


def test_names_alike_and_names_of_any_script_each_have_their_file(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    names = ("A/B", "A.B", "a b", "A-B", "窯", "釉薬", "ё", "...", "x" * 99)
    for place, name in enumerate(names):
        presets.keep(presets.Preset(name, str(place), Docket()))
    assert {preset.name: preset.about for preset in presets.own()} == {
        name: str(place) for place, name in enumerate(names)
    }
    presets.keep(presets.Preset("A.B", "again", Docket()))  # in place of the one of that name
    presets.remove("a b")
    kept = {preset.name: preset.about for preset in presets.own()}
    assert kept["A.B"] == "again" and kept["A/B"] == "0" and "a b" not in kept
    assert len(kept) == len(names) - 1


def test_one_that_was_kept_under_another_file_name_is_replaced_there(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    place = presets.usual_folder() / "handed-on.json"
    place.parent.mkdir(parents=True)
    presets.save(presets.Preset("Show", "first", Docket()), place)
    assert presets.keep(presets.Preset("Show", "second", Docket())) == place
    assert [preset.about for preset in presets.own()] == ["second"]
