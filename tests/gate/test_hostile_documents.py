"""Whatever stands in a file from outside, it is typed data or one sentence."""

from __future__ import annotations

import json
import math
import re
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

import zinc_margin
from tests.conftest import facts_of
from zinc_margin.commands.as_json import plan_report
from zinc_margin.desktop.bench import screen_size
from zinc_margin.desktop.model import session
from zinc_margin.docket import document, presets, racks, versions
from zinc_margin.docket.docket import FIELDS, Docket
from zinc_margin.facts.measurements import Measured
from zinc_margin.gate.files import read_own
from zinc_margin.handoff import batch, channel, ipp, labs, order, pace
from zinc_margin.handoff.checking import check_plan
from zinc_margin.keeping import log, partials
from zinc_margin.keeping.own import OwnPapers, OwnSizes
from zinc_margin.keeping.own_printers import OwnPrinters
from zinc_margin.keeping.own_walls import OwnWalls
from zinc_margin.measure.errors import BadRequest, CannotDo, ZincError
from zinc_margin.measure.tables import shipped
from zinc_margin.photo import fact_cache, subject
from zinc_margin.plan.build import plan
from zinc_margin.plan.text.lines import summary

NUMBERS = st.sampled_from(
    (0, -1, 1, 0.5, 1e-300, 1e300, -1e300, 10**40, math.inf, -math.inf, math.nan, True, False)
)
TEXTS = st.sampled_from(
    ("", " ", "x", "1/3", "1/0", "-5", "1e999", "nan", "inf", "٣", "304.8", "a" * 5000, "\x1b[2J",
     "\u202ex", "../../x", "{name}", "#ffffff", "lab", "cm", "auto", "keep", "\ud800")
)  # fmt: skip
KEYS = st.sampled_from(
    ("kind", "label", "mm", "width_mm", "height_mm", "ppi", "factor", "near", "far", "left", "top",
     "width", "height", "path", "name", "space", "noise", "blocks", "places", "grid", "lean",
     "kind", "edge_px", "halo", "true_share", "frame_mm", "coded", "spectrum", "x")
)  # fmt: skip
ANY = st.recursive(
    st.none() | NUMBERS | TEXTS,
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(KEYS, inner, max_size=5),
    max_leaves=12,
)
many = settings(max_examples=150, suppress_health_check=list(HealthCheck))
PLACES = st.sampled_from(
    [(line, one.key) for line, fields in FIELDS.items() for one in fields.values()]
)


def sentence(why: ZincError) -> None:
    assert str(why).strip().endswith((".", "?")), str(why)
    assert "\n" not in str(why) and "Fraction(" not in str(why)


@many
@given(st.lists(st.tuples(PLACES, ANY), min_size=1, max_size=3))
def test_a_docket_of_anything_is_a_plan_or_a_sentence(fields):
    raw = document.to_plain(Docket())
    for (line, key), value in fields:
        raw[line] = dict(raw[line]) | {key: value}
    try:
        docket = document.from_plain(json.loads(json.dumps(raw)), "kiln.docket.json")
        made = plan(facts_of(600, 400), docket)
    except ZincError as why:
        sentence(why)
        return
    for units in ("cm", "in"):
        assert summary(made.facts, made, units).strip()
    json.dumps(plan_report(made.facts, made), allow_nan=False)


@many
@given(
    ANY, st.sampled_from(("zinc_margin_docket", "zinc_margin_versions", "zinc_margin_preset", ""))
)
def test_a_document_of_anything_is_read_or_refused_in_a_sentence(raw, mark):
    if isinstance(raw, dict) and mark:
        raw = raw | {mark: 1}
    for read in (document.from_plain, versions.from_plain):
        try:
            read(json.loads(json.dumps(raw)), "kiln.json")
        except ZincError as why:
            sentence(why)
    try:
        presets.from_json(json.dumps(raw), "kiln.json")
    except ZincError as why:
        sentence(why)


LAB = shipped(labs.__file__, "labs")["labs"][0]


@many
@given(st.sampled_from([*sorted(LAB), "most_px", "least_px", "least_megapixels", "least_bytes"]), ANY,
       st.booleans())  # fmt: skip
def test_a_lab_of_anything_is_a_lab_or_a_sentence(key, value, missing):
    raw = dict(LAB) | {key: value}
    if missing:
        del raw[key]
    try:
        lab = labs.read_lab(json.loads(json.dumps(raw)), "kiln.json")
    except ZincError as why:
        sentence(why)
        return
    made = plan(facts_of(600, 400), Docket())
    check_plan(made, "kiln", lab)


