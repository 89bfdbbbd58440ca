"""The whole catalogue for random photos, against sums written out by hand."""

from __future__ import annotations

import math
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import docket_of, facts_of
from zinc_margin.docket.docket import Docket
from zinc_margin.docket.size import SizeLine
from zinc_margin.measure.distances import Seen
from zinc_margin.measure.sizes import PrintSize, catalogue, parse_size
from zinc_margin.measure.ways import Way, named_ways
from zinc_margin.plan.build import plan
from zinc_margin.plan.size.hidden_edges import unseen
from zinc_margin.plan.size.ladder import ladder
from zinc_margin.plan.size.suitability import compare
from zinc_margin.plan.text.reasons import reason, reason_of

PHOTOS = st.tuples(st.integers(40, 20000), st.integers(40, 20000))
TARGETS = st.sampled_from([72, 150, 240, 300, 360])


def rungs_of(width, height, target=300, **size):
    facts = facts_of(width, height)
    docket = Docket(size=SizeLine(ppi=Fraction(target), distance=Seen.at(700), **size))
    return {
        (rung.size.family, rung.size.label): rung
        for rung in ladder(facts, docket, plan(facts, docket))
        if rung.way is None
    }


def by_hand(width, height, wide_mm, high_mm):
    """Trimmed share, ppi and sharp-from distance, the long way round."""
    shape, frame = width / height, wide_mm / high_mm
    kept = min(shape / frame, frame / shape)
    across = width if shape <= frame else height * frame
    ppi = across / (wide_mm / 25.4)
    return 1 - kept, ppi, 25.4 / ppi / math.tan(math.pi / 180 / 60)


@settings(max_examples=40)
@given(PHOTOS, TARGETS)
def test_the_sums_of_every_size_agree_with_a_hand_sum(photo, target):
    width, height = photo
    for rung in rungs_of(width, height, target).values():
        wide, high = float(rung.size.width_mm), float(rung.size.height_mm)
        if width != height and wide != high:
            assert (wide > high) == (width > height)
        trimmed, ppi, distance = by_hand(width, height, wide, high)
        assert rung.trimmed_share == pytest.approx(trimmed, abs=1e-9)
        assert rung.effective_ppi == pytest.approx(ppi, rel=1e-9)
        assert rung.sharp_from_mm == pytest.approx(distance, rel=1e-9)
        enlargement = rung.enlargement
        ppi *= 1 + 1e-9
        needed = 25.4 / (700 * math.tan(math.pi / 180 / 60))
        least = min(180, target * 2 / 3)
        enlarges = ppi < min(least, needed)
        assert enlargement == pytest.approx(target / ppi if enlarges else 1, rel=1e-6)
        expected = (
            "ample"
            if ppi >= target
            else "good"
            if ppi >= least
            else "from a distance"
            if ppi >= min(needed, least / 2)
            else "too few pixels"
        )
        assert rung.grade == expected


@settings(max_examples=30)
@given(PHOTOS)
def test_turning_the_photo_turns_everything(photo):
    lying, preset = rungs_of(*photo), rungs_of(*reversed(photo))
    if photo[0] == photo[1]:
        return
    there = {(rung.size.width_mm, rung.size.height_mm): rung for rung in lying.values()}
    for rung in preset.values():
        other = there[rung.size.height_mm, rung.size.width_mm]
        assert rung.effective_ppi == pytest.approx(other.effective_ppi, rel=1e-12)
        assert rung.trimmed_share == pytest.approx(other.trimmed_share, abs=1e-12)


@settings(max_examples=30)
@given(PHOTOS, st.integers(2, 6))
def test_more_pixels_more_ppi(photo, times):
    small, large = rungs_of(*photo), rungs_of(photo[0] * times, photo[1] * times)
    for key, rung in small.items():
        assert large[key].effective_ppi == pytest.approx(times * rung.effective_ppi, rel=1e-12)
        assert large[key].trimmed_share == pytest.approx(rung.trimmed_share, abs=1e-9)


def test_the_ladder_and_the_plan_agree():
    facts = facts_of(6000, 4000)
    docket = Docket(size=SizeLine(distance=Seen.at(900)))
    for rung in ladder(facts, docket, plan(facts, docket)):
        line = SizeLine(size=None if rung.way else rung.size, way=rung.way, distance=Seen.at(900))
        made = plan(facts, Docket(size=line))
        assert made.effective_ppi == pytest.approx(rung.effective_ppi, rel=2e-3)
        assert made.grade == rung.grade or abs(float(made.effective_ppi) / 300 - 1) < 2e-3


