from __future__ import annotations

import json
from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import docket_of, facts_of
from zinc_margin.demo.folder import dockets
from zinc_margin.docket.crop import Frame
from zinc_margin.docket.docket import LINES, Docket
from zinc_margin.docket.document import from_json, to_json
from zinc_margin.docket.store import beside, load, save
from zinc_margin.measure.distances import Seen
from zinc_margin.measure.errors import BadRequest, CannotDo
from zinc_margin.measure.sizes import catalogue
from zinc_margin.plan.build import plan

shares = st.fractions(0, 1, max_denominator=997)
optional_ppi = st.none() | st.fractions(1, 10000, max_denominator=99)
dockets_made = st.builds(
    lambda size, lie, ppi, x, y, turn, fit, frame, strength, choice, bits, name: replace(
        Docket(),
        size=replace(Docket().size, size=size, lie=lie, ppi=ppi),
        crop=replace(Docket().crop, place_x=x, place_y=y, turn=turn, fit=fit, frame=frame),
        pixels=replace(Docket().pixels, choice=choice),
        sharpen=replace(Docket().sharpen, strength=strength, paper="canvas"),
        file=replace(Docket().file, bits=bits, name=name),
    ),
    st.none() | st.sampled_from(catalogue()),
    st.sampled_from(["auto", "as-given", "across"]),
    optional_ppi,
    shares,
    shares,
    st.fractions(-360, 360, max_denominator=1000),
    st.sampled_from(["trim", "whole"]),
    st.none() | st.builds(Frame, shares, shares, st.fractions(1, 5000), st.fractions(1, 5000)),
    st.fractions(0, 300, max_denominator=7),
    st.sampled_from(["auto", "keep", "resample"]),
    st.sampled_from([None, 8, 16]),
    st.none() | st.sampled_from(["kiln", "brick wall ½"]),
)


@given(dockets_made)
def test_every_docket_comes_back_equal(docket):
    back = from_json(to_json(docket))
    # the family of a size is the catalogue's affair, not the docket's
    if docket.size.size is not None:
        assert back.size.size.label == docket.size.size.label
        assert back.size.size.width_mm == docket.size.size.width_mm
        docket = replace(docket, size=replace(docket.size, size=back.size.size))
    assert back == docket


def test_the_json_is_readable():
    raw = json.loads(
        to_json(
            docket_of("12x9in", size={"distance": Seen.at(1100)}, crop={"place_y": Fraction(1, 2)})
        )
    )
    assert raw["zinc_margin_docket"] == 1
    assert list(raw)[1:-1] == list(LINES) and list(raw)[-1] == "renderer"
    assert raw["size"]["size"] == {"label": "12 × 9 in", "width_mm": "304.8", "height_mm": "228.6"}
    assert raw["size"]["distance_mm"] == [1100, 1100]
    assert raw["crop"]["place_x"] is None and raw["crop"]["place_y"] == "0.5"


def test_unknown_fields_are_kept():
    raw = json.loads(to_json(Docket()))
    raw["crop"]["mark_of_a_later_version"] = {"x": [1, 2]}
    raw["weather"] = "rain"
    again = json.loads(to_json(from_json(json.dumps(raw))))
    assert again["crop"]["mark_of_a_later_version"] == {"x": [1, 2]}
    assert again["weather"] == "rain"


@pytest.mark.parametrize(
    ("line", "key", "value"),
    [
        ("crop", "place_x", 7),
        ("crop", "place_x", "one"),
        ("crop", "place_x", True),
        ("crop", "rotate", "1/0"),
        ("crop", "frame", [1, 2, 3, 4]),
        ("crop", "frame", {"left": 0, "top": 0, "width": 0, "height": 5}),
        ("size", "size", {"width_mm": 0, "height_mm": 5}),
        ("size", "size", "A4"),
        ("size", "ppi", 0),
        ("size", "ppi", 1e9),
        ("size", "distance_mm", -3),
        ("size", "distance_mm", [700, 0]),
        ("size", "distance_mm", [1100, 700]),
        ("pixels", "method", "magic"),
        ("sharpen", "on", "yes"),
        ("sharpen", "process", "velvet"),
        ("sharpen", "strength", 1000),
        ("file", "bits", 12),
        ("file", "quality", 0),
        ("file", "name", "../over/there"),
        ("file", "format", "bmp"),
    ],
)
def test_wrong_values_are_refused_by_name(line, key, value):
    raw = json.loads(to_json(Docket()))
    raw[line][key] = value
    with pytest.raises(BadRequest) as why:
        from_json(json.dumps(raw), "kiln.json")
    assert f"{line}.{key}" in str(why.value)
    assert "kiln.json" in str(why.value)


@pytest.mark.parametrize(
    "text", ["", "{", "[]", '"docket"', "null", "{}", '{"size": {}}', "[" * 100_000]
)
def test_what_is_no_docket(text):
    with pytest.raises(BadRequest):
        from_json(text)


def test_a_newer_version_is_left_alone():
    with pytest.raises(BadRequest, match="version 2"):
        from_json('{"zinc_margin_docket": 2}')


def test_a_line_must_hold_fields():
    with pytest.raises(BadRequest, match="crop must be an object of fields"):
        from_json('{"zinc_margin_docket": 1, "crop": 3}')


def test_files(tmp_path):
    path = beside(tmp_path / "kiln.tif")
    docket = docket_of("A3+")
    save(docket, path)
    assert path.name == "kiln.tif.docket.json"
    assert load(path).size.size.label == "A3+"
    assert [item.name for item in tmp_path.iterdir()] == [path.name]
    with pytest.raises(BadRequest, match="no docket"):
        load(tmp_path / "gone.json")
    (tmp_path / "binary.json").write_bytes(bytes(range(256)))
    with pytest.raises(BadRequest, match="not readable JSON"):
        load(tmp_path / "binary.json")
    with pytest.raises(CannotDo, match="could not be written"):
        save(docket, tmp_path / "nowhere" / "a.json")


def test_the_demos_dockets_come_back(tmp_path):
    for docket in dockets().values():
        assert to_json(from_json(to_json(docket))) == to_json(docket)


def test_a_removed_method_becomes_plain_ai_with_a_note_until_it_is_accepted():
    text = to_json(Docket()).replace('"method": null', '"method": "ai-natural"')
    text = text.replace('"edges": 0', '"hardness": 0, "surface_detail": "60"')
    docket = from_json(text)
    assert docket.pixels.method == "ai"
    assert "surface_detail" not in to_json(docket)
    assert from_json(to_json(docket)) == docket
    note = next(one for one in plan(facts_of(900, 600), docket).notes if one.line == "pixels")
    assert note.code == "method-removed"
    accepted = note.remedies[0].docket
    assert all(one.code != "method-removed" for one in plan(facts_of(900, 600), accepted).notes)