def _rack(raw, folder):
    path = folder / "shelf.rack.json"
    path.write_text(json.dumps(raw), "utf-8")
    return racks.load(path)


def _own(kind):
    def read(raw, folder):
        path = folder / f"{kind.word}s.json"
        path.write_text(json.dumps(raw), "utf-8")
        loaded = kind(path)
        for sentence_ in loaded.broken:
            assert sentence_.endswith((".", "?")) and "\n" not in sentence_
        for one in loaded.all:
            kind._plain(one)
        return kind.read(path)

    return read


SHELF = {
    "zinc_margin_rack": 1,
    "photos": [{"photo": "a.tif", "dockets": document.to_plain(Docket())}],
}
DOCUMENTS = {
    "rack": (_rack, SHELF),
    "sizes": (
        _own(OwnSizes),
        {
            "zinc_margin_sizes": 1,
            "sizes": [
                {"label": "Shelf", "width_mm": 300, "height_mm": "200.5"},
                {"label": "Frame", "kind": "within", "width_mm": 300, "height_mm": 200},
            ],
        },
    ),
    "papers": (
        _own(OwnPapers),
        {
            "zinc_margin_papers": 1,
            "papers": [{"name": "kozo", "sigma_mm": "0.05", "strength": 90, "maker": None}],
        },
    ),
    "printers": (
        _own(OwnPrinters),
        {
            "zinc_margin_printers": 1,
            "printers": [{"name": "desk", "title": "Desk", "papers": [[210, 297, 3, 3, 3, 3]]}],
        },
    ),
    "walls": (
        _own(OwnWalls),
        {
            "zinc_margin_walls": 1,
            "walls": [
                {
                    "name": "kitchen",
                    "photo": "/wall.jpg",
                    "width": 900,
                    "height": 600,
                    "points": [[1, 2], [3.5, 4]],
                    "apart_mm": 1000,
                    "corners": [[1, 1], [9, 1], [9, 9], [1, 9]],
                    "sides": {"width_mm": 300, "height_mm": 200},
                    "focal_px": 800.5,
                    "middle": [[4, 4]],
                }
            ],
        },
    ),
}


def _places(value, here=()):
    """Yield the path of every value in a document, whole parts first."""
    yield here
    if isinstance(value, (dict, list)):
        for key, one in value.items() if isinstance(value, dict) else enumerate(value):
            yield from _places(one, (*here, key))


def _replaced(value, path, new):
    if not path:
        return new
    key, *rest = path
    copy = dict(value) if isinstance(value, dict) else list(value)
    copy[key] = _replaced(copy[key], rest, new)
    return copy


@pytest.mark.parametrize("name", DOCUMENTS)
def test_a_good_document_is_read(name, tmp_path):
    read, good = DOCUMENTS[name]
    assert read(good, tmp_path)


@many
@given(st.sampled_from(sorted(DOCUMENTS)), st.data(), ANY, st.booleans())
def test_any_value_in_any_place_of_a_document_is_data_or_a_sentence(
    tmp_path_factory, name, data, value, bare
):
    read, good = DOCUMENTS[name]
    place = data.draw(st.sampled_from(list(_places(good))))
    try:
        read(_replaced(good, place, [] if bare else value), tmp_path_factory.mktemp("gate"))
    except ZincError as why:
        sentence(why)


MEASURED = Measured(0.5, places=(("noise", 3, 4),), bands=(1.0, 2.0)).plain()
STATE = {
    "session": {"place": [0, 0, 9, 9], "units": "cm", "dim": True, "folder": "/", "recent": ["/a"]},
    "screens": {"HDMI-1": 109.5},
    "pace": {"times": {"all": 1.5}},
    "journal": {"photos": {"/a.tif": {"key": "k", "done": True, "files": ["a"], "digests": ["b"]}}},
    "order": {"lab": "kilnshire", "files": [
        {"name": "a.tif", "sha256": "0", "width_mm": 100, "height_mm": "50.5", "copies": 1}]},
    "mark": {"x": "1/3", "y": 0.5},
    "page": {"page": 2},
    "known": {"state": [1, 2, 3, 4], "digest": "0", "measured": MEASURED},
    "partial": {"partial": "/x/.a.tif.0123abcd.part", "placeholder": "/x/a.tif"},
    "failure": {"time": 1.5, "sentence": "s", "versions": "v", "traceback": "t", "docket": None},
}  # fmt: skip


