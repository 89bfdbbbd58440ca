"""The seconds that are told: learnt from this machine's own files."""

from __future__ import annotations

import json
import os
from pathlib import Path

import pytest

from tests.conftest import docket_of, facts_of, resampled
from zinc_margin.facts.measurements import Measured
from zinc_margin.handoff import pace
from zinc_margin.plan.build import plan

PHOTO = facts_of(6000, 4000, measured=Measured(0.2, edge_px=0.6))
KEPT = plan(PHOTO, docket_of("50x33cm", pixels={"choice": "keep"}))
LANCZOS = plan(PHOTO, resampled("60x40cm", 300, pixels={"method": "lanczos"}))
LEARNED = plan(PHOTO, resampled("60x40cm", 300, pixels={"method": "ai"}))


@pytest.fixture(autouse=True)
def fresh_machine(monkeypatch, tmp_path):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    pace._known_speeds.cache_clear()
    monkeypatch.setattr(pace, "compiled_anew", lambda: False)


def test_the_first_file_tells_how_fast_the_machine_is():
    before = pace.predict(KEPT), pace.predict(LEARNED)
    pace.learn(KEPT, 3 * before[0])
    assert (pace.predict(KEPT), pace.predict(LEARNED)) == (
        pytest.approx(3 * before[0], rel=1e-3),
        pytest.approx(3 * before[1], rel=1e-3),
    )


def test_later_files_correct_what_took_most_of_them():
    pace.learn(LANCZOS, pace.predict(LANCZOS))
    plain = pace.predict(LANCZOS)
    for _ in range(6):
        pace.learn(LEARNED, 2 * pace.predict(LEARNED) - plain)
    # the network was slower than told; what it shares with other work is hardly touched
    assert pace.predict(LANCZOS) < 1.5 * plain


def test_it_comes_to_what_it_is_again_and_again():
    for _ in range(8):
        pace.learn(LEARNED, 40.0)
    assert pace.predict(LEARNED) == pytest.approx(40, rel=0.05)


def test_small_files_disturbed_runs_and_compiling_teach_nothing(monkeypatch):
    usual = pace.predict(KEPT)
    pace.learn(plan(PHOTO, resampled("6x4cm", 300)), 9.0)
    pace.learn(KEPT, usual * 1000)
    monkeypatch.setattr(pace, "compiled_anew", lambda: True)
    pace.learn(KEPT, usual * 5)
    assert pace.predict(KEPT) == usual


@pytest.mark.parametrize("text", ["{", "[]", json.dumps({"times": {"all": -2}}), '{"times": 3}'])
def test_a_damaged_memory_is_none(text):
    file = Path(os.environ["XDG_STATE_HOME"]) / "zinc-margin" / "pace.json"
    usual = pace.predict(KEPT)
    file.parent.mkdir(parents=True, exist_ok=True)
    file.write_text(text)
    pace._known_speeds.cache_clear()
    assert pace.predict(KEPT) == usual


def test_repair_is_a_part_of_it():
    repaired = plan(PHOTO, resampled("60x40cm", 300, pixels={"clean": 60}))
    assert 0 < pace.repair_seconds(repaired) < pace.predict(repaired)
    assert pace.repair_seconds(LANCZOS) == 0