def test_the_catalogue_has_its_families():
    families = {size.family for size in catalogue()} | {way.family for way in named_ways()}
    assert len(catalogue()) + len(named_ways()) >= 120
    assert families >= {
        "photo",
        "photo inch",
        "paper",
        "paper inch",
        "frame",
        "square",
        "panorama",
        "canvas",
        "card",
        "contact and passport",
        "mat",
        "roll",
        "screen",
    }
    labels = {size.label for size in catalogue()}
    assert labels >= {"A0", "A3+", "A2+", "B4", "Letter", "Tabloid", "Arch D"}
    rolls = {way.values[0] for way in named_ways() if way.family == "roll"}
    assert rolls >= {430, 610, 910, 1120}
    assert all(way.frame is not None for way in named_ways() if way.family == "mat")


def test_own_sizes_stand_in_the_ladder():
    facts, docket = facts_of(6000, 4000), Docket()
    own = [
        PrintSize("House size", Fraction(540), Fraction(360), "mine"),
        Way("mat", (Fraction(270), Fraction(360), Fraction(6)), "Show mat", "mine"),
    ]
    mine = [r for r in ladder(facts, docket, plan(facts, docket), own) if r.size.family == "mine"]
    assert [rung.size.label for rung in mine] == ["Show mat", "House size"]
    assert (mine[0].size.width_mm, mine[0].size.height_mm) == (348, 258)


@pytest.mark.parametrize(
    ("effective", "distance", "says"),
    [
        (340, 500, "340 ppi, at least the target of 300 ppi, without enlarging."),
        (200, 2200, "200 ppi; the target is 300 ppi, and 180 ppi is still good."),
        (164, 2200, "164 ppi: it looks sharp from 53 cm, and soft from nearer."),
        (
            60,
            500,
            "60 ppi: it looks sharp only from 1.46 m; too few pixels for this size.",
        ),
    ],
)
def test_a_grade_says_why(effective, distance, says):
    assert reason(effective, 300, 180, distance) == says


def test_reasons_follow_the_units():
    told = reason_of(plan(facts_of(3000, 2000), docket_of("24x16in")), "in")
    assert "125 ppi" in told and " in" in told and "cm" not in told
    assert "px/cm" in reason(164, 300, 180, 2200, "px/cm")


def test_the_maker_sets_what_is_asked_and_the_floor():
    made = plan(facts_of(6000, 4000), docket_of("30x20cm", size={"maker": "desk"}))
    assert (made.target_ppi, made.floor_ppi) == (360, 180)
    roll = plan(facts_of(6000, 4000), docket_of("30x20cm", size={"maker": "roll-half"}))
    assert (roll.target_ppi, roll.floor_ppi) == (150, 150)
    own = docket_of("30x20cm", size={"maker": "desk", "ppi": Fraction(200)})
    assert plan(facts_of(6000, 4000), own).target_ppi == 200


def test_what_a_borderless_driver_throws_away():
    docket = docket_of("30x20cm", size={"overspill_mm": Fraction(3)})
    lost = unseen(docket.size, parse_size("30x20cm"), False)
    # the shorter side governs: 206 ÷ 200, the same both ways
    scale = Fraction(206, 200)
    assert lost.top == lost.bottom == (200 - 200 / scale) / 2
    assert lost.left == lost.right == (300 - 300 / scale) / 2
    made = plan(facts_of(6000, 4000), docket)
    assert made.unseen_mm == lost
    assert "overspill" in {note.code for note in made.notes}
    assert not plan(facts_of(6000, 4000), docket_of("30x20cm")).unseen_mm.any


def test_a_mat_hides_or_reveals():
    def made(reveal):
        way = Way(
            "mat",
            (Fraction(270), Fraction(360), Fraction(reveal)),
            frame=(Fraction(400), Fraction(500)),
        )
        return plan(facts_of(6000, 4000), docket_of(size={"size": None, "way": way}))

    over, under = made(-3), made(6)
    assert (
        over.unseen_mm.left == 3 and over.mat.opening == (360, 270) and over.mat.frame == (500, 400)
    )
    assert under.size.width_mm == 348 and not under.unseen_mm.any
    assert under.size.width_mm / under.size.height_mm == Fraction(348, 258)
    assert "mat-hides" in {note.code for note in over.notes}
    assert "mat-reveals" in {note.code for note in under.notes}


def test_several_photos_at_one_size_turn_as_they_lie():
    photos = [(facts_of(6000, 4000), Docket()), (facts_of(2000, 3000), docket_of("10x15cm"))]
    rows = compare(photos, Docket(size=SizeLine(size=parse_size("30x20cm"), maker="canvas")))
    assert [(row.plan.size.width_mm, row.plan.size.height_mm) for row in rows] == [
        (300, 200),
        (200, 300),
    ]
    assert rows[0].plan.grade == "ample" and rows[1].plan.effective_ppi < 300
    assert rows[1].docket.size.size.label == "30 × 20 cm"
