"""Whatever stands in a file from outside, it is typed data or one sentence."""

from __future__ import annotations

import json
import math

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.conftest import facts_of
from zinc_margin.commands.as_json import plan_report
from zinc_margin.docket import document, presets, versions
from zinc_margin.docket.docket import FIELDS, Docket
from zinc_margin.handoff import labs
from zinc_margin.handoff.checking import check_plan
from zinc_margin.measure.errors import ZincError
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


LAB = json.loads(labs._SHIPPED.read_text("utf-8"))["labs"][0]


@many
@given(st.sampled_from([*sorted(LAB), "most_px", "least_px", "least_megapixels", "least_bytes"]), ANY,
       st.booleans())  # fmt: skip
def test_a_lab_of_anything_is_a_lab_or_a_sentence(key, value, missing):
    raw = dict(LAB) | {key: value}
    if missing:
        del raw[key]
    try:
        lab = labs._lab(json.loads(json.dumps(raw)), "kiln.json")
    except ZincError as why:
        sentence(why)
        return
    made = plan(facts_of(600, 400), Docket())
    check_plan(made, "kiln", lab)
