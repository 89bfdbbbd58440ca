"""Work away from the window: what comes back, and what does not once nobody waits for it."""

from __future__ import annotations

from threading import Event

import pytest
from PySide6.QtWidgets import QApplication

from tests.desktop.conftest import until
from zinc_margin.desktop.work import Lane


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