def _read_state(name, text, folder):
    path = folder / f"{name}.json"
    path.write_text(text, "utf-8", "surrogatepass")
    declared = {
        "session": session._SESSION,
        "screens": screen_size._SIZES,
        "pace": pace._SPEEDS,
        "journal": batch._PHOTOS,
        "order": order._ORDER,
        "mark": subject._PLACE,
        "page": subject._PAGE,
        "known": fact_cache._KNOWN,
        "partial": partials._ENTRY,
        "failure": log._ENTRY,
    }
    return read_own(path, declared[name], None)


@pytest.mark.parametrize("name", STATE)
def test_what_the_program_keeps_is_read_back(name, tmp_path):
    assert _read_state(name, json.dumps(STATE[name]), tmp_path) is not None


@many
@given(st.sampled_from(sorted(STATE)), st.data(), ANY)
def test_what_the_program_keeps_is_data_or_nothing_when_damaged(
    tmp_path_factory, name, data, value
):
    place = data.draw(st.sampled_from(list(_places(STATE[name]))))
    text = json.dumps(_replaced(STATE[name], place, value))
    _read_state(name, text, tmp_path_factory.mktemp("state"))


@given(st.text(max_size=60), st.integers(0, 80))
def test_text_that_is_no_json_or_ends_early_is_nothing(tmp_path_factory, noise, length):
    text = (json.dumps(STATE["known"])[:length] + noise)[:-1]
    _read_state("known", text, tmp_path_factory.mktemp("state"))


def test_only_the_gate_reads_json_and_the_environment():
    """Other rooms get typed data; what ships with the program, and locales, are no input."""
    allowed = {"gate/documents.py", "gate/environment.py", "measure/tables.py", "measure/units.py",
               "measure/words.py", "pixels/loop_cache.py", "commands/program.py"}  # fmt: skip
    source = Path(zinc_margin.__file__).parent
    found = {
        path.relative_to(source).as_posix()
        for path in source.rglob("*.py")
        if re.search(r"json\.loads?\(|os\.environ|getenv", path.read_text("utf-8"))
    }
    assert found <= allowed


@pytest.mark.parametrize(
    ("rule", "good"),
    [
        (r"[a-z0-9_-]{1,40}", True),
        (r"(?:kiln|reeds)-\d+(-[a-z]+)?", True),
        (r".{1,200}", True),
        (r"(a+)+$", False),
        (r"(a|aa)+", False),
        (r".*.*.*.*x", False),
        (r"(?=a)a", False),
        (r"(.)\1", False),
        (r"[a", False),
        (r"(a", False),
    ],
)
def test_a_labs_rule_for_names_cannot_be_searched_for_ever(rule, good):
    raw = dict(LAB) | {"name": rule}
    if good:
        assert labs.read_lab(raw, "kiln.json").name_rule == rule
    else:
        with pytest.raises(BadRequest, match="name must"):
            labs.read_lab(raw, "kiln.json")


@pytest.mark.parametrize(
    ("asked", "server"),
    [
        ("desk", ("desk", 631)),
        ("desk:8631", ("desk", 8631)),
        ("desk:8631/version=1.1", ("desk", 8631)),
        ("[::1]:8631", ("::1", 8631)),
        ("[fe80::1%eth0]", ("fe80::1%eth0", 631)),
        ("::1", ("::1", 631)),
        ("desk:0", None),
        ("desk:99999", None),
        ("desk:printer", None),
        ("a b", None),
        ("http://desk", None),
    ],
)
def test_a_print_server_is_an_address_or_a_sentence(asked, server, monkeypatch):
    monkeypatch.setenv("CUPS_SERVER", asked)
    if server is None:
        with pytest.raises(CannotDo, match="Set it to a name and a port"):
            channel._connection()
    else:
        made = channel._connection()
        assert (made.host, made.port) == server


@pytest.mark.parametrize("user", ["ü" * 400, "\udcff\udcfe", "a\x1b[2Jb", ""])
def test_any_user_name_fits_a_printers_request(user, monkeypatch):
    monkeypatch.setenv("USER", user)
    sent = ipp.request(ipp.GET_JOB, "ipp://localhost/printers/desk")
    (name,) = re.findall(rb"requesting-user-name(..)", sent, re.DOTALL)
    assert 0 < int.from_bytes(name) <= 255
