"""A job's progress, time left and cancellation."""

from __future__ import annotations

from threading import Event, Timer

import pytest
from PIL import Image

from tests.conftest import docket_of
from zinc_margin.handoff.make import make_file
from zinc_margin.keeping import job as jobs
from zinc_margin.keeping.job import Job
from zinc_margin.measure.errors import Cancelled, CannotDo
from zinc_margin.photo.pixels import read_photo
from zinc_margin.plan.build import plan


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


def test_work_that_cannot_be_stopped_is_not_waited_for():
    job, ended, go = Job(), Event(), Event()

    def encode():
        go.wait(60)
        ended.set()
        return b"glaze"

    Timer(0.1, job.cancel).start()
    with pytest.raises(Cancelled):
        job.run_apart(encode)
    assert not ended.is_set()
    go.set()
    assert ended.wait(60)
    assert Job().run_apart(encode) == b"glaze"


def test_an_error_apart_is_raised():
    def fails():
        raise CannotDo("The kiln is cold.")

    with pytest.raises(CannotDo, match="kiln"):
        Job().run_apart(fails)


@pytest.mark.parametrize("form", ["webp", "jxl", "jpeg", "pdf"])
def test_stopping_an_encoder_leaves_nothing(tmp_path, scene, monkeypatch, form):
    path = tmp_path / "photo.png"
    Image.fromarray(scene(300, 200)).save(path)
    photo, job = read_photo(path), Job()
    made = plan(photo.facts, docket_of("6x4cm", file={"format": form}))
    run_apart = Job.run_apart

    def slow(self, work):
        Timer(0.05, job.cancel).start()
        return run_apart(self, lambda: [job.wait(60), work()][1])

    monkeypatch.setattr(Job, "run_apart", slow)
    with pytest.raises(Cancelled):
        make_file(photo, made, tmp_path / f"kiln.{form}", job=job)
    assert list(tmp_path.iterdir()) == [path]
