"""Work away from the window: what comes back, and what does not once nobody waits for it."""

from __future__ import annotations

import threading
from threading import Event

import pytest
from PySide6.QtWidgets import QApplication

from tests.desktop.conftest import until
from zinc_margin.desktop.services.work import Lane
from zinc_margin.keeping import log
from zinc_margin.measure.errors import CannotDo


def test_what_was_worked_out_comes_back(qapp):
    lane, answers = Lane(), []
    lane.run(lambda job: 3, answers.append)
    until(lambda: not lane.busy)
    assert answers == [3]
    lane.stop()


@pytest.mark.parametrize("end", [Lane.stop, Lane.stop_soon, Lane.finish])
def test_nobody_hears_of_what_is_on_its_way_when_a_lane_ends(qapp, end):
    lane, answers, emitted = Lane(), [], Event()
    lane.run(lambda job: emitted.set() or 3, answers.append)
    lane.run(lambda job: 4, answers.append)
    emitted.wait(60)
    end(lane)
    QApplication.processEvents()
    assert answers == []
    assert not lane.busy


@pytest.mark.parametrize("listens", [True, False])
def test_cancelled_work_neither_runs_nor_delivers(qapp, listens):
    lane, gate, ran, heard = Lane(), Event(), [], []

    def work(number):
        ran.append(number)
        gate.wait(60)
        return number

    failed = heard.append if listens else None
    for number in range(4):  # the newest takes the place of those that wait
        lane.run(lambda job, number=number: work(number), heard.append, failed)
    until(lambda: ran)
    gate.set()
    until(lambda: not lane.busy)
    assert ran == [0, 3] and heard == [3]
    lane.stop()


def test_stopped_work_is_told_apart_from_failed_work(qapp):
    lane, heard = Lane(keeps_all=True), []

    def work(job):
        job.wait(60)
        job.check()

    def run():
        return lane.run(work, heard.append, heard.append, lambda: heard.append("stopped"))

    run().cancel()
    until(lambda: not lane.busy)
    assert heard == ["stopped"]

    def fail(job):
        raise CannotDo("The kiln is cold.")

    lane.run(fail, heard.append, heard.append, lambda: heard.append("stopped"))
    until(lambda: not lane.busy)
    assert str(heard[-1]) == "The kiln is cold." and len(heard) == 2
    lane.stop()


def test_a_failure_is_recorded_and_its_sentence_names_the_log(qapp, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    lane, heard = Lane(), []
    lane.run(lambda job: [][1], heard.append, heard.append)
    until(lambda: not lane.busy)
    assert "Details: zinc-margin log." in str(heard[0])
    assert "IndexError" in log.entries()[0].traceback
    lane.stop()


def test_progress_arrives_in_the_windows_thread(qapp):
    lane, shown = Lane(), []
    here = threading.get_ident()

    def work(job):
        job.report(0.5)
        job.report(1.0)

    lane.run(
        work, lambda _: None, show=lambda share, left: shown.append((share, threading.get_ident()))
    )
    until(lambda: not lane.busy)
    assert shown[-1] == (1.0, here)
    lane.stop()
