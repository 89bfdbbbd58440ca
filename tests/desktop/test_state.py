"""What is on the table, tested without a window."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
import pytest

from tests.conftest import docket_of, facts_of, photo_of
from zinc_margin.desktop.model.events import (
    ActiveChanged,
    DocketChanged,
    LineOpened,
    PhotosChanged,
    UnitsChanged,
)
from zinc_margin.desktop.model.table import KEPT_PHOTOS, KEPT_PREVIEWS, Table
from zinc_margin.docket.crop import Frame
from zinc_margin.docket.docket import Docket
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.units import usual_units


@pytest.fixture
def table():
    table = Table("cm")
    table.told = []
    table.subscribe(table.told.append)
    table.add(facts_of(6000, 4000), docket_of("30x20cm"))
    return table


def test_the_first_photo_is_worked_on(table):
    assert table.told == [PhotosChanged(), ActiveChanged()]
    table.add(facts_of(300, 200), Docket())
    assert table.active == 0
    table.activate(1)
    assert table.current.facts.width == 300
    table.activate(7)
    assert table.active == 1


def test_decisions_undo_and_redo(table):
    table.decide("crop", fit="whole")
    table.decide("sharpen", paper="canvas")
    assert table.current.plan().sharpen.paper == "canvas"
    table.undo()
    assert table.current.plan().sharpen.paper == "lustre"
    assert table.current.docket.crop.fit == "whole"
    table.redo()
    assert table.current.docket.sharpen.paper == "canvas"
    table.undo()
    table.undo()
    table.undo()
    assert table.current.docket == docket_of("30x20cm")
    table.decide("crop", turn=Fraction(2))
    table.redo()
    assert table.current.plan().sharpen.paper == "lustre"


def test_what_cannot_be_is_refused_and_changes_nothing(table):
    before = table.current.docket
    with pytest.raises(BadRequest):
        table.decide("crop", frame=Frame(Fraction(0), Fraction(0), Fraction(9000), Fraction(10)))
    assert table.current.docket == before
    table.undo()
    assert table.current.docket == before


def test_a_drag_is_one_step(table):
    start = table.current.docket
    table.begin_drag()
    for percent in (110, 120, 130):
        table.slide(docket_of("30x20cm", sharpen={"strength": Fraction(percent)}))
    table.end_drag()
    assert table.current.docket.sharpen.strength == 130
    table.undo()
    assert table.current.docket == start
    table.begin_drag()
    table.end_drag()
    # a press that moved nothing leaves the history as it was
    table.redo()
    assert table.current.docket.sharpen.strength == 130


def test_closing(table):
    table.add(facts_of(300, 200), Docket())
    table.activate(1)
    table.close(0)
    assert table.current.facts.width == 300
    table.close(0)
    assert table.current is None
    table.undo()
    table.decide("crop", fit="whole")


def test_only_two_photos_stay_decoded(table):
    for _ in range(3):
        table.add(facts_of(30, 20), Docket())
    for one in table.prints:
        table.decoded(
            one, photo_of(np.zeros((20, 30, 3), np.uint8)), np.zeros((20, 30, 4), np.uint8)
        )
    held = [one.photo is not None for one in table.prints]
    assert sum(held) == KEPT_PHOTOS
    assert held[0] and held[-1]  # the one worked on, and the newest
    assert all(one.preview is not None for one in table.prints)


def test_of_many_photos_only_the_latest_have_large_previews(table):
    for _ in range(KEPT_PREVIEWS + 3):
        table.add(facts_of(30, 20), Docket())
    preview, photo = (
        np.full((200, 300, 4), 255, np.uint8),
        photo_of(np.zeros((20, 30, 3), np.uint8)),
    )
    for one in table.prints:
        table.decoded(one, photo, preview, np.ones((200, 300), np.float32))
    shrunk = [one for one in table.prints if one.is_shrunk]
    assert len(shrunk) == len(table.prints) - KEPT_PREVIEWS and table.current not in shrunk
    first = shrunk[0]
    assert first.preview.shape == (50, 75, 4) and first.alpha.shape == (50, 75)
    assert np.all(first.preview == 255)
    table.decoded(first, photo, first.preview)  # it was shrunk while it was being read
    assert first.is_shrunk
    table.decoded(first, photo, preview)
    assert not first.is_shrunk and first.preview.shape == (200, 300, 4)


def test_measured_pixels_are_planned_with(table):
    one = table.current
    quiet = one.plan().sharpen.noise
    table.decoded(
        one, photo_of(np.zeros((4000, 6000, 1), np.uint8), noise=0.5), np.zeros((2, 2, 4), np.uint8)
    )
    assert one.plan().sharpen.noise > quiet


def test_a_docket_that_does_not_fit_is_left(table):
    far = Frame(Fraction(5000), Fraction(0), Fraction(300), Fraction(200))
    one = table.add(facts_of(300, 200), docket_of(crop={"frame": far}))
    assert one.docket == Docket()


@pytest.mark.parametrize(
    ("name", "units"), [("en_US.UTF-8", "in"), ("en_GB.UTF-8", "cm"), ("C", "cm"), ("", "cm")]
)
def test_units_from_the_locale(monkeypatch, name, units):
    monkeypatch.setenv("LANG", name)
    assert usual_units() == units


def test_lines_and_units(table):
    table.told.clear()
    table.open_line("crop")
    table.open_line("crop")
    table.use_units("in")
    table.use_units("in")
    assert table.told == [LineOpened(), UnitsChanged()]


def test_an_event_says_which_lines_have_changed(table):
    table.told.clear()
    table.decide("crop", fit="whole")
    table.decide("sharpen", paper="canvas")
    table.undo()
    table.redo()
    assert table.told == [
        DocketChanged(frozenset({"crop"})),
        *[DocketChanged(frozenset({"sharpen"}))] * 3,
    ]
