"""A job's progress, time left and cancellation."""

from __future__ import annotations

import pytest

from zinc_margin.keeping import job as jobs
from zinc_margin.keeping.job import Job
from zinc_margin.measure.errors import Cancelled


@pytest.fixture
def clock(monkeypatch):
    """A clock that stands still until it is set."""
    now = [100.0]
    monkeypatch.setattr(jobs.time, "monotonic", lambda: now[0])
    return now


def test_the_time_left_follows_the_share_that_is_done(clock):
    shown = []
    job = Job(lambda share, left: shown.append((share, left)), every_s=0)
    job.report(0.02)
    clock[0] = 110.0
    job.report(0.25)
    clock[0] = 140.0
    job.report(1.0)
    assert shown == [(0.02, None), (0.25, pytest.approx(30)), (1.0, pytest.approx(0))]


def test_progress_is_shown_twenty_times_a_second_and_at_the_end(clock):
    shown = []
    job = Job(lambda share, left: shown.append(share))
    for step in range(1, 101):
        clock[0] += 0.01
        job.report(step / 100)
    assert 15 <= len(shown) <= 21
    assert shown[-1] == 1.0


def test_steps_fill_the_whole_in_turn(clock):
    shown = []
    job = Job(lambda share, left: shown.append(round(share, 6)), every_s=0)
    for done in range(4):
        for half in (0.5, 1.0):
            job.step(done, 4).report(half)
    assert shown == [0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875, 1.0]
    inner = job.part(0.5, 0.5).part(0.5, 0.25)
    inner.report(1.0)
    assert shown[-1] == 0.875


def test_parts_are_cancelled_with_the_whole():
    job = Job()
    parts = [job.part(0, 0.5), job.step(1, 2), job.of_file(None)]
    for part in parts:
        part.check()
    assert job.wait(0) is False
    job.cancel()
    assert all(part.cancelled for part in parts) and job.wait(60)
    for part in parts:
        with pytest.raises(Cancelled):
            part.check()
